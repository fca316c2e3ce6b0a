import { type ChildProcess, fork } from 'node:child_process';
import { constants, setPriority } from 'node:os';
import { readFile } from 'node:fs/promises';
import type { FromChild, ToChild } from './messages.js';

/** Why a task has no result. `ended`: its process ended by itself; `threw`: the task threw. */
export type FaultReason = 'took-too-long' | 'too-much-memory' | 'ended' | 'threw' | 'stopped';

/** How a task ended. A fault is an ordinary outcome: the next task finds a fresh process. */
export type Outcome<Value> =
  | { readonly status: 'done'; readonly value: Value }
  | { readonly status: 'fault'; readonly reason: FaultReason; readonly name: string };

/** How often the memory of a working process is looked at. */
const MEMORY_LOOK_MS = 150;
/** Bytes of a page of memory on the machines that this runs on (Linux, x86-64 and ARM). */
const PAGE_BYTES = 4_096;
/** A process that is not ready by then never will be: a large set of patterns compiles in a few seconds. */
const READY_WITHIN_MS = 60_000;
/** Told apart from an end of its own by what the engine does when memory is gone: it aborts. */
const ABORTED = new Set(['SIGABRT', 'SIGILL', 'SIGTRAP', 'SIGSEGV', 'SIGBUS']);

const CHILD = new URL('./child.js', import.meta.url.replace('/processes/src/', '/processes/dist/'));

export interface ProcessLimits {
  readonly heapMegabytes: number;
  /** Memory of the whole process, with what stands outside the heap. */
  readonly residentMegabytes: number;
}

interface Running {
  readonly id: number;
  readonly timer: NodeJS.Timeout;
  readonly onProgress: ((value: unknown) => void) | undefined;
  readonly settle: (outcome: Outcome<unknown>) => void;
}

/** One child process that runs one task at a time. It ends with the first fault that it cannot be trusted after. */
export class OneProcess {
  private readonly child: ChildProcess;
  private readonly watch: NodeJS.Timeout;
  private running: Running | undefined;
  private nextId = 1;
  private cause: FaultReason | undefined;
  /** Resolves once the process takes tasks; false where it ended before. */
  readonly ready: Promise<boolean>;
  alive = true;

  constructor(
    module: string,
    data: unknown,
    private readonly limits: ProcessLimits,
    private readonly onEnd: () => void,
  ) {
    this.child = fork(CHILD, [], {
      serialization: 'advanced',
      execArgv: [`--max-old-space-size=${limits.heapMegabytes}`],
      // What an engine prints as it dies may quote content.
      stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
    });
    yieldTo(this.child.pid);
    this.ready = this.start(module, data);
    this.watch = setInterval(() => void this.lookAtMemory(), MEMORY_LOOK_MS).unref();
    this.child.once('error', () => this.ended(null));
    this.child.once('exit', (_code, signal) => this.ended(signal));
  }

  get busy(): boolean {
    return this.running !== undefined;
  }

  private start(module: string, data: unknown): Promise<boolean> {
    return new Promise((resolve) => {
      const late = setTimeout(() => this.kill('took-too-long'), READY_WITHIN_MS).unref();
      const done = (fit: boolean): void => {
        clearTimeout(late);
        resolve(fit);
      };
      this.child.once('exit', () => done(false));
      this.child.once('error', () => done(false));
      this.child.on('message', (message: FromChild) => {
        if (message.kind === 'ready') done(true);
        else if (message.kind === 'unfit') this.kill('ended');
        else this.hear(message);
      });
      this.say({ kind: 'load', module, data });
    });
  }

  run(
    task: string,
    input: unknown,
    { timeoutMs, onProgress }: { readonly timeoutMs: number; readonly onProgress?: (value: unknown) => void },
  ): Promise<Outcome<unknown>> {
    return new Promise((settle) => {
      if (!this.alive) return settle(fault('ended', ''));
      const id = this.nextId++;
      const timer = setTimeout(() => this.kill('took-too-long'), timeoutMs).unref();
      this.running = { id, timer, onProgress, settle };
      this.say({ kind: 'run', id, task, input });
    });
  }

  /** Ends the process at once; a task that runs has the given fault. */
  kill(cause: FaultReason): void {
    this.cause ??= cause;
    this.child.kill('SIGKILL');
  }

  private say(message: ToChild): void {
    // A process that just ended is heard of by its exit.
    this.child.send(message, (error) => {
      if (error) this.kill('ended');
    });
  }

  private hear(message: FromChild): void {
    const { running } = this;
    if (!running || !('id' in message) || message.id !== running.id) return;
    if (message.kind === 'progress') return running.onProgress?.(message.value);
    this.settle(
      message.kind === 'done'
        ? { status: 'done', value: message.value }
        : fault('threw', message.kind === 'threw' ? message.name : ''),
    );
  }

  private settle(outcome: Outcome<unknown>): void {
    const { running } = this;
    this.running = undefined;
    if (!running) return;
    clearTimeout(running.timer);
    running.settle(outcome);
  }

  private ended(signal: NodeJS.Signals | null): void {
    if (!this.alive) return;
    this.alive = false;
    clearInterval(this.watch);
    const cause = this.cause ?? (signal && ABORTED.has(signal) ? 'too-much-memory' : 'ended');
    this.settle(fault(cause, ''));
    this.onEnd();
  }

  private async lookAtMemory(): Promise<void> {
    if (!this.running || this.child.pid === undefined) return;
    const pages = await readFile(`/proc/${this.child.pid}/statm`, 'utf8').catch(() => '');
    const resident = Number(pages.split(' ')[1] ?? 0) * PAGE_BYTES;
    if (resident > this.limits.residentMegabytes * 1024 * 1024) this.kill('too-much-memory');
  }
}

function fault(reason: FaultReason, name: string): Outcome<never> {
  return { status: 'fault', reason, name };
}

/** The program that started a process answers people while the process works: it comes first where both want a processor. */
function yieldTo(pid: number | undefined): void {
  if (pid === undefined) return;
  try {
    setPriority(pid, constants.priority.PRIORITY_BELOW_NORMAL);
  } catch {
    // It ended already, or the machine does not let us: it is a courtesy.
  }
}
