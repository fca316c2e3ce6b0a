/** Word lists held to the plainest search there is: every entry tried at every word of the text. */
import { chance, type Chance } from '@lantern/testkit';
import type { PatternId } from '../shared/brand.js';
import type { WordListPattern } from './pattern.js';
import { foldWord, tokensOf } from './word-list.js';
import { WordIndex } from './word-index.js';

const SEED = 100_000;
const WORDS = ['keel', 'Keel', 'stern', 'ramp', 'Ærø', 'aero', 'crème', 'x1', '42', 'straße', 'port'];
const GAPS = [' ', '  ', '\n', '\t', '-', ', ', '\u00a0', ''];

const someText = (random: Chance, words: number): string =>
  Array.from({ length: words }, () => random.pick(WORDS) + random.pick(GAPS)).join('');

function someList(random: Chance, id: string): WordListPattern {
  const words = Array.from({ length: random.whole(1, 6) }, () => ({
    text: Array.from({ length: random.whole(1, 3) }, () => random.pick(WORDS)).join(
      random.pick([' ', '  ', '-']),
    ),
    weight: random.whole(1, 5),
  }));
  return { origin: 'own', id: id as PatternId, name: id, kind: 'own-words', about: '', words };
}

/** Places of every entry, by comparing its words with the words of the text one by one. */
function plainHits(text: string, lists: readonly WordListPattern[]): string[] {
  const tokens = Array.from(text.matchAll(/[\p{L}\p{N}\p{M}]+/gu), (match) => ({
    folded: foldWord(match[0]),
    start: match.index,
    end: match.index + match[0].length,
  }));
  const hits: string[] = [];
  tokens.forEach((first, at) => {
    for (const list of lists) {
      for (const entry of list.words) {
        const wanted = tokensOf(entry.text);
        const here = tokens.slice(at, at + wanted.length);
        if (here.length === wanted.length && here.every((token, index) => token.folded === wanted[index])) {
          hits.push(`${list.id} ${entry.text} ${first.start}-${here.at(-1)?.end ?? 0} ${entry.weight}`);
        }
      }
    }
  });
  return hits.sort();
}

describe(`WordIndex beside a plain search, seed ${SEED}`, () => {
  it('finds the same entries at the same places', () => {
    const random = chance(SEED);
    for (let round = 0; round < 300; round += 1) {
      const lists = ['a', 'b'].map((id) => someList(random, id));
      const text = someText(random, random.whole(0, 25));
      const found = Array.from(
        new WordIndex(lists).search(text),
        (hit) => `${hit.pattern.id} ${hit.entry} ${hit.start}-${hit.end} ${hit.weight}`,
      );
      expect({ text, found: found.sort() }).toEqual({ text, found: plainHits(text, lists) });
    }
  });

  it('points at the text whose words it found', () => {
    const random = chance(SEED + 1);
    for (let round = 0; round < 100; round += 1) {
      const text = someText(random, 20);
      for (const hit of new WordIndex([someList(random, 'a')]).search(text)) {
        expect(tokensOf(text.slice(hit.start, hit.end))).toEqual(tokensOf(hit.entry));
      }
    }
  });

  it('searches a single word without end, and a text of nothing but breaks', () => {
    const index = new WordIndex([someList(chance(3), 'a')]);
    expect(Array.from(index.search('q'.repeat(2_000_000)))).toEqual([]);
    expect(Array.from(index.search('\n'.repeat(2_000_000)))).toEqual([]);
  });
});
