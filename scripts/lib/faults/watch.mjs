import { readdirSync, readFileSync } from 'node:fs';
import { setTimeout as wait } from 'node:timers/promises';
import { Worker } from 'node:worker_threads';

const LOOK_EVERY_MS = 100;

/** Asks for the health all the time, and looks at the memory of the server and of its child processes. */
export class Watch {
  longestSilence = 0;
  /** What was done while it was longest. */
  silentDuring = '';
  during = '';
  serverMegabytes = 0;
  readerMegabytes = 0;
  longestBlock = 0;
  /** The longest that its own work held it up. */
  longestOwn = 0;
  ownDuring = '';
  /** What was done while it was held up for longest. */
  blockedDuring = '';
  /** When each time began and ended, in milliseconds since 1970. */
  #excused = [];
  #asker = null;
  #stopped = false;
  #well = true;
  #heard = null;

  constructor(parts) {
    this.parts = parts;
    this.#ask();
    void this.#weigh();
  }

  /** While the server itself is killed or frozen, its silence is not held against it. */
  excuse(excused) {
    if (excused) this.#excused.push([Date.now(), Infinity]);
    else this.#excused.at(-1)?.splice(1, 1, Date.now());
  }

  async stop() {
    this.#stopped = true;
    await this.#asker?.terminate();
  }

  /** Resolves once the health is good, twice with a pause between. */
  async untilWell(within) {
    const end = Date.now() + within;
    for (let times = 0; times < 2;) {
      await wait(500);
      times = this.#well ? times + 1 : 0;
      if (Date.now() > end) throw new Error('The server did not become well again');
    }
  }

  #ask() {
    this.#asker = new Worker(new URL('./ask-health.mjs', import.meta.url), {
      workerData: { port: this.parts.port },
    });
    this.#asker.on('message', ({ asked, answered, status }) => {
      this.#well = status === 200;
      const took = answered - asked;
      if (took <= this.longestSilence || this.#excused.some(([from, to]) => asked < to && from < answered))
        return;
      this.longestSilence = took;
      this.silentDuring = `${this.during}, answered ${status ?? 'nothing'}`;
    });
  }

  /** Starting loads modules for a second; what counts is a server that is at work. */
  #listen(child) {
    this.#heard = child;
    child.on('message', ({ loopMilliseconds = 0, ownMilliseconds = 0 }) => {
      if (!this.#well || this.#excused.some(([, to]) => to >= Date.now())) return;
      if (ownMilliseconds > this.longestOwn) {
        this.longestOwn = ownMilliseconds;
        this.ownDuring = this.during;
      }
      if (loopMilliseconds <= this.longestBlock) return;
      this.longestBlock = loopMilliseconds;
      this.blockedDuring = this.during;
    });
  }

  async #weigh() {
    while (!this.#stopped) {
      const { child } = this.parts.server.part;
      if (this.#heard !== child) this.#listen(child);
      const server = child.pid;
      this.serverMegabytes = Math.max(this.serverMegabytes, megabytesOf(server));
      for (const reader of childrenOf(server))
        this.readerMegabytes = Math.max(this.readerMegabytes, megabytesOf(reader));
      await wait(LOOK_EVERY_MS);
    }
  }
}

function megabytesOf(pid) {
  try {
    const [, kilobytes] = /^VmRSS:\s+(\d+) kB/m.exec(readFileSync(`/proc/${pid}/status`, 'utf8')) ?? [];
    return Math.round(Number(kilobytes ?? 0) / 1_024);
  } catch {
    return 0;
  }
}

function childrenOf(parent) {
  try {
    return readdirSync(`/proc/${parent}/task`).flatMap((thread) =>
      readFileSync(`/proc/${parent}/task/${thread}/children`, 'utf8').split(' ').filter(Boolean),
    );
  } catch {
    return [];
  }
}
