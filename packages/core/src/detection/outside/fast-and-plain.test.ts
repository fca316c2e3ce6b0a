/**
 * The fast pass held to the plain one: the same findings, offsets, evidence and counts over real mails, the library's
 * own examples, tables, and texts put together at random.
 */
import { chance, corpusMails, sentencesFor, valueOf } from '@lantern/testkit';
import { READY_PATTERNS } from '../library/index.js';
import type { PatternId } from '../../shared/brand.js';
import type { WordListPattern } from '../model/pattern.js';
import { compilePlainScanner, compileScanner } from '../scan/scanner.js';

const SEED = 31;
/** Every so many mails of the corpus: the plain scanner takes its time. */
const STEP = 150;
const LONGEST = 6_000;

const list: WordListPattern = {
  origin: 'own',
  id: 'ships' as PatternId,
  name: 'Ships',
  kind: 'own-words',
  about: '',
  words: ['Slackwater', 'Corrigan Bay', 'Halvard drydock', '秘密', 'Göteborg'].map((text) => ({
    text,
    weight: 3,
  })),
};
const patterns = [...READY_PATTERNS, list];
const fast = compileScanner(patterns);
const plain = compilePlainScanner(patterns);

function expectSame(text: string): void {
  expect(fast.scan(text).findings).toEqual(plain.scan(text).findings);
}

const shaped = READY_PATTERNS.filter((pattern) => pattern.recognition.by === 'shapes');

describe(`the fast pass beside the plain one, seed ${SEED}`, () => {
  it('finds the same in real mails', () => {
    let findings = 0;
    for (const { text } of corpusMails(STEP)) {
      const part = text.slice(0, LONGEST);
      expectSame(part);
      findings += fast.scan(part).findings.length;
    }
    expect(findings).toBeGreaterThan(100);
  });

  it('finds the same in every example of the library', () => {
    for (const { examples } of READY_PATTERNS)
      for (const text of [...examples.passing, ...examples.nearMisses]) expectSame(text);
  });

  it('finds the same in planted values of every shape, in sentences, forms and tables', () => {
    const random = chance(SEED);
    for (const pattern of shaped)
      for (const text of sentencesFor(pattern, valueOf(pattern, random), random)) expectSame(text);
  });

  it('finds the same in texts put together at random', () => {
    const random = chance(SEED + 1);
    const pieces = [
      ...[
        'card',
        'Steuernummer',
        'PESEL',
        'IBAN',
        'order number',
        '身份证',
        'ИНН',
        'Slackwater',
        'corrigan\nbay',
        'GÖTEBORG',
        'SIN',
        'sin',
      ],
      ...[
        ' ',
        '\n',
        '\n\n',
        ';',
        ',',
        ', ',
        '\t',
        ':',
        '-',
        '/',
        '.',
        '(',
        '=',
        '=3D',
        '=\n',
        '&#52;',
        '&nbsp;',
        '\u200b',
        '４',
        '@',
        '<<',
        '://',
      ],
      ...[
        'Nr;Account;Card',
        '12',
        '4111',
        '2026',
        'A1',
        'QUJDREVGR0hJSktMTU5PUFFSU1RVVldYWVphYmNkZWZnaGlqa2xtbm9w',
      ],
    ];
    for (let round = 0; round < 150; round += 1) {
      const text = Array.from({ length: random.whole(3, 40) }, () =>
        random.happens(0.2) ? valueOf(random.pick(shaped), random) : random.pick(pieces),
      ).join(random.pick(['', ' ', '\n']));
      expectSame(text);
    }
  });

  it('finds the same in tables of many kinds', () => {
    const random = chance(SEED + 2);
    for (const delimiter of [';', '\t', ',', '|', ', ']) {
      const headings = [
        'Guest',
        ...Array.from({ length: 4 }, () => random.pick(random.pick(shaped).namingWords as string[])),
      ];
      const rows = Array.from({ length: 30 }, () => [
        'Bea',
        ...Array.from({ length: 4 }, () => valueOf(random.pick(shaped), random)),
      ]);
      expectSame([headings, ...rows].map((row) => row.join(delimiter)).join('\n'));
    }
  });
});
