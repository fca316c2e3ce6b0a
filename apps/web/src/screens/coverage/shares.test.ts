import type { CoverageCell, CoverageShare } from '@lantern/core/policy';
import { isEmpty, shareWords } from './shares';

const share = (over: Partial<CoverageShare>): CoverageShare => ({
  answer: 'block',
  people: 126,
  from: 1,
  policy: null,
  rule: null,
  written: null,
  at: null,
  ...over,
});
const cell = (...shares: CoverageShare[]): CoverageCell => ({
  pattern: 'iban',
  channel: 'mail',
  side: 'outside',
  shares,
});

it.each([
  [share({}), ''],
  [share({ from: 25 }), ' from 25'],
  [share({ from: 25, people: 20 }), ' from 25, 20 people'],
  [share({ answer: null }), 'nothing'],
  [share({ answer: null, people: 3 }), 'nothing, 3 people'],
])('words %j', (given, words) => expect(shareWords(given, 126)).toBe(words));

it('calls a cell empty when anybody gets past', () => {
  expect(isEmpty(cell(share({})))).toBe(false);
  expect(isEmpty(cell(share({}), share({ answer: null, people: 1 })))).toBe(true);
  expect(isEmpty(undefined)).toBe(false);
});
