import { machineGaps, SILENT_FOR_MS, type WatchingMachine } from './machine-gaps.js';

const NOW = Date.UTC(2026, 4, 4, 9);
const HOUR = 3_600_000;
const machine = (over: Partial<WatchingMachine> = {}): WatchingMachine => ({
  ...{ name: 'quay-07', lastSeen: NOW - 1_000, revision: 5, holdsOrders: true },
  ...{ folders: [{ path: '/mnt/stick', state: 'watching' }], ...over },
});
const codes = (over: Partial<WatchingMachine>, at = NOW - 2 * HOUR): string[] =>
  machineGaps([machine(over)], { revision: 5, at }, NOW).map(({ code }) => code);

describe('machineGaps', () => {
  it('has nothing to say of a machine that is heard of, holds the rules and watches its folders', () => {
    expect(codes({})).toEqual([]);
  });

  it('tells of a silent machine nothing but its silence', () => {
    expect(codes({ lastSeen: NOW - SILENT_FOR_MS - 1, revision: 1 })).toEqual(['silent']);
    expect(codes({ lastSeen: NOW - SILENT_FOR_MS + 1 })).toEqual([]);
    expect(codes({ lastSeen: null })).toEqual(['silent']);
  });

  it('leaves an hour to take up what was just published', () => {
    expect(codes({ revision: 4 })).toEqual(['older-rules']);
    expect(codes({ revision: 4 }, NOW - HOUR / 2)).toEqual([]);
    expect(codes({ revision: null, holdsOrders: false })).toEqual(['older-rules', 'older-orders']);
  });

  it('names the folders that are not watched, and those where nothing can be stopped', () => {
    const folders = [
      { path: '/a', state: 'missing' },
      { path: '/b', state: 'cannot-change' },
      { path: '/c', state: 'not-allowed' },
      { path: '/d', state: 'watching' },
    ];
    const gaps = machineGaps([machine({ folders })], { revision: 5, at: NOW - 2 * HOUR }, NOW);
    expect(gaps.map(({ code, paths }) => [code, paths])).toEqual([
      ['cannot-watch', ['/a', '/c']],
      ['cannot-stop', ['/b']],
    ]);
  });
});
