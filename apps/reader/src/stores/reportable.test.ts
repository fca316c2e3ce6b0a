import { LONGEST_PATH, reportable } from './reportable.js';

const ITEM = { path: 'a/b.txt', bytes: 5, changedAt: '2026-11-30T10:00:00.000Z', marker: 'm' };

it('leaves what is in order as it is', () => expect(reportable(ITEM)).toEqual(ITEM));

it.each([
  ['of the year 275760', '+275760-09-13T00:00:00.000Z'],
  ['before there were files', '-000001-01-01T00:00:00.000Z'],
  ['that is none', 'yesterday'],
  ['that is missing', null],
])('has no time where one %s is given', (_name, changedAt) =>
  expect(reportable({ ...ITEM, changedAt })).toEqual({ ...ITEM, changedAt: null }),
);

it.each([Number.NaN, -1, 1.5, 2 ** 60, Infinity])('counts %d bytes as none', (bytes) =>
  expect(reportable({ ...ITEM, bytes })?.bytes).toBe(0),
);

it('passes over what cannot be named, and cuts what need not be whole', () => {
  expect(reportable({ ...ITEM, path: 'x'.repeat(LONGEST_PATH + 1) })).toBeNull();
  expect(reportable({ ...ITEM, path: '' })).toBeNull();
  expect(reportable({ ...ITEM, marker: 'm'.repeat(500), owner: 'o'.repeat(500) })).toMatchObject({
    marker: 'm'.repeat(200),
    owner: 'o'.repeat(254),
  });
});
