import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { pathToFileURL } from 'node:url';
import { PoolIsFull, ProcessPool } from './index.js';

const folder = mkdtempSync(join(tmpdir(), 'lantern-processes-'));
const file = join(folder, 'tasks.mjs');
writeFileSync(
  file,
  `let given;
   export const prepare = (data) => { given = data; };
   export const tasks = {
     echo: (input) => ({ input, given, process: process.pid }),
     throws: () => { throw Object.assign(new TypeError('4111 1111 1111 1111'), { code: 'E_X' }); },
     hangs: () => { for (;;); },
     heap: () => { const all = []; for (;;) all.push(new Array(1e5).fill(1.5)); },
     outside: async () => {
       const all = [];
       for (;;) { all.push(Buffer.alloc(2e7, 1)); await new Promise((go) => setTimeout(go, 5)); }
     },
     fatal: () => { const all = []; all.length = 2 ** 32 - 2; return all.fill(0).map((each) => [each]); },
     steps: async (count, { progress }) => { for (let at = 0; at < count; at += 1) progress(at); return count; },
     slow: (ms) => new Promise((go) => setTimeout(() => go(ms), ms)),
   };`,
);
const module = pathToFileURL(file).href;
const limits = { module, processes: 2, heapMegabytes: 64, residentMegabytes: 300, timeoutMs: 3_000 };
const pools: ProcessPool[] = [];
const pool = (over: object = {}): ProcessPool => {
  const made = new ProcessPool({ ...limits, ...over });
  pools.push(made);
  return made;
};
const isAlive = (id: number): boolean => {
  try {
    process.kill(id, 0);
    return true;
  } catch {
    return false;
  }
};

afterEach(() => pools.splice(0).forEach((each) => each.destroy()));
afterAll(() => rmSync(folder, { recursive: true }));

describe('a pool of processes', () => {
  it('hands bytes over and back, with what each process was given as it started', async () => {
    const outcome = await pool({ data: { word: 'x' } }).run('echo', new Uint8Array([1, 2, 3]));
    expect(outcome).toMatchObject({ status: 'done', value: { given: { word: 'x' } } });
    const { input } = (outcome as { value: { input: Uint8Array } }).value;
    expect([...input]).toEqual([1, 2, 3]);
  });

  it.each([
    ['hangs', 'took-too-long'],
    ['heap', 'too-much-memory'],
    ['outside', 'too-much-memory'],
    ['fatal', 'too-much-memory'],
    ['throws', 'threw'],
    ['nothing-of-that-name', 'threw'],
  ])('makes an ordinary outcome of a task that %s, and runs the next one', async (task, reason) => {
    // Time is what only the one that hangs runs out of: a busy machine takes a while to fill memory.
    const made = pool(task === 'hangs' ? {} : { timeoutMs: 30_000 });
    const begun = made.run(task, null);
    const beside = made.run('echo', 'beside');
    expect(await begun).toMatchObject({ status: 'fault', reason });
    expect(await beside).toMatchObject({ status: 'done' });
    expect(await made.run('echo', 'after')).toMatchObject({ status: 'done', value: { input: 'after' } });
  });

  it('tells the name of what was thrown and never its message', async () => {
    expect(await pool().run('throws', null)).toEqual({
      status: 'fault',
      reason: 'threw',
      name: 'TypeError E_X',
    });
  });

  it('says how far a task is', async () => {
    const seen: unknown[] = [];
    await pool().run('steps', 3, { onProgress: (value) => seen.push(value) });
    expect(seen).toEqual([0, 1, 2]);
  });

  it('ends a task that is stopped, whether it runs or waits', async () => {
    const made = pool({ processes: 1 });
    await made.run('echo', null);
    const running = new AbortController();
    const waiting = new AbortController();
    const first = made.run('hangs', null, { signal: running.signal, timeoutMs: 60_000 });
    const second = made.run('hangs', null, { signal: waiting.signal });
    const third = made.run('echo', 'third');
    waiting.abort();
    expect(await second).toMatchObject({ reason: 'stopped' });
    running.abort();
    expect(await first).toMatchObject({ reason: 'stopped' });
    expect(await third).toMatchObject({ status: 'done' });
  });

  it('refuses what is more than may wait, and leaves no process behind', async () => {
    const made = pool({ processes: 1, maxWaiting: 1 });
    const one = await made.run('echo', null);
    const { process: id } = (one as { value: { process: number } }).value;
    const running = made.run('slow', 300);
    const next = made.run('slow', 1);
    await expect(made.run('slow', 1)).rejects.toThrow(PoolIsFull);
    expect((await Promise.all([running, next])).every(({ status }) => status === 'done')).toBe(true);
    await made.close();
    await wait(200);
    expect(isAlive(id)).toBe(false);
    expect(await made.run('echo', null)).toMatchObject({ reason: 'stopped' });
  });

  it('answers where a process can never start', async () => {
    const made = pool({ module: pathToFileURL(join(folder, 'missing.mjs')).href });
    expect(await made.run('echo', null)).toMatchObject({ status: 'fault', reason: 'ended' });
  });
});
