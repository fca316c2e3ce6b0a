import type { PatternId, RawOffset } from '../../shared/brand.js';
import type { Finding } from './finding.js';
import { countFindings } from './finding.js';
import { settleRivals } from './rivals.js';

const finding = (
  pattern: string,
  start: number,
  end: number,
  weight: number,
  code: 'shape' | 'listed-word' = 'shape',
): Finding => ({
  pattern: pattern as PatternId,
  start: start as RawOffset,
  end: end as RawOffset,
  certainty: Math.round(100 / (1 + Math.exp(-weight))),
  evidence: [{ code, weight }],
  canonical: `${pattern}${start}`,
  rivals: [],
});
const shown = (findings: Finding[]) =>
  findings.map(
    ({ pattern, start, rivals }) =>
      `${pattern}@${start}${rivals.map((rival) => `<${rival.pattern}`).join('')}`,
  );

describe('settleRivals', () => {
  it.each<[string, Finding[], string[]]>([
    [
      'keeps findings that stand apart, in order',
      [finding('b', 10, 20, 1), finding('a', 0, 10, 1)],
      ['a@0', 'b@10'],
    ],
    [
      'keeps the better explained of two and tells it of the other',
      [finding('a', 0, 16, 1), finding('b', 4, 12, 3)],
      ['b@4<a'],
    ],
    [
      'keeps the first where both are explained as well',
      [finding('a', 0, 16, 2), finding('b', 4, 12, 2)],
      ['a@0<b'],
    ],
    [
      'collects all that lost',
      [finding('a', 0, 16, 1), finding('b', 0, 16, 2), finding('c', 0, 16, 3)],
      ['c@0<b<a'],
    ],
    [
      'lets own words stand inside other findings',
      [finding('a', 0, 16, 1), finding('w', 4, 8, 3, 'listed-word')],
      ['a@0', 'w@4'],
    ],
    [
      'lets own words of two lists share characters',
      [finding('w', 0, 4, 3, 'listed-word'), finding('v', 0, 4, 3, 'listed-word')],
      ['w@0', 'v@0'],
    ],
    ['is content with nothing', [], []],
  ])('%s', (_name, findings, expected) => expect(shown(settleRivals(findings))).toEqual(expected));
});

describe('countFindings', () => {
  const many = [finding('a', 0, 1, 5), finding('a', 0, 1, 5), finding('a', 9, 10, 0), finding('b', 3, 4, 5)];

  it.each([
    ['a', 0, { findings: 3, distinct: 2 }],
    ['a', 60, { findings: 2, distinct: 1 }],
    ['a', 100, { findings: 0, distinct: 0 }],
    ['c', 0, { findings: 0, distinct: 0 }],
  ])('of %s certain to %d', (pattern, certainty, expected) =>
    expect(countFindings(many, pattern, certainty)).toEqual(expected),
  );
});
