import type { CoverageCell } from '../../policy/coverage/coverage.js';
import { guardedChannels, peopleGuarded } from './guarded.js';

const cell = (
  channel: 'mail' | 'chat',
  shares: readonly (readonly ['block' | null, number, string | null])[],
): CoverageCell => ({
  ...{ pattern: `p${shares.length}`, channel, side: 'outside' },
  shares: shares.map(([answer, people, at]) => ({
    ...{ answer, people, at, from: 1, policy: null, rule: null, written: answer },
  })),
});
const cells = [
  cell('mail', [['block', 9, null]]),
  cell('mail', [
    ['block', 4, null],
    [null, 5, null],
  ]),
  cell('mail', [
    [null, 9, null],
    ['block', 9, 'Notes'],
    ['block', 9, 'USB'],
  ]),
  cell('chat', [[null, 9, null]]),
  { ...cell('chat', [['block', 9, null]]), side: 'inside' as const },
];

it('counts kinds that are guarded for somebody and for everybody, outside', () => {
  expect(guardedChannels(cells, ['mail', 'chat', 'drive'])).toEqual([
    { channel: 'mail', kinds: 3, guarded: 3, guardedForAll: 1 },
    { channel: 'chat', kinds: 1, guarded: 0, guardedForAll: 0 },
    { channel: 'drive', kinds: 0, guarded: 0, guardedForAll: 0 },
  ]);
});

it('counts the people of the widest guard', () => {
  expect(peopleGuarded(cells)).toBe(9);
  expect(peopleGuarded([])).toBe(0);
});
