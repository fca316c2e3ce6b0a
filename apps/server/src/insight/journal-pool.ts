import { slices } from '@lantern/core/shared';
import { ProcessPool } from '@lantern/processes';

/** Kept movements that one call of a process takes. */
const ROWS_A_CALL = 100;
const PROCESSES = 2;
/** A scanner, the drafts and the texts of one call. */
const HEAP_MEGABYTES = 768;
const RESIDENT_MEGABYTES = 1_400;
/** Rows of one call that take longer are left out. */
const WITHIN_MS = 60_000;

/** Processes in which kept movements of the journal are opened and read again, for one computation. */
export class JournalPool {
  private readonly pool: ProcessPool;

  constructor(module: string, data: unknown) {
    this.pool = new ProcessPool({
      ...{ module, data, processes: PROCESSES, keep: PROCESSES },
      ...{ heapMegabytes: HEAP_MEGABYTES, residentMegabytes: RESIDENT_MEGABYTES, timeoutMs: WITHIN_MS },
    });
  }

  /** Runs a task over rows, some at a time. It answers one value a row; rows of a call that came to no end are left out. */
  async each<Row extends { readonly id: string }, Value>(
    task: string,
    rows: readonly Row[],
    inputOf: (rows: readonly Row[]) => unknown = (some) => some,
  ): Promise<Map<string, Value>> {
    const found = new Map<string, Value>();
    await Promise.all(
      slices(rows, ROWS_A_CALL).map(async (some) => {
        const outcome = await this.pool.run<Value[]>(task, inputOf(some));
        if (outcome.status !== 'done') return;
        for (const [at, { id }] of some.entries()) found.set(id, outcome.value[at] as Value);
      }),
    );
    return found;
  }

  destroy(): void {
    this.pool.destroy();
  }
}
