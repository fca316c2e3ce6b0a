import { setTimeout as wait } from 'node:timers/promises';
import { say } from './say.mjs';

/** Pauses before a part that ended by itself is started again, in milliseconds; the last one stays. */
const PAUSES = [500, 1_000, 2_000, 5_000, 10_000, 30_000];
/** A part that has run for so long is well: the next pause is the first one again. */
const WELL_AFTER_MS = 60_000;
/** Failed starts, one behind the other, after which nobody tries any more. */
const MOST_FAILURES = 12;

/** Which pause comes before start number `failures` (from 1) after a part ended. */
export function pauseBefore(failures) {
  return PAUSES[Math.min(failures, PAUSES.length) - 1];
}

/**
 * Keeps one part running: `start` gives `{ child, stop }`. When its process ends by itself it is started again, with
 * growing pauses; `onGivenUp` is called where that fails for good. Returns how to stop it for good.
 */
export async function keepRunning(name, start, { log, onGivenUp = () => undefined }) {
  const state = { part: await start(), stopping: false, failures: 0, startedAt: Date.now() };
  const watch = () => {
    state.part.child.once('exit', () => void again());
    if (state.part.child.exitCode !== null || state.part.child.signalCode !== null) void again();
  };
  let restarting = false;
  const again = async () => {
    if (state.stopping || restarting) return;
    restarting = true;
    if (Date.now() - state.startedAt > WELL_AFTER_MS) state.failures = 0;
    while (!state.stopping) {
      state.failures += 1;
      if (state.failures > MOST_FAILURES) return onGivenUp();
      const pause = pauseBefore(state.failures);
      say(`${name} ended by itself (its log is ${log}). Starting it again in ${pause / 1000} s …`);
      await wait(pause);
      if (state.stopping) return;
      try {
        state.part = await start();
        state.startedAt = Date.now();
        restarting = false;
        say(`${name} is running again. Nothing that was saved is lost.`);
        watch();
        return;
      } catch {
        // The next pause is longer.
      }
    }
  };
  watch();
  return {
    get part() {
      return state.part;
    },
    stop: async () => {
      state.stopping = true;
      await state.part.stop();
    },
  };
}

/** How often the parent is looked for. */
const PARENT_EVERY_MS = 1_000;

/**
 * Calls back once whoever started this command is gone, where that is npm: it does not always pass a signal on, and a
 * command that nobody holds any more must not stay behind.
 */
export function whenParentIsGone(callback) {
  if (!process.env.npm_lifecycle_event) return;
  const parent = process.ppid;
  const timer = setInterval(() => {
    if (process.ppid === parent) return;
    clearInterval(timer);
    callback();
  }, PARENT_EVERY_MS);
  timer.unref();
}
