import { type FaultReason, ProcessPool } from '@lantern/processes';
import type { InspectTask, LabelTask, Told } from './file-tasks.js';
import type { InspectLine } from './inspect-path.js';
import type { LabelLine } from './label/label-path.js';

/** A file may take so long: the slowest honest file within the size limit takes some 12 s on a small machine. */
const TIME_LIMIT_MS = 60_000;
const HEAP_MEGABYTES = 1_024;
const RESIDENT_MEGABYTES = 1_536;

/** Why a file has no answer, in the words that files use. */
const REASONS: Readonly<Record<FaultReason, string>> = {
  'took-too-long': 'took-too-long',
  'too-much-memory': 'expands-too-far',
  ended: 'corrupt',
  threw: 'corrupt',
  stopped: 'stopped',
};

/** Works through files one at a time, outside the process of the command. */
export class FilePool {
  private readonly pool = new ProcessPool({
    module: new URL('./file-tasks.js', import.meta.url.replace('/cli/src/', '/cli/dist/')).href,
    processes: 1,
    keep: 0,
    heapMegabytes: HEAP_MEGABYTES,
    residentMegabytes: RESIDENT_MEGABYTES,
    timeoutMs: TIME_LIMIT_MS,
  });

  async inspect(task: InspectTask): Promise<Told<InspectLine>> {
    const outcome = await this.pool.run<Told<InspectLine>>('inspect', task);
    if (outcome.status === 'done') return outcome.value;
    const reason = REASONS[outcome.reason];
    return { line: { path: task.path, status: 'unreadable', reason, characters: 0, findings: [] } };
  }

  async label(task: LabelTask): Promise<Told<LabelLine>> {
    const outcome = await this.pool.run<Told<LabelLine>>('label', task);
    if (outcome.status === 'done') return outcome.value;
    return { line: { path: task.path, status: 'refused', label: null, reason: REASONS[outcome.reason] } };
  }

  close(): void {
    this.pool.destroy();
  }
}
