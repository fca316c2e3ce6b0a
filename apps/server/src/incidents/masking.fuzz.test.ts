/** Masked evidence over random texts: whatever is found, and however it overlaps, no value leaves whole. */
import { compileScanner, READY_PATTERNS, type WordListPattern } from '@lantern/core/detection';
import { type PatternId } from '@lantern/core/shared';
import { cardNumber, chance, type Chance, grouped, ibanNumber, passportLines } from '@lantern/testkit';
import { excerptsOf } from '@lantern/core/detection';
import { toPieces } from './evidence.js';

const SEED = 8128;

const words: WordListPattern = {
  origin: 'own',
  id: 'words' as PatternId,
  name: 'Words',
  kind: 'own-words',
  about: '',
  words: ['Slackwater', 'Corrigan Bay', 'card'].map((text) => ({ text, weight: 3 })),
};
const scanner = compileScanner([...READY_PATTERNS, words]);

/** A text with values of every kind between ordinary words, and the values it holds. */
function someText(random: Chance): { text: string; values: string[] } {
  const values: string[] = [];
  const value = (made: string) => {
    values.push(made);
    return made;
  };
  const makers = [
    () => `card ${value(cardNumber(random))}`,
    () => `Visa ${value(grouped(cardNumber(random)))}`,
    () => `IBAN ${value(ibanNumber(random))}`,
    () => `passport\n${value(passportLines(random, 'Brandt', 'Anna'))}`,
    () => 'Slackwater',
    () => 'the Corrigan Bay',
    () => 'ordinary words of a ferry line '.repeat(random.whole(1, 12)),
    () => '\n',
  ];
  const text = Array.from({ length: random.whole(3, 30) }, () => random.pick(makers)()).join(
    random.pick([' ', '\n', ', ', '\t']),
  );
  return { text, values };
}

describe(`masked evidence, seed ${SEED}`, () => {
  const random = chance(SEED);
  const cases = Array.from({ length: 200 }, () => {
    const { text, values } = someText(random);
    const { findings } = scanner.scan(text);
    return { text, values, findings, ...excerptsOf(text, findings) };
  });

  it('holds no value that was found as certain', () => {
    for (const { text, findings, excerpts } of cases) {
      const masked = excerpts
        .map((excerpt) =>
          toPieces(excerpt, false)
            .map((piece) => piece.text)
            .join(''),
        )
        .join('\n');
      const certain = findings.filter(
        (finding) => finding.certainty >= 50 && finding.end - finding.start > 8,
      );
      const leaked = certain
        .map((finding) => text.slice(finding.start, finding.end))
        .filter((value) => masked.includes(value));
      expect(leaked).toEqual([]);
    }
  });

  it('is as long as the text it stands for, and whole again when shown', () => {
    for (const { text, excerpts } of cases) {
      for (const excerpt of excerpts) {
        const whole = toPieces(excerpt, true)
          .map((piece) => piece.text)
          .join('');
        expect(text).toContain(whole);
        expect(toPieces(excerpt, false).map((piece) => [...piece.text].length)).toEqual(
          toPieces(excerpt, true).map((piece) => [...piece.text].length),
        );
      }
    }
  });

  it('holds no part of a value at the edge of what is kept', () => {
    for (const size of [59, 60, 61, 62, 300]) {
      const numbers = Array.from({ length: size }, () => cardNumber(random));
      const text = numbers.map((number) => `card ${number}`).join('\n');
      const { excerpts } = excerptsOf(text, scanner.scan(text).findings);
      const masked = excerpts
        .map((excerpt) =>
          toPieces(excerpt, false)
            .map((piece) => piece.text)
            .join(''),
        )
        .join('\n');
      expect(masked).not.toMatch(/\d{5}/);
    }
  });

  it('accounts for every finding worth showing', () => {
    for (const { findings, excerpts, notShown } of cases) {
      const marked = excerpts.reduce((sum, excerpt) => sum + excerpt.marks.length, 0);
      expect(marked + notShown).toBe(findings.filter((finding) => finding.certainty >= 25).length);
    }
  });

  it('finds the values that were put in', () => {
    const put = cases.flatMap(({ values }) => values);
    const found = cases.flatMap(({ text, findings }) =>
      findings
        .filter((finding) => finding.certainty >= 80)
        .map((finding) => text.slice(finding.start, finding.end)),
    );
    expect(put.length).toBeGreaterThan(500);
    expect(put.filter((value) => !found.includes(value)).length / put.length).toBeLessThan(0.05);
  });
});
