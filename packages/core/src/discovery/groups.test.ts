import { parseFilterOver } from '../incidents/index.js';
import { ITEM_FIELD_TABLE } from './fields.js';
import { ITEM_AGES, ITEM_GROUPS, lineOfGroup, NO_AGE } from './groups.js';

const NOW = Date.UTC(2026, 11, 2);
const DAY = 86_400_000;

describe('lineOfGroup', () => {
  it.each([
    ['place', 'Claims', 'place eq "Claims"'],
    ['label', '', 'not (label pr)'],
    ['owner', '', 'not (owner pr)'],
    ['folder', '2026/refunds', 'path sw "2026/refunds/"'],
    ['folder', '', 'not (path co "/")'],
    ['place', 'a "b" \\ c', 'place eq "a \\"b\\" \\\\ c"'],
  ] as const)('%s %s', (group, value, line) => expect(lineOfGroup(group, value, NOW)).toBe(line));

  it('parts all times into ages that meet and do not overlap', () => {
    const times = (at: number) =>
      [...lineOfGroup('age', String(at), NOW).matchAll(/(ge|lt) "([^"]+)"/gu)].map(([, is, time = '']) => [
        is,
        (NOW - Date.parse(time)) / DAY,
      ]);
    expect(times(0)).toEqual([['ge', ITEM_AGES[0]]]);
    for (let at = 1; at < ITEM_AGES.length; at += 1)
      expect(times(at)).toEqual([
        ['ge', ITEM_AGES[at]],
        ['lt', ITEM_AGES[at - 1]],
      ]);
    expect(times(ITEM_AGES.length)).toEqual([['lt', ITEM_AGES.at(-1)]]);
    expect(lineOfGroup('age', String(NO_AGE), NOW)).toBe('not (changed pr)');
  });

  it('is read again by the filter, whatever stands in a value', () => {
    for (const group of ITEM_GROUPS.filter((each) => each !== 'age' && each !== 'reach' && each !== 'state'))
      for (const value of ['', 'x', '"', '\\', 'and (', '\u202e', '\n'])
        expect(parseFilterOver(ITEM_FIELD_TABLE, lineOfGroup(group, value, NOW)).status).toBe('read');
  });
});
