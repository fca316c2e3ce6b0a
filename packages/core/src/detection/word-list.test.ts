import type { PatternId } from '../shared/brand.js';
import { MAX_LISTED_WORDS, MAX_WORD_LENGTH, readWordLines } from './word-list.js';
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
