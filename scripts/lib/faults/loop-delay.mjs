/**
 * Loaded into the server by the fault run: says twice a second how late its event loop was at most, and for how much of
 * that its thread itself was at work. What remains is waiting for a processor that others have.
 */
import { readFileSync } from 'node:fs';
import { performance } from 'node:perf_hooks';

const LOOK_EVERY_MS = 10;
const SAY_EVERY_MS = 500;
/** Nanoseconds that the thread of the event loop was on a processor, first of three numbers (Linux, proc(5)). */
const SCHEDULED = `/proc/self/task/${process.pid}/schedstat`;

const worked = () => Number(readFileSync(SCHEDULED, 'utf8').split(' ', 1)[0]) / 1e6;

// Child processes of the server load this too, and have nobody to say it to.
if (process.argv[1]?.endsWith('/server/dist/main.js')) {
  let last = performance.now();
  let used = worked();
  let late = 0;
  let own = 0;
  setInterval(() => {
    const now = performance.now();
    const usedNow = worked();
    const lateness = now - last - LOOK_EVERY_MS;
    late = Math.max(late, lateness);
    own = Math.max(own, Math.min(lateness, usedNow - used));
    last = now;
    used = usedNow;
  }, LOOK_EVERY_MS).unref();
  setInterval(() => {
    process.send?.({ loopMilliseconds: Math.round(late), ownMilliseconds: Math.round(own) });
    late = 0;
    own = 0;
  }, SAY_EVERY_MS).unref();
}
