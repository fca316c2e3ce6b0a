import { spawn } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { takeLock, takeTurn } from './lock.mjs';
import { stopProcess } from './processes.mjs';

const folder = mkdtempSync(join(tmpdir(), 'lantern-lock-'));
const file = join(folder, 'running.json');
afterAll(() => rmSync(folder, { recursive: true }));

describe('takeLock', () => {
  it.each([
    ['a process that is gone', JSON.stringify({ pid: 2 ** 22 + 1, address: 'x' })],
    ['a process that is something else', JSON.stringify({ pid: process.pid, address: 'x' })],
    ['rubbish', '{'],
  ])('passes over a file left by %s', (_name, content) => {
    writeFileSync(file, content);
    const lock = takeLock(file);
    lock.release();
    expect(existsSync(file)).toBe(false);
  });

  it('keeps a second start from sharing the folder, and says where the first one is', async () => {
    const script = join(folder, 'start.mjs');
    writeFileSync(script, 'setInterval(() => {}, 1000)');
    const first = spawn(process.execPath, [script], { stdio: 'ignore' });
    writeFileSync(file, JSON.stringify({ pid: first.pid, address: 'http://127.0.0.1:4600' }));
    expect(() => takeLock(file)).toThrow(`already running as process ${first.pid} on http://127.0.0.1:4600`);
    await stopProcess(first.pid);
  });
});

describe('takeTurn', () => {
  const turn = join(folder, 'installing');

  it('lets one process in after the other', async () => {
    const release = await takeTurn(turn, 'waiting');
    const order = [];
    const second = takeTurn(turn, 'waiting').then((done) => {
      order.push('second');
      done();
    });
    await new Promise((resolve) => setTimeout(resolve, 50));
    order.push('first');
    release();
    await second;
    expect(order).toEqual(['first', 'second']);
    expect(existsSync(turn)).toBe(false);
  });

  it.each([
    ['a process that is gone', JSON.stringify({ pid: 2 ** 22 + 1 })],
    ['a process that never wrote it', ''],
  ])('passes over a file left by %s', async (_name, content) => {
    writeFileSync(turn, content);
    const release = await takeTurn(turn, 'waiting');
    release();
    expect(existsSync(turn)).toBe(false);
  });
});
