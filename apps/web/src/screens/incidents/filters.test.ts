import { changedFilters, chipsOf, neighbour, readFilters, writeFilters } from './filters';

describe('changedFilters', () => {
  it('names what differs and nothing else', () => {
    const before = readFilters(new URLSearchParams('severity=high'));
    expect(changedFilters(before, { ...before, answer: 'block', severity: '' })).toEqual({
      answer: 'block',
      severity: '',
    });
    expect(changedFilters(before, before)).toEqual({});
  });
});

describe('filters of the queue', () => {
  it.each([
    '',
    'show=decided',
    'severity=high&pattern=iban&order=newest',
    'cut=made-before&search=Orla+Fenwick',
  ])('come back from %p as they went in', (search) => {
    expect(writeFilters(readFilters(new URLSearchParams(search)))).toBe(search);
  });

  it('pass over what is unknown', () => {
    expect(readFilters(new URLSearchParams('show=nonsense&order=up'))).toMatchObject({
      show: 'open',
      order: 'urgency',
    });
  });

  it('show as chips in a steady order', () => {
    expect(chipsOf(readFilters(new URLSearchParams('policy=p&severity=high&search=x')))).toEqual([
      'severity',
      'policy',
    ]);
  });
});

describe('neighbour', () => {
  it.each([
    [[5, 6, 7], 6, 1, 7],
    [[5, 6, 7], 7, 1, 7],
    [[5, 6, 7], 5, -1, 5],
    [[5, 6, 7], 99, 1, 5],
    [[5, 6, 7], null, 1, 5],
    [[], 5, 1, null],
  ] as const)('of %j at %p by %d is %p', (numbers, current, by, expected) =>
    expect(neighbour(numbers, current, by)).toBe(expected),
  );
});
