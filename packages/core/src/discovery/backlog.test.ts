import { type BacklogRecord, letGo } from './backlog.js';

const record = (id: string, at: number, over: Partial<BacklogRecord> = {}): BacklogRecord => ({
  ...{ id, at, bytes: 10, stopped: false, matched: false },
  ...over,
});

describe('a full store of movements that wait', () => {
  const all = [
    record('stopped', 1, { stopped: true, matched: true }),
    record('noted', 2, { matched: true }),
    record('plain old', 3),
    record('plain new', 4),
  ];

  it('lets nothing go while it fits', () => expect(letGo(all, { records: 4, bytes: 40 })).toEqual([]));

  it.each([
    [3, 100, ['plain old']],
    [2, 100, ['plain old', 'plain new']],
    [1, 100, ['plain old', 'plain new', 'noted']],
    [4, 25, ['plain old', 'plain new']],
    [0, 0, ['plain old', 'plain new', 'noted']],
  ])(
    'of %i records and %i bytes lets the least go first, and never what was stopped',
    (records, bytes, gone) => expect(letGo(all, { records, bytes })).toEqual(gone),
  );
});
