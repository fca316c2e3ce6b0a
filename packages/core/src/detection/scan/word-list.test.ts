import type { PatternId } from '../../shared/brand.js';
import { MAX_LISTED_WORDS, MAX_WORD_LENGTH, readWordLines, writeWordLines } from './word-list.js';
import type { WordListPattern } from '../model/pattern.js';
import { compileScanner } from './scanner.js';

describe('readWordLines', () => {
  it('counts blank lines and duplicates however they are written', () => {
    const reading = readWordLines('Slackwater\r\n\r\nslackwater\n  SLACKWATER  \nSea Trial\nsea   trial\n');
    expect(reading.words.map((word) => word.text)).toEqual(['Slackwater', 'Sea Trial']);
    expect(reading).toMatchObject({ blankLines: 2, duplicates: 3, overLimit: 0 });
  });

  it('reads a weight behind a tab and names lines that cannot be searched for', () => {
    const reading = readWordLines(`keel\t1.5\n---\n${'x'.repeat(MAX_WORD_LENGTH + 1)}`);
    expect(reading.words).toEqual([{ text: 'keel', weight: 1.5 }]);
    expect(reading.withoutLetters).toEqual([2]);
    expect(reading.tooLong).toEqual([3]);
  });

  it('keeps the first 100,000 words and counts the rest', () => {
    const lines = Array.from({ length: MAX_LISTED_WORDS + 7 }, (_unused, index) => `word${index}`);
    const reading = readWordLines([...lines, 'word0', ''].join('\n'));
    expect(reading.words).toHaveLength(MAX_LISTED_WORDS);
    expect(reading).toMatchObject({ overLimit: 7, duplicates: 1, blankLines: 1 });
  });
});

describe('writeWordLines', () => {
  it.each([
    ['an ordinary word', 'keel', 3],
    ['a weight', 'keel', 1.5],
    ['a comma and a number that belong to the word', 'dock,4', 3],
    ['a semicolon and a number, with a weight', 'dock;4', -2],
    ['quotation marks', '"keel"', 3],
    ['quotation marks inside', 'the "keel" plan', 2],
  ])('is read again as the same: %s', (_what, text, weight) =>
    expect(readWordLines(writeWordLines([{ text, weight }])).words).toEqual([{ text, weight }]),
  );
});

describe('words of a list in a text', () => {
  const scanner = compileScanner([
    {
      origin: 'own',
      id: 'ship' as PatternId,
      name: 'Ship purchase',
      kind: 'own-words',
      about: '',
      words: [
        { text: 'Slackwater', weight: 3 },
        { text: 'project slackwater', weight: 4 },
        { text: 'Ærø drydock', weight: 2 },
        { text: 'crème', weight: 2 },
      ],
    },
  ]);
  const entries = (text: string) =>
    scanner.scan(text).findings.map(({ evidence, start, end }) => `${evidence[0]?.detail}@${start}-${end}`);

  it.each([
    ['any case', 'SLACKWATER moved', ['Slackwater@0-10']],
    ['accents left out', 'la creme', ['crème@3-8']],
    ['accents written as two characters', 'la cre\u0300me', ['crème@3-9']],
    [
      'a phrase across a line break',
      'project\n  slackwater',
      ['project slackwater@0-20', 'Slackwater@10-20'],
    ],
    ['a phrase at the very end', 'x ærø  drydock', ['Ærø drydock@2-14']],
  ])('finds %s', (_name, text, expected) => expect(entries(text)).toEqual(expected));

  it.each(['slackwaters', 'backslackwater', 'project slack water', ''])(
    'does not find anything in %p',
    (text) => {
      expect(entries(text)).toEqual([]);
    },
  );
});

describe('a list as CSV and with a threshold', () => {
  it('takes words and weights by tab, semicolon and comma, and quoted fields', () => {
    const { words } = readWordLines('a one\t2\nb two;-1.5\n"c ""three""";4\nd four,1\ne five, 6\nf');
    expect(words.map(({ text, weight }) => [text, weight])).toEqual([
      ['a one', 2],
      ['b two', -1.5],
      ['c "three"', 4],
      ['d four', 1],
      ['e five, 6', 3],
      ['f', 3],
    ]);
  });

  it('finds words only where they come to enough together, each different one once', () => {
    const list: WordListPattern = {
      origin: 'own',
      id: 'refit' as PatternId,
      name: '',
      kind: 'own-words',
      about: '',
      words: [
        { text: 'yard', weight: 1 },
        { text: 'steel', weight: 1 },
        { text: 'hull', weight: 1.5 },
        { text: 'recipe', weight: -3 },
      ],
      threshold: 2.5,
    };
    const scanner = compileScanner([list]);
    const found = (text: string) =>
      scanner.scan(text).findings.map(({ canonical, certainty }) => [canonical, certainty]);
    expect(found('yard yard yard steel')).toEqual([]);
    expect(found('yard steel hull yard')).toEqual([
      ['yard', 97],
      ['steel', 97],
      ['hull', 97],
      ['yard', 97],
    ]);
    expect(found('yard steel hull recipe')).toEqual([]);
  });
});
