import { Worker } from 'node:worker_threads';
import type { FromChild, TaskModule, ToChild } from './messages.js';

/**
 * The inside of a child process: loads one module and runs its tasks, one after the other. Code that hangs cannot
 * notice that the parent is gone, so a thread of its own looks after that.
 */
const WATCH_PARENT = `
  const parent = process.ppid;
  setInterval(() => { if (process.ppid !== parent) process.kill(process.pid, 'SIGKILL'); }, 1000);
`;
new Worker(WATCH_PARENT, { eval: true, resourceLimits: { maxOldGenerationSizeMb: 16 } }).unref();

let loading: Promise<TaskModule> | undefined;

function tell(message: FromChild): void {
  process.send?.(message);
}

const nameOf = (error: unknown): string => {
  if (!(error instanceof Error)) return 'unknown';
  return 'code' in error ? `${error.name} ${String(error.code)}` : error.name;
};

async function load(url: string, data: unknown): Promise<TaskModule> {
  const module = (await import(url)) as TaskModule;
  await module.prepare?.(data);
  return module;
}

async function run(id: number, task: string, input: unknown): Promise<void> {
  try {
    const found = (await loading)?.tasks[task];
    if (!found) throw new RangeError('No such task');
    const progress = (value: unknown): void => tell({ kind: 'progress', id, value });
    tell({ kind: 'done', id, value: await found(input as never, { progress }) });
  } catch (error) {
    tell({ kind: 'threw', id, name: nameOf(error) });
  }
}

process.on('message', (message: ToChild) => {
  if (message.kind === 'run') void run(message.id, message.task, message.input);
  else {
    loading = load(message.module, message.data);
    loading.then(
      () => tell({ kind: 'ready' }),
      (error: unknown) => tell({ kind: 'unfit', name: nameOf(error) }),
    );
  }
});
process.on('disconnect', () => process.exit(0));
