import { SOME_TEXT } from '@lantern/testkit';
import { renderText, unknownFields, wordsFor } from './texts.js';

const text = {
  ...SOME_TEXT,
  words: [
    { language: 'en', text: '{found} in {item}: {rule}. Ask {contact}, read {guidance}. {nothing}' },
    { language: 'de', text: 'Gefunden: {found}' },
    { language: 'fr', text: ' ' },
  ],
  guidance: 'https://care.merrowstrait.example',
  contact: 'extension 0142',
};
const facts = { item: 'the mail', rule: 'Cards', found: '2 cards', values: '•••• 1111', to: 'a@b.example' };

describe('renderText', () => {
  it('fills in fields and leaves other braces so that a slip shows', () => {
    expect(renderText(text, 'en', facts)).toBe(
      '2 cards in the mail: Cards. Ask extension 0142, read https://care.merrowstrait.example. {nothing}',
    );
    expect(unknownFields(text)).toEqual(['nothing']);
  });

  it.each([
    ['de', 'Gefunden: {found}'],
    ['fr', text.words[0]?.text],
    ['sv', text.words[0]?.text],
  ])('takes the first words where %s has none', (language, words) =>
    expect(wordsFor(text, language)).toBe(words),
  );

  it('does not fill in what a value looks like', () =>
    expect(renderText(text, 'de', { ...facts, found: '{item}' })).toBe('Gefunden: {item}'));

  it('has nothing to say without words', () => expect(wordsFor({ ...text, words: [] }, 'en')).toBe(''));
});
