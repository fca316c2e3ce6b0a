import type { ReadyPattern } from '../model/pattern.js';
import { READY_PATTERNS } from './index.js';
import { chance, valueOf } from '@lantern/testkit';
import { certaintyFor } from '../model/finding.js';
import { checkOf } from '../model/prepared.js';
import { compileScanner } from '../scan/scanner.js';

const scanner = compileScanner(READY_PATTERNS);
const best = (text: string, id: string): number => Math.max(0, ...scanner.scan(text).findings.map((finding) => certaintyFor(finding, id)));
/** Weak: digits only, of which one in eleven passes or more. */
const isWeak = (pattern: ReadyPattern): boolean => pattern.weights.check > 0 && pattern.weights.check < 2.45 && pattern.recognition.by === 'shapes' && pattern.recognition.shapes.every((shape) => /^[9{}\d,_ ./-]+$/.test(shape));
const shaped = READY_PATTERNS.filter((pattern) => pattern.recognition.by === 'shapes');

const weak = READY_PATTERNS.filter(isWeak);

describe('the ready library', () => {
  it('is as wide as it says: patterns, countries with numbers of people or companies, no id twice', () => {
    expect(READY_PATTERNS.length).toBeGreaterThanOrEqual(150);
    expect(new Set(READY_PATTERNS.map((pattern) => pattern.id)).size).toBe(READY_PATTERNS.length);
    const national = READY_PATTERNS.filter(({ kind }) => kind === 'identity' || kind === 'tax' || kind === 'health');
    const checked = national.filter(({ weights }) => weights.check > 0);
    expect(new Set(checked.flatMap((pattern) => pattern.countries)).size).toBeGreaterThanOrEqual(45);
  });

  it.each(READY_PATTERNS.map((pattern) => [pattern.id, pattern] as const))('%s: examples, near misses, source, words', (id, pattern) => {
    expect(pattern.source).not.toBe('');
    expect(pattern.namingWords.length).toBeGreaterThan(0);
    expect(pattern.examples.passing.length).toBeGreaterThanOrEqual(3);
    expect(pattern.examples.nearMisses.length).toBeGreaterThanOrEqual(3);
    for (const text of pattern.examples.passing) expect({ text, certain: best(text, id) >= 80 }).toEqual({ text, certain: true });
    for (const text of pattern.examples.nearMisses) expect({ text, certain: best(text, id) >= 50 }).toEqual({ text, certain: false });
  });

  it('keeps published test values in line with their own checks, but for placeholders', () => {
    const failing = shaped.flatMap((pattern) => pattern.testValues.filter((value) => !checkOf(pattern)(value)));
    // Published so that nobody holds them: prefixes and values that are never given out.
    expect(failing.sort()).toEqual(['046454286', '11111111111111111', '9999999999', 'QQ123456C']);
  });

  it.each(weak.map((pattern) => [pattern.id, pattern] as const))('%s: a weak check alone is never certain above 60', (id, pattern) => {
    const random = chance(11);
    for (let round = 0; round < 3; round += 1) {
      const text = `Please see ${valueOf(pattern, random)} and the rest of it.`;
      expect({ text, certainty: best(text, id) <= 60 }).toEqual({ text, certainty: true });
    }
  });
});
