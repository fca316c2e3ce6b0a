import { goingOf, headOf, languageOf, phrases } from './told';

it.each([
  ['block', 'refused', 'Your mail was not sent'],
  ['advise', 'told', 'Your mail was sent. Please note'],
  ['ask', 'waiting', 'Your mail: a question first'],
  ['hold', 'waiting', 'Your mail waits until someone decides'],
  ['ask', 'taken-back', 'Your mail was taken back'],
  ['hold', 'went-on', 'Your mail was sent'],
] as const)('%s, %s: %s', (answer, state, words) => expect(headOf({ answer, state })).toBe(words));

it.each([
  ['message', 'en', 'Your message was not sent'],
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

describe('until when a question stands', () => {
  it.each([
    ['en', false, 'Until 17:30; then it comes back to you.'],
    ['en', true, 'While this page is open, until 17:30 at the latest; then it comes back to you.'],
    ['de', false, 'Bis 17:30; dann: sie kommt zu Ihnen zurück.'],
    ['de', true, 'Solange diese Seite offen ist, längstens bis 17:30; dann: sie kommt zu Ihnen zurück.'],
  ] as const)('%s, in a page: %s', (language, whileOpen, words) => {
    const { comesBack } = goingOf('mail', language);
    expect(phrases(language).until('17:30', comesBack, whileOpen)).toBe(words);
  });
});
