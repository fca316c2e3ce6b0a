import { availableParallelism } from 'node:os';
import { piecesOf } from '@lantern/files/reading';
import { ProcessPool, UNFINISHED } from '@lantern/processes';
import type { InspectTask, LabelTask, PieceTask, Told } from './file-tasks.js';
import type { InspectLine, PieceLine } from './inspect-path.js';
import { inspectPieces } from './inspect-pieces.js';
import type { LabelLine } from './label/label-path.js';

/** A file may take so long: the slowest honest file within the size limit takes some 12 s on a small machine. */
const TIME_LIMIT_MS = 60_000;
const HEAP_MEGABYTES = 1_024;
const RESIDENT_MEGABYTES = 1_536;

/** Processes at most: each may take as much memory as stands above. */
const MOST_PROCESSES = 8;
/** Batches handed out beside those that are worked on, for each process. */
const AHEAD = 3;

/** Works through files outside the process of the command: on all cores where several wait. */
export class FilePool {
  private readonly processes: number;
  private readonly pool: ProcessPool;

  constructor(most = MOST_PROCESSES) {
    this.processes = Math.max(1, Math.min(most, availableParallelism()));
    this.pool = new ProcessPool({
      module: new URL('./file-tasks.js', import.meta.url.replace('/cli/src/', '/cli/dist/')).href,
      processes: this.processes,
      keep: 1,
      heapMegabytes: HEAP_MEGABYTES,
      residentMegabytes: RESIDENT_MEGABYTES,
      timeoutMs: TIME_LIMIT_MS,
    });
  }

  /** Batches that may be handed out before the first of them must be answered. */
  get ahead(): number {
    return this.processes * AHEAD;
  }

  async inspect(task: InspectTask): Promise<Told<InspectLine>> {
    const outcome = await this.pool.run<Told<InspectLine>>('inspect', task);
    if (outcome.status === 'done') return outcome.value;
    const reason = UNFINISHED[outcome.reason];
    return { line: { path: task.path, status: 'unreadable', reason, characters: 0, findings: [] } };
  }

  /** A file larger than what is opened in one go: a text is read in pieces, and all else is named as too large. */
  inspectLarge(task: InspectTask, size: number): Promise<Told<InspectLine>> {
    const { path, choices } = task;
    return inspectPieces(path, piecesOf(size), {
      atOnce: this.processes,
      whole: () => this.inspect(task),
      inspect: (number) =>
        this.pool.run<Told<PieceLine | null>>('inspectPiece', { path, number, choices } satisfies PieceTask),
    });
  }

  /** Several files at once; where one of them ends the process, each is looked at again on its own. */
  async inspectSome(tasks: readonly InspectTask[]): Promise<Told<InspectLine>[]> {
    const [only, ...others] = tasks;
    if (!only) return [];
    if (others.length === 0) return [await this.inspect(only)];
    const outcome = await this.pool.run<Told<InspectLine>[]>('inspectSome', tasks);
    if (outcome.status === 'done') return outcome.value;
    const lines: Told<InspectLine>[] = [];
    for (const task of tasks) lines.push(await this.inspect(task));
    return lines;
  }

  async label(task: LabelTask): Promise<Told<LabelLine>> {
    const outcome = await this.pool.run<Told<LabelLine>>('label', task);
    if (outcome.status === 'done') return outcome.value;
    return { line: { path: task.path, status: 'refused', label: null, reason: UNFINISHED[outcome.reason] } };
  }

  close(): void {
    this.pool.destroy();
  }
}
