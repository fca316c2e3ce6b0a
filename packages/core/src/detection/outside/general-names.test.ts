/** Numbers of the library beside names that many countries use, in ordinary sentences. The aims are those of the product. */
import { chance, valueOf } from '@lantern/testkit';
import { GENERAL_NAMES, type GeneralSubject } from '../library/entry/general-names.js';
import { READY_PATTERNS } from '../library/index.js';
import { certaintyFor, patternsOf } from '../model/finding.js';
import { compileScanner } from '../scan/scanner.js';

const SEED = 20261130;
const scanner = compileScanner(READY_PATTERNS);
const SUBJECTS: readonly (readonly [GeneralSubject, kind: string, told: number])[] = [
  ['identity', 'identity', 0.85],
  ['tax', 'tax', 0.85],
  ['health', 'health', 0.6],
];

describe('numbers beside a general name', () => {
  it.each(SUBJECTS)(
    'of %s are told of, and none is taken for another country’s with certainty',
    (subject, kind, told) => {
      const random = chance(SEED);
      const patterns = READY_PATTERNS.filter(
        (pattern) =>
          pattern.kind === kind && pattern.recognition.by === 'shapes' && pattern.countries.length > 0,
      );
      const names = (GENERAL_NAMES[subject].en ?? []).filter((name) => !name.startsWith('='));
      let [seen, wrong, all] = [0, 0, 0];
      for (const pattern of patterns) {
        for (let round = 0; round < 3; round += 1) {
          const value = valueOf(pattern, random);
          const text = `Please note the ${random.pick(names)}: ${value} of our guest.`;
          const at = text.indexOf(value);
          const found = scanner
            .scan(text)
            .findings.filter(({ start, end }) => start < at + value.length && end > at);
          all += 1;
          if (found.some((finding) => patternsOf(finding).includes(pattern.id))) seen += 1;
          else if (found.some((finding) => certaintyFor(finding, finding.pattern) >= 95)) wrong += 1;
        }
      }
      expect(seen / all).toBeGreaterThanOrEqual(told);
      expect(wrong / all).toBeLessThanOrEqual(0.03);
    },
  );
});
