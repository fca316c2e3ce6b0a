import { bandOf, findingsAsked, ruleOf } from '@lantern/testkit';
import { bandProblems } from './bands.js';
import type { Band } from '../model/rule.js';

const { kind: _kind, atLeast: _atLeast, ...measure } = findingsAsked(1);
const ranges = (...bands: [number, number | null][]): Band[] =>
  bands.map(([from, to], index) => bandOf(index % 2 === 0 ? 'note' : 'block', { from, to }));
const said = (bands: Band[], over: object = {}) =>
  bandProblems(ruleOf('r', { measure, bands, ...over }), ['rules', 0]).map(
    ({ code, path, value }) => `${code} ${path.slice(3).join('.')}: ${value ?? ''}`,
  );

describe('bandProblems', () => {
  // "1 to 4", "5 to 24", "25 and more" meet; "1 to 5" and "5 and more" overlap: common practice, no source.
  it.each<[string, [number, number | null][], string[]]>([
    [
      'bands that meet',
      [
        [1, 4],
        [5, 24],
        [25, null],
      ],
      [],
    ],
    [
      'bands that begin later than at one',
      [
        [5, 24],
        [25, null],
      ],
      [],
    ],
    [
      'the common slip',
      [
        [1, 5],
        [5, null],
      ],
      ['bands-overlap 1.from: 1 to 5, then 5'],
    ],
    [
      'a band behind an open one',
      [
        [1, null],
        [5, null],
      ],
      ['bands-overlap 1.from: 1 and more, then 5'],
    ],
    [
      'a gap of one',
      [
        [1, 4],
        [6, null],
      ],
      ['bands-gap 1.from: 5'],
    ],
    [
      'a gap of many',
      [
        [1, 4],
        [25, null],
      ],
      ['bands-gap 1.from: 5 to 24'],
    ],
    [
      'bands the wrong way round',
      [
        [25, null],
        [1, 24],
      ],
      ['bands-out-of-order 1.from: 25, then 1'],
    ],
    ['a band the wrong way round', [[5, 2]], ['bands-out-of-order 0.to: 5 to 2']],
    [
      'a count of nothing',
      [
        [0, 4],
        [5, null],
      ],
      ['count-out-of-range 0.from: 0'],
    ],
    ['half a value', [[1, 2.5]], ['count-out-of-range 0.to: 2.5']],
  ])('%s', (_name, bands, expected) => expect(said(ranges(...bands))).toEqual(expected));

  it('points out bands that can never differ', () => {
    expect(said([bandOf('note', { to: 4 }), bandOf('note', { from: 5 })])).toEqual(['bands-alike 1: ']);
    expect(said([bandOf('note', { to: 4 }), bandOf('note', { from: 5, severity: 'low' })])).toEqual([]);
  });

  it('does not read the range of a rule without a measure', () =>
    expect(said([bandOf('note', { from: 0, to: -1 })], { measure: null })).toEqual([]));

  it('misses no bands at all', () => expect(said([])).toEqual(['no-bands : ']));
});
