import { goingOf, headOf, languageOf } from './told-words';

it.each([
  ['block', 'refused', 'Your mail was not sent'],
  ['advise', 'told', 'Your mail was sent. A word about it'],
  ['ask', 'waiting', 'Your mail: first a question'],
  ['hold', 'waiting', 'Your mail waits until somebody has looked at it'],
  ['ask', 'taken-back', 'Your mail was taken back'],
  ['hold', 'went-on', 'Your mail was sent'],
] as const)('%s, %s: %s', (answer, state, words) => expect(headOf({ answer, state })).toBe(words));

it.each([
  ['message', 'en', 'Your message is not shown to anybody'],
  ['paste', 'en', 'What you put in did not go in'],
  ['message', 'de', 'Ihre Nachricht wird niemandem gezeigt'],
  ['copy', 'de', 'Ihre Kopie wurde nicht gemacht'],
] as const)('a %s in %s', (about, language, words) =>
  expect(headOf({ answer: 'block', state: 'refused' }, about, language)).toBe(words),
);

it('speaks English to whom it has no words for', () => {
  expect([languageOf('de-AT'), languageOf('fr'), languageOf('')]).toEqual(['de', 'en', 'en']);
  expect(goingOf('share', 'en').comesBack).toBe('it comes back to you');
});
