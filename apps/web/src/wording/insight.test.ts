import type { Spike } from '@lantern/core/insight';
import { bucketWords, changeWords, rounded, shareWords, spikeWords, trendWords } from './insight';

it.each([
  [0, 0, 'none before'],
  [5, 0, 'none before'],
  [5, 5, 'as before'],
  [15, 10, '+50 % (before: 10)'],
  [0, 1_200, '−100 % (before: 1,200)'],
])('%d after %d is %s', (now, before, words) => expect(changeWords(now, before)).toBe(words));

it('shows a decimal only where it says something', () => {
  expect([rounded(0.04), rounded(9.96), rounded(10.4), rounded(1_234.5)]).toEqual(['0', '10', '10', '1,235']);
});

// The interval of 3 of 4 by Wilson (1927), computed by hand: 30 to 95 %.
it('says a share with its bounds', () =>
  expect(shareWords({ hits: 3, of: 4, least: 0.3006, most: 0.9544 })).toBe(
    '3 of 4 (30 % to 95 % with 95 % confidence)',
  ));

it('says in one sentence what stands out', () => {
  const spike = { direction: 'more', count: 173, least: 40, most: 61 } as Spike;
  expect(spikeWords(spike, 'Tue 3 Nov')).toBe('Tue 3 Nov: 173, usually 40 to 61.');
  expect(spikeWords({ ...spike, direction: 'less', count: 2 }, 'Tue 3 Nov')).toBe(
    'Tue 3 Nov: only 2, usually 40 to 61.',
  );
});

it('says which way a trend goes', () => {
  expect(trendWords({ slope: 2.25 } as never)).toBe(
    'Rising: each weekday has about 2.3 more than a week earlier.',
  );
  expect(trendWords({ slope: -12.6 } as never)).toBe(
    'Falling: each weekday has about 13 less than a week earlier.',
  );
});

it('names a week by its days, the last one included', () => {
  const [from, to] = [new Date(2026, 10, 30), new Date(2026, 11, 7)].map((day) => day.toISOString());
  expect(bucketWords(from ?? '', to ?? '', 'week')).toBe('30 Nov to 6 Dec 2026');
  expect(bucketWords(from ?? '', to ?? '', 'day')).toBe('Mon 30 Nov');
  expect(bucketWords(from ?? '', to ?? '', 'month')).toBe('November 2026');
});
