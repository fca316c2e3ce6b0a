import { chance } from '@lantern/testkit';
import type { PatternId } from '../../shared/brand.js';
import { toSearchText } from '../../text/search-text.js';
import type { WordListPattern } from '../model/pattern.js';
import { compilePlainScanner, compileScanner } from '../scan/scanner.js';
import { InsideWords } from './inside.js';

const MOST = 1_000;
const find = (words: readonly string[], text: string): string[] => {
  const search = toSearchText(text);
  const inside = new InsideWords(words.map((word, meaning) => ({ text: word, meaning })));
  return inside
    .find(search.units, MOST)
    .map(({ meaning, start, end }) => `${words[meaning] ?? ''}: ${search.text.slice(start, end)}`);
};

describe('words inside words', () => {
  it.each([
    [['wharf'], 'Oldwharfside WHARF', ['wharf: wharf', 'wharf: WHARF']],
    [['gross'], 'Großes GROSS', ['gross: GROSS']],
    [['cafe'], 'Cafés, cafe\u0301s', ['cafe: Café', 'cafe: cafe']],
    [['sea trial'], 'the sea\n  trials of sea-trial', ['sea trial: sea\n  trial', 'sea trial: sea-trial']],
    [['sea trial'], 'sea ........ trial', []],
    [['he', 'she', 'hers'], 'ushers', ['she: she', 'hers: hers']],
    [['日本'], '東日本大', ['日本: 日本']],
    [['', '  '], 'anything', []],
  ])('%j in %j', (words, text, expected) => {
    expect(find(words, text)).toEqual(expected);
  });

  it('gives the worked example of the paper (Aho, Corasick, 1975, figure 1), the longest at each place', () => {
    expect(find(['he', 'she', 'his', 'hers'], 'ushers')).toEqual(['she: she', 'hers: hers']);
  });

  it('finds what a search for each word finds, the longest at each end', () => {
    const random = chance(5);
    for (let round = 0; round < 300; round += 1) {
      const word = (): string =>
        Array.from({ length: random.whole(1, 4) }, () => random.pick([...'abc'])).join('');
      const words = [...new Set(Array.from({ length: random.whole(1, 8) }, word))];
      const text = Array.from({ length: 60 }, () => random.pick([...'abcc'])).join('');
      const expected: string[] = [];
      for (let end = 1; end <= text.length; end += 1) {
        const longest = words
          .filter((each) => text.slice(0, end).endsWith(each))
          .sort((left, right) => right.length - left.length)[0];
        if (longest) expected.push(`${longest}: ${longest}`);
      }
      expect(find(words, text)).toEqual(expected);
    }
  });

  it('stops at the most that is asked for', () => {
    const inside = new InsideWords([{ text: 'a', meaning: 0 }]);
    expect(inside.find(toSearchText('a'.repeat(5_000)).units, MOST)).toHaveLength(MOST);
  });

  it('is part of both scanners', () => {
    const list: WordListPattern = {
      origin: 'own',
      id: 'w' as PatternId,
      name: '',
      kind: 'own-words',
      about: '',
      words: [{ text: 'quill', weight: 3 }],
      inside: true,
    };
    const text = 'The Oldquillworks and the quill';
    const found = compileScanner([list]).scan(text);
    expect(found.findings.map(({ start, end }) => text.slice(start, end))).toEqual(['quill', 'quill']);
    expect(compilePlainScanner([list]).scan(text)).toEqual(found);
  });
});
