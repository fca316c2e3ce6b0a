import { type FaultReason, OneProcess, type Outcome, type ProcessLimits } from './one-process.js';

export type { FaultReason, Outcome } from './one-process.js';

export interface PoolOptions extends ProcessLimits {
  /** Address of a compiled module of tasks ({@link TaskModule}). */
  readonly module: string;
  /** Handed to each process as it starts, by structured clone. */
  readonly data?: unknown;
  /** Processes at most. */
  readonly processes: number;
  /** Processes that stay where there is nothing to do; the others go after {@link IDLE_MS}. */
  readonly keep?: number;
  /** Tasks that may wait beside those that run. */
  readonly maxWaiting?: number;
  readonly timeoutMs: number;
}

export interface RunOptions {
  readonly timeoutMs?: number;
  readonly signal?: AbortSignal;
  readonly onProgress?: (value: unknown) => void;
}

/** Thrown where more waits than a pool takes. */
export class PoolIsFull extends Error {
  constructor() {
    super('More tasks wait than this pool takes');
  }
}

interface Waiting {
  readonly task: string;
  readonly input: unknown;
  readonly options: RunOptions;
  readonly settle: (outcome: Outcome<never>) => void;
}

/** A process with nothing to do goes after so long. */
const IDLE_MS = 30_000;
/** Processes that ended before they were ready, one behind the other: then the module itself is at fault. */
const MOST_UNFIT = 3;

/**
 * Runs tasks in child processes with limits on memory and time, one task a process. Threads would not do: a fatal error
 * of the engine in one of them ends the whole program (docs/decisions/0015).
 */
export class ProcessPool {
  private readonly processes = new Set<OneProcess>();
  private readonly fit = new Set<OneProcess>();
  private readonly waiting: Waiting[] = [];
  private readonly idle = new Map<OneProcess, NodeJS.Timeout>();
  private unfit = 0;
  private closed = false;

  constructor(private readonly options: PoolOptions) {
    for (let started = 0; started < (options.keep ?? 0); started += 1) this.startOne();
  }

  /** Tasks that wait or run. */
  get load(): number {
    return this.waiting.length + [...this.processes].filter(({ busy }) => busy).length;
  }

  /** Runs one task. Never throws for what the task does; throws {@link PoolIsFull} where too much waits. */
  run<Value>(task: string, input: unknown, options: RunOptions = {}): Promise<Outcome<Value>> {
    if (this.closed || options.signal?.aborted)
      return Promise.resolve({ status: 'fault', reason: 'stopped', name: '' });
    if (this.waiting.length >= (this.options.maxWaiting ?? Infinity)) return Promise.reject(new PoolIsFull());
    return new Promise((settle) => {
      const entry: Waiting = { task, input, options, settle };
      options.signal?.addEventListener('abort', () => this.dropWaiting(entry), { once: true });
      this.waiting.push(entry);
      this.next();
    });
  }

  /** Takes no more tasks, and ends each process when its task is done. */
  async close(): Promise<void> {
    this.closed = true;
    while (this.load > 0 && this.processes.size > 0)
      await new Promise((resolve) => setTimeout(resolve, 20).unref());
    this.destroy();
  }

  /** Ends everything at once; what runs or waits is answered as stopped. */
  destroy(): void {
    this.closed = true;
    for (const { settle } of this.waiting.splice(0)) settle(stopped());
    for (const process of this.processes) process.kill('stopped');
    for (const timer of this.idle.values()) clearTimeout(timer);
  }

  private dropWaiting(entry: Waiting): void {
    const at = this.waiting.indexOf(entry);
    if (at === -1) return;
    this.waiting.splice(at, 1);
    entry.settle(stopped());
  }

  private next(): void {
    if (this.waiting.length === 0) return;
    const free = [...this.fit].find((process) => process.alive && !process.busy);
    if (free) {
      const entry = this.waiting.shift();
      if (entry) void this.give(free, entry);
      return;
    }
    const starting = this.processes.size - this.fit.size;
    if (this.processes.size < this.options.processes && starting < this.waiting.length) this.startOne();
  }

  private async give(process: OneProcess, { task, input, options, settle }: Waiting): Promise<void> {
    const timer = this.idle.get(process);
    if (timer) clearTimeout(timer);
    this.idle.delete(process);
    const stop = (): void => process.kill('stopped');
    options.signal?.addEventListener('abort', stop, { once: true });
    const outcome = await process.run(task, input, {
      timeoutMs: options.timeoutMs ?? this.options.timeoutMs,
      ...(options.onProgress ? { onProgress: options.onProgress } : {}),
    });
    options.signal?.removeEventListener('abort', stop);
    this.rest(process);
    settle(outcome as Outcome<never>);
    this.next();
  }

  private rest(process: OneProcess): void {
    if (!process.alive || this.processes.size <= (this.options.keep ?? 0)) return;
    const timer = setTimeout(() => {
      if (!process.busy && this.processes.size > (this.options.keep ?? 0)) process.kill('stopped');
    }, IDLE_MS).unref();
    this.idle.set(process, timer);
  }

  private startOne(): void {
    const { module, data, heapMegabytes, residentMegabytes } = this.options;
    const process = new OneProcess(module, data, { heapMegabytes, residentMegabytes }, () => {
      this.processes.delete(process);
      this.fit.delete(process);
      if (!this.closed && this.processes.size < (this.options.keep ?? 0) && this.unfit < MOST_UNFIT)
        this.startOne();
      this.next();
    });
    this.processes.add(process);
    void process.ready.then((isFit) => this.started(process, isFit));
  }

  private started(process: OneProcess, isFit: boolean): void {
    if (isFit) {
      this.unfit = 0;
      this.fit.add(process);
      this.rest(process);
      this.next();
      return;
    }
    this.unfit += 1;
    // Nobody waits for ever for processes that cannot start.
    if (this.unfit >= MOST_UNFIT)
      for (const { settle } of this.waiting.splice(0)) settle({ status: 'fault', reason: 'ended', name: '' });
  }
}

const stopped = (): { status: 'fault'; reason: FaultReason; name: string } => ({
  status: 'fault',
  reason: 'stopped',
  name: '',
});
