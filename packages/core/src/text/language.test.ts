import { languageOf } from './language.js';

/** Article 1 of the Universal Declaration of Human Rights (United Nations, 1948), its beginning or end, from memory. */
const ARTICLE_ONE: readonly (readonly [string, string])[] = [
  ['en', 'All human beings are born free and equal in dignity and rights. They are endowed with reason and conscience and should act towards one another in a spirit of brotherhood.'],
  ['de', 'Alle Menschen sind frei und gleich an Würde und Rechten geboren. Sie sind mit Vernunft und Gewissen begabt und sollen einander im Geist der Brüderlichkeit begegnen.'],
  ['fr', 'Tous les êtres humains naissent libres et égaux en dignité et en droits. Ils sont doués de raison et de conscience et doivent agir les uns envers les autres dans un esprit de fraternité.'],
  ['es', 'Todos los seres humanos nacen libres e iguales en dignidad y derechos y, dotados como están de razón y conciencia, deben comportarse fraternalmente los unos con los otros.'],
  ['nl', 'Alle mensen worden vrij en gelijk in waardigheid en rechten geboren. Zij zijn begiftigd met verstand en geweten, en behoren zich jegens elkander in een geest van broederschap te gedragen.'],
  ['pl', 'Wszyscy ludzie rodzą się wolni i równi pod względem swej godności i swych praw. Są oni obdarzeni rozumem i sumieniem i powinni postępować wobec innych w duchu braterstwa.'],
]; // prettier-ignore

describe('languageOf', () => {
  it.each(ARTICLE_ONE)('tells %s', (language, text) => expect(languageOf(text)).toBe(language));
  it.each([
    ['ko', '모든 인간은 태어날 때부터 자유로우며'],
    ['ja', 'すべての人間は、生まれながらにして自由であり'],
    ['zh', '人人生而自由，在尊严和权利上一律平等。'],
  ])('tells %s by its script', (language, text) => expect(languageOf(text)).toBe(language));
  it.each(['', '4711 0815', 'Invoice', 'a'.repeat(100_000)])('does not guess: %#', (text) =>
    expect(languageOf(text)).toBeNull(),
  );
});
