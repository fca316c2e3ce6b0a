/** A thread of its own: what the clients of the fault run do must not count as silence of the server. */
import { setTimeout as wait } from 'node:timers/promises';
import { parentPort, workerData } from 'node:worker_threads';

const ASK_EVERY_MS = 100;
/** A question that has no answer by then has none; the health says so in two seconds at the latest. */
const GIVEN_UP_AFTER_MS = 10_000;

for (;;) {
  const asked = Date.now();
  let status = null;
  try {
    const answer = await fetch(`http://127.0.0.1:${workerData.port}/api/health`, {
      signal: AbortSignal.timeout(GIVEN_UP_AFTER_MS),
    });
    await answer.arrayBuffer();
    status = answer.status;
  } catch {
    // No answer is an answer too.
  }
  parentPort.postMessage({ asked, answered: Date.now(), status });
  await wait(ASK_EVERY_MS);
}
