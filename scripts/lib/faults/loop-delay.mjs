/** Loaded into the server by the fault run: says twice a second for how long its event loop was held up at most. */
import { monitorEventLoopDelay } from 'node:perf_hooks';

const SAY_EVERY_MS = 500;
const delay = monitorEventLoopDelay({ resolution: 10 });
delay.enable();
// Child processes of the server load this too, and have nobody to say it to.
if (process.argv[1]?.endsWith('/server/dist/main.js'))
  setInterval(() => {
    process.send?.({ loopMilliseconds: Math.round(delay.max / 1e6) });
    delay.reset();
  }, SAY_EVERY_MS).unref();
