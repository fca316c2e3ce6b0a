import { readdirSync, readFileSync } from 'node:fs';
import { setTimeout as wait } from 'node:timers/promises';

const LOOK_EVERY_MS = 100;
/** A question that has no answer by then has none; the health says so in two seconds at the latest. */
const GIVEN_UP_AFTER_MS = 10_000;

/** Asks for the health all the time, and looks at the memory of the server and of its child processes. */
export class Watch {
  longestSilence = 0;
  serverMegabytes = 0;
  readerMegabytes = 0;
  longestBlock = 0;
  #excused = false;
  #stopped = false;
  #well = true;
  #heard = null;

  constructor(parts) {
    this.parts = parts;
    void this.#ask();
    void this.#weigh();
  }

  /** While the server itself is killed or frozen, its silence is not held against it. */
  excuse(excused) {
    this.#excused = excused;
  }

  stop() {
    this.#stopped = true;
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

  async #ask() {
    while (!this.#stopped) {
      const asked = Date.now();
      const excused = this.#excused;
      const status = await healthOf(this.parts.port);
      this.#well = status === 200;
      const took = Date.now() - asked;
      if (!excused && !this.#excused) this.longestSilence = Math.max(this.longestSilence, took);
      await wait(LOOK_EVERY_MS);
    }
  }

  /** Starting loads modules for a second; what counts is a server that is at work. */
  #listen(child) {
    this.#heard = child;
    child.on('message', ({ loopMilliseconds = 0 }) => {
      if (this.#well && !this.#excused) this.longestBlock = Math.max(this.longestBlock, loopMilliseconds);
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

async function healthOf(port) {
  try {
    const answer = await fetch(`http://127.0.0.1:${port}/api/health`, {
      signal: AbortSignal.timeout(GIVEN_UP_AFTER_MS),
    });
    await answer.arrayBuffer();
    return answer.status;
  } catch {
    return null;
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
