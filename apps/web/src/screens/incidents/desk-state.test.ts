import { deskPath, parseFilter, printFilter } from '@lantern/core/incidents';
import { filterOf } from '../../shared/filter/filter-of';
import { groupFilter, neighbour, OPEN_FILTER, readDesk, searchOf, withSearch, writeDesk } from './desk-state';

describe('the state of the desk', () => {
  it.each([
    '',
    'filter=severity+eq+%22high%22&order=-time&group=policy%2Cperson',
    'filter=&list=movements',
    'list=matches&order=urgency&rows=detailed',
  ])('comes back from %p as it went in', (search) => {
    expect(writeDesk(readDesk(new URLSearchParams(search)))).toBe(search);
  });

  it('begins with what is open, and takes nothing it does not know', () => {
    const state = readDesk(new URLSearchParams('list=colours&order=red&group=red,policy,person,time&rows=x'));
    expect(state).toEqual({
      filter: OPEN_FILTER,
      listed: 'incidents',
      order: '-urgency',
      group: ['policy', 'person'],
      density: 'compact',
    });
  });

  it('is linked to from other screens', () => {
    const search = new URL(deskPath('person eq "a"', 'movements'), 'http://x').searchParams;
    expect(readDesk(search)).toMatchObject({ filter: 'person eq "a"', listed: 'movements', order: '-time' });
  });
});

describe('the search box', () => {
  it('is one more part of the filter', () => {
    const filter = filterOf('severity eq "high"');
    const searched = withSearch(filter, ' Orla "F" ');
    expect(printFilter(searched)).toBe('severity eq "high" and any co "Orla \\"F\\""');
    expect(searchOf(searched)).toBe('Orla "F"');
    expect(printFilter(withSearch(searched, ''))).toBe('severity eq "high"');
    expect(searchOf(filterOf(''))).toBe('');
  });
});

describe('groupFilter', () => {
  it.each([
    [['policy'], ['Cards'], 'status ne "decided" and policy eq "Cards"'],
    [['assignee'], [null], 'status ne "decided" and not (assignee pr)'],
    [['time'], ['2026-12-31'], 'status ne "decided" and time ge "2026-12-31" and time lt "2027-01-01"'],
    [['severity', 'test'], ['high', false], 'status ne "decided" and severity eq "high" and test eq false'],
  ] as const)('of %p as %p', (by, values, line) => {
    expect(groupFilter(filterOf(OPEN_FILTER), by, values)).toBe(line);
    expect(parseFilter(line).status).toBe('read');
  });
});

it.each([
  [[1, 2, 3], 2, 1, 3],
  [[1, 2, 3], 3, 1, 3],
  [[1, 2, 3], 9, 1, 1],
  [[1, 2, 3], null, -1, 1],
  [[], 1, 1, null],
] as const)('goes in %p from %p by %p to %p', (ids, current, by, next) => {
  expect(neighbour<number>(ids, current, by)).toBe(next);
});
