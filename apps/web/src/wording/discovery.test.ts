import { checkWords, historyWords, lasting, points, reasonWords, size } from './discovery';

// SI prefixes (IEC 80000-13 leaves them at powers of ten).
it.each([
  [0, '0 B'],
  [999, '999 B'],
  [1_000, '1 kB'],
  [1_549, '1.5 kB'],
  [25_000_000, '25 MB'],
  [1_099_511_627_776, '1.1 TB'],
  [5e18, '5,000 PB'],
])('%d bytes are %s', (bytes, words) => expect(size(bytes)).toBe(words));

it.each([
  [0.2, '1 second'],
  [89, '89 seconds'],
  [90, '2 minutes'],
  [5_400, '1.5 hours'],
])('%d seconds last %s', (seconds, words) => expect(lasting(seconds)).toBe(words));

it('shows tenths of points only where they are few', () => {
  expect([points(20.74), points(1_997.2)]).toEqual(['20.7', '1,997']);
});

it('says why an item was not read, also for reasons it does not know yet', () => {
  expect(reasonWords('encrypted')).toBe('it is encrypted');
  expect(reasonWords('too-old')).toBe('not changed lately');
  expect(reasonWords('of-a-later-version')).toBe('of-a-later-version');
  expect(reasonWords(null)).toBe('');
});

it('says what a check found, and who has to look', () => {
  const check = { at: null, problem: null, items: null, bytes: null, atLeast: false } as const;
  expect(checkWords({ ...check, state: 'checking' }, false)).toBe(
    'Waits for a reader of its group to check it.',
  );
  expect(checkWords({ ...check, state: 'well', items: 1_200, bytes: 5_000, atLeast: true }, true)).toBe(
    'Opens; at least 1,200 items, 5 kB.',
  );
  expect(checkWords({ ...check, state: 'failed', problem: 'wrong-secret' }, true)).toBe(
    'The user or the secret is wrong.',
  );
});

it('tells the history in sentences', () => {
  const entry = { at: '2026-11-30T10:00:00Z', by: 'Ines Sorrel', detail: 'Open water: harmless' };
  expect(historyWords({ ...entry, what: 'labelled' })).toBe('Labelled by Ines Sorrel: Open water: harmless');
  expect(historyWords({ ...entry, what: 'refused', detail: 'read-only' })).toBe(
    'Not done (it is read only) by Ines Sorrel',
  );
  expect(historyWords({ ...entry, by: '', what: 'spread-wider', detail: '' })).toBe('Opens wider');
});
