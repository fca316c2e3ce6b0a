/**
 * Loaded into the server by the fault run: says twice a second how late its event loop was at most, and how much of the
 * latest of them the process itself worked. What remains is waiting for a processor that others have.
 */
import { performance } from 'node:perf_hooks';

const LOOK_EVERY_MS = 10;
const SAY_EVERY_MS = 500;
let last = performance.now();
let used = process.cpuUsage();
let late = 0;
let own = 0;

function look() {
  const now = performance.now();
  const { user, system } = process.cpuUsage(used);
  const lateness = now - last - LOOK_EVERY_MS;
  late = Math.max(late, lateness);
  own = Math.max(own, Math.min(lateness, (user + system) / 1_000));
  last = now;
  used = process.cpuUsage();
}

// Child processes of the server load this too, and have nobody to say it to.
if (process.argv[1]?.endsWith('/server/dist/main.js')) {
  setInterval(look, LOOK_EVERY_MS).unref();
  setInterval(() => {
    process.send?.({ loopMilliseconds: Math.round(late), ownMilliseconds: Math.round(own) });
    late = 0;
    own = 0;
  }, SAY_EVERY_MS).unref();
}
