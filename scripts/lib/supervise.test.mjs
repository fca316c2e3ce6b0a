import { spawn } from 'node:child_process';
import { setTimeout as wait } from 'node:timers/promises';
import { isAlive, stopProcess } from './processes.mjs';
import { keepRunning, pauseBefore } from './supervise.mjs';

const sleeper = () => {
  const child = spawn(process.execPath, ['-e', 'setInterval(() => {}, 1000)'], { stdio: 'ignore' });
  return { child, stop: () => stopProcess(child.pid) };
};

describe('keeping a part running', () => {
  it('pauses longer each time, and no longer than half a minute', () => {
    const pauses = Array.from({ length: 10 }, (_unused, index) => pauseBefore(index + 1));
    expect(pauses).toEqual([...pauses].sort((left, right) => left - right));
    expect(pauses[0]).toBeLessThan(1_000);
    expect(pauses.at(-1)).toBe(30_000);
  });

  it('starts a part again that was killed, and leaves it stopped when it is stopped', async () => {
    let starts = 0;
    const kept = await keepRunning('The part', async () => (starts++, sleeper()), { log: 'none' });
    const first = kept.part.child.pid;
    process.kill(first, 'SIGKILL');
    for (let waited = 0; waited < 5_000 && starts < 2; waited += 50) await wait(50);
    expect(starts).toBe(2);
    await wait(100);
    const second = kept.part.child.pid;
    expect(second).not.toBe(first);
    await kept.stop();
    await wait(800);
    expect(isAlive(second)).toBe(false);
    expect(starts).toBe(2);
  });
});
