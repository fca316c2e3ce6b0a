import { ProcessPool, UNFINISHED } from '@lantern/processes';
import type { OfflineTask, OfflineVerdict } from '../watching/judge-offline.js';
import { MOST_TEXT_BYTES } from './read-large.js';
import { unreadable } from './unreadable.js';
import type { LabelTask, ReadingData, ReadTask, TimedResult } from './read-tasks.js';

const HEAP_MEGABYTES = 1_024;
const RESIDENT_MEGABYTES = 1_536;
/** The slowest honest file within the size limit takes some 12 s on a small machine. */
const WITHIN_MS = 60_000;
/** Texts read in pieces have as much longer as they are larger: the slowest are dense tables. */
const LARGE_BYTES_A_SECOND = 500_000;

/** The processes that look into items, with the patterns of one revision. */
export class ReadingPool {
  private readonly pool: ProcessPool;

  constructor(
    data: ReadingData,
    readonly processes: number,
  ) {
    this.pool = new ProcessPool({
      module: new URL('./read-tasks.js', import.meta.url.replace('/reader/src/', '/reader/dist/')).href,
      ...{ data, processes, keep: 1, heapMegabytes: HEAP_MEGABYTES, residentMegabytes: RESIDENT_MEGABYTES },
      timeoutMs: WITHIN_MS,
    });
  }

  async read(task: ReadTask): Promise<TimedResult> {
    const large = task.content.kind === 'path' ? (task.content.large ?? 0) : 0;
    const timeoutMs = WITHIN_MS + Math.ceil(Math.min(large, MOST_TEXT_BYTES) / LARGE_BYTES_A_SECOND) * 1_000;
    const outcome = await this.pool.run<TimedResult>('read', task, { timeoutMs });
    if (outcome.status === 'done') return outcome.value;
    return { result: unreadable(task.id, UNFINISHED[outcome.reason]), processor: 0 };
  }

  /** Null where it was labelled, otherwise why not. */
  async label(task: LabelTask): Promise<string | null> {
    const outcome = await this.pool.run<string | null>('label', task);
    return outcome.status === 'done' ? outcome.value : UNFINISHED[outcome.reason];
  }

  /** Null where it came to no end. */
  async judge(task: OfflineTask): Promise<OfflineVerdict | null> {
    const outcome = await this.pool.run<OfflineVerdict>('judge', task);
    return outcome.status === 'done' ? outcome.value : null;
  }

  /** Takes nothing more, and ends when what runs has ended. */
  finish(): Promise<void> {
    return this.pool.close();
  }

  close(): void {
    this.pool.destroy();
  }
}
