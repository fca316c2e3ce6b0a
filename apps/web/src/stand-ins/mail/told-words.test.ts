import { headOf } from './told-words';

it.each([
  ['block', 'refused', 'Your mail was not sent'],
  ['advise', 'told', 'Your mail was sent. A word about it'],
  ['ask', 'waiting', 'Before your mail goes, a question'],
  ['hold', 'waiting', 'Your mail waits until somebody has looked at it'],
  ['ask', 'taken-back', 'Your mail was taken back'],
  ['hold', 'went-on', 'Your mail was sent'],
] as const)('%s, %s: %s', (answer, state, words) => expect(headOf({ answer, state })).toBe(words));
