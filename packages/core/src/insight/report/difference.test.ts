import { differenceOf, type ReportLine } from './difference.js';

const line = (key: string, value: number, detail = ''): ReportLine => ({
  key,
  name: key,
  value,
  detail,
  listed: 'incidents',
  filter: '',
});

it('puts new, gone and changed lines first', () => {
  const before = [line('same', 1), line('gone', 5), line('changed', 2), line('status', 1, 'new')];
  const now = [line('changed', 3), line('same', 1), line('new', 9), line('status', 1, 'decided')];
  expect(
    differenceOf(now, before).map(({ key, change, value, before: was }) => [key, change, value, was]),
  ).toEqual([
    ['new', 'new', 9, null],
    ['gone', 'gone', 0, 5],
    ['changed', 'changed', 3, 2],
    ['status', 'changed', 1, 1],
    ['same', 'same', 1, 1],
  ]);
});

it('calls nothing new in a first report', () =>
  expect(differenceOf([line('a', 1)], null)).toMatchObject([{ change: 'same', before: null }]));
