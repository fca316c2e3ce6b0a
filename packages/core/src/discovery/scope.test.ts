import { endingOf, leftOutBy, pathFits, WHOLE_PLACE } from './scope.js';

// Our own notation, held to the cases that people write; there is no standard behind it.
it.each([
  ['tariffs', 'tariffs/2026/a.xlsx', true],
  ['tariffs', 'old/tariffs/a.xlsx', true],
  ['tariffs/2026', 'tariffs/2026/a.xlsx', true],
  ['tariffs/2026', 'tariffs/20261/a.xlsx', false],
  ['/Tariffs/2026/', 'tariffs/2026/deep/a.xlsx', true],
  ['*.bak', 'x/y/old.BAK', true],
  ['*.bak', 'x/y/old.bak.txt', false],
  ['a/*/c', 'a/b/c', true],
  ['a/*/c', 'a/b/b/c', false],
  ['a/**/c', 'a/b/b/c', true],
  ['a/**/c', 'a/c', true],
  ['**/c', 'c', true],
  ['**/secret/**', 'x/secret/y', true],
  ['re?ort.txt', 'report.txt', true],
  ['re?ort.txt', 're/ort.txt', false],
  ['node_modules', 'app/node_modules/x/index.js', true],
  ['node_modules', 'app/node_modules2/index.js', false],
  ['Ärger', 'ärger/b', true],
  ['', 'a', false],
  ['   ', 'a', false],
  ['/', 'a', false],
])('%j fits %j: %j', (line, path, expected) => expect(pathFits(line, path)).toBe(expected));

it('ends in time for lines that make others run away', () => {
  const line = `${'*a'.repeat(120)}b`;
  expect(pathFits(line, 'a'.repeat(4_000))).toBe(false);
});

it.each([
  ['a.tar.GZ', 'gz'],
  ['x/.profile', ''],
  ['x.y/none', ''],
  ['x/a.', ''],
])('the ending of %j is %j', (path, expected) => expect(endingOf(path)).toBe(expected));

it('says why an item is not read, what leaves out before what lets in', () => {
  const now = Date.parse('2026-11-30T09:00:00Z');
  const scope = {
    ...WHOLE_PLACE,
    only: ['team'],
    leaveOut: ['team/archive', '*.iso'],
    endings: ['docx'],
    mostBytes: 1_000,
    changedWithinDays: 30,
  };
  const item = { path: 'team/a.docx', bytes: 10, changedAt: now };
  const why = (other: Partial<typeof item>) => leftOutBy(scope, { ...item, ...other }, now);
  expect(why({})).toBeNull();
  expect(why({ path: 'other/a.docx' })).toBe('not-among');
  expect(why({ path: 'team/archive/a.docx' })).toBe('left-out');
  expect(why({ path: 'team/a.pdf' })).toBe('other-kind');
  expect(why({ bytes: 1_001 })).toBe('too-large');
  expect(why({ changedAt: now - 31 * 86_400_000 })).toBe('too-old');
  expect(leftOutBy(scope, { ...item, changedAt: null }, now)).toBeNull();
});
