import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { moveFile } from '../stores/move-file.js';
import { Backlog, BACKLOG_LIMITS } from './backlog.js';
import { keepHeld, readHeld } from './held.js';
import { QuarantineBox } from './quarantine-box.js';
import { type WaitingMovement, WatchState } from './watch-state.js';

/** Another disk than that of the temporary folder, as a stick is; where there is none, the same one. */
const ELSEWHERE = existsSync('/dev/shm') ? '/dev/shm' : tmpdir();
const NOTE = '.in-quarantine.txt';

let data: string;
let stick: string;
beforeEach(() => {
  data = mkdtempSync(join(tmpdir(), 'lantern-watching-'));
  stick = mkdtempSync(join(ELSEWHERE, 'lantern-watched-'));
});
afterEach(() => [data, stick].forEach((each) => rmSync(each, { recursive: true, force: true })));

const movement = (id: string, over: Partial<WaitingMovement> = {}): WaitingMovement => ({
  ...{ id, at: 1, bytes: 4, stopped: false, matched: false, path: '/s/a', name: 'a', marker: '1' },
  folder: { path: '/s', as: 'device', name: 'Stick', trusted: false },
  ...over,
});

describe('a file that is kept', () => {
  it('goes to another disk whole, leaves a note that names nothing of its content, and comes back', async () => {
    const path = join(stick, 'list.csv');
    writeFileSync(path, 'secret 4111');
    const state = new WatchState(data);
    const box = new QuarantineBox(data, state);
    const kept = await box.keep(path, { movement: null, state: 'waiting', why: 'A rule asks.' });
    expect(kept).toHaveProperty('id');
    expect(existsSync(path)).toBe(false);
    const note = readFileSync(path + NOTE, 'utf8');
    expect([note.includes('A rule asks.'), note.includes('4111')]).toEqual([true, false]);
    // Only its own account can open it, and a stop forgets nothing.
    const [entry] = new WatchState(data).now.kept;
    expect(statSync(join(data, 'quarantine', 'watched')).mode & 0o077).toBe(0);
    expect(entry && (await box.release(entry))).toBe('done');
    expect([readFileSync(path, 'utf8'), existsSync(path + NOTE)]).toEqual(['secret 4111', false]);
    expect(state.now.seen[path]).toBeDefined();
    expect(WatchState.read(data).kept).toEqual([]);
  });

  it('stays where something else has its name by now', async () => {
    const path = join(stick, 'list.csv');
    writeFileSync(path, 'one');
    const box = new QuarantineBox(data, new WatchState(data));
    await box.keep(path, { movement: null, state: 'refused', why: '' });
    writeFileSync(path, 'two');
    const [entry] = box.all;
    expect(entry && (await box.release(entry))).toBe('taken');
    expect([readFileSync(path, 'utf8'), box.all.length]).toEqual(['two', 1]);
  });

  it('that is gone already is told as such', async () => {
    const box = new QuarantineBox(data, new WatchState(data));
    expect(await box.keep(join(stick, 'none'), { movement: null, state: 'refused', why: '' })).toEqual({
      problem: 'ENOENT',
    });
  });
});

it('a move to another disk overwrites nothing', async () => {
  const [from, to] = [join(stick, 'a'), join(data, 'a')];
  writeFileSync(from, 'new');
  writeFileSync(to, 'old');
  if (statSync(stick).dev === statSync(data).dev) return;
  await expect(moveFile(from, to)).rejects.toMatchObject({ code: 'EEXIST' });
  expect([readFileSync(from, 'utf8'), readFileSync(to, 'utf8')]).toEqual(['new', 'old']);
});

describe('movements that wait', () => {
  it('are there after a stop with their content, and gone once they were handed in', async () => {
    const backlog = new Backlog(data, new WatchState(data));
    await backlog.add(movement('m1'), Buffer.from('text'));
    const later = new Backlog(data, new WatchState(data));
    expect(later.all.map(({ id }) => id)).toEqual(['m1']);
    expect((await later.contentOf(movement('m1')))?.toString()).toBe('text');
    await later.drop('m1');
    expect([later.all.length, readdirSync(join(data, 'backlog')).length]).toEqual([0, 0]);
    expect(await later.contentOf(movement('m1'))).toBeNull();
  });

  it('make room by letting the least go, which is counted', async () => {
    const state = new WatchState(data);
    const backlog = new Backlog(data, state);
    const half = Math.ceil(BACKLOG_LIMITS.bytes / 2) + 1;
    await backlog.add(movement('stopped', { bytes: half, stopped: true }), Buffer.from('a'));
    await backlog.add(movement('plain', { bytes: half }), Buffer.from('b'));
    await backlog.add(movement('matched', { bytes: half, matched: true }), Buffer.from('c'));
    expect(backlog.all.map(({ id }) => id)).toEqual(['stopped']);
    expect(state.now.dropped).toBe(2);
  });
});

it('what was held is read again, and a file that was cut off counts as none', () => {
  expect(readHeld(data)).toBeNull();
  const held = { revision: { revision: 3 }, orders: { version: 1 } } as never;
  keepHeld(data, held);
  expect(readHeld(data)).toEqual(held);
  writeFileSync(join(data, 'held.json'), '{"rev');
  expect(readHeld(data)).toBeNull();
});
