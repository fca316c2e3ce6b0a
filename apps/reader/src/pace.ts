import { setTimeout as wait } from 'node:timers/promises';
import type { ReaderCost, ReaderUse } from '@lantern/contracts';

/** Use is measured over this stretch. */
const WINDOW_MS = 60_000;
/** Longest pause at once: a changed promise is heard soon. */
const LONGEST_PAUSE_MS = 5_000;

interface Spent {
  readonly at: number;
  readonly bytes: number;
  /** Processor time of the work, in milliseconds. */
  readonly processor: number;
}

/** Keeps what a reader costs its machine below what was promised, and measures what it does cost. */
export class Pace {
  private spent: Spent[] = [];
  private startedAt: number;

  constructor(
    private cost: ReaderCost,
    private readonly now: () => number = Date.now,
  ) {
    this.startedAt = now();
  }

  promise(cost: ReaderCost): void {
    this.cost = cost;
  }

  /** Notes work that was done; `processor` in milliseconds over all processes. */
  add(work: { readonly bytes: number; readonly processor: number }): void {
    const at = this.now();
    this.spent = [...this.spent.filter((each) => at - each.at < WINDOW_MS), { at, ...work }];
  }

  /** Milliseconds to rest before the next item, so that no promise is broken over the stretch that is measured. */
  pauseBefore(): number {
    const { elapsed, bytes, processor, items } = this.sums();
    const needed = [
      this.cost.processor ? processor / this.cost.processor : 0,
      this.cost.bytesPerSecond ? (bytes / this.cost.bytesPerSecond) * 1_000 : 0,
      this.cost.itemsPerSecond ? (items / this.cost.itemsPerSecond) * 1_000 : 0,
    ];
    return Math.max(0, Math.max(...needed) - elapsed);
  }

  async rest(signal: AbortSignal): Promise<void> {
    for (let pause = this.pauseBefore(); pause > 0; pause = this.pauseBefore())
      await wait(Math.min(pause, LONGEST_PAUSE_MS), undefined, { signal });
  }

  /** What the last minute cost; null where nothing was done in it. */
  used(residentMegabytes: number): ReaderUse | null {
    const { elapsed, bytes, processor, items } = this.sums();
    if (items === 0) return null;
    const seconds = Math.max(1, elapsed / 1_000);
    return {
      processor: processor / 1_000 / seconds,
      bytesPerSecond: bytes / seconds,
      itemsPerSecond: items / seconds,
      residentMegabytes,
    };
  }

  private sums() {
    const now = this.now();
    const inside = this.spent.filter(({ at }) => now - at < WINDOW_MS);
    // Work that ended at the first instant began before it: the stretch starts with the reader, or a minute ago.
    const since = Math.max(this.startedAt, now - WINDOW_MS);
    return {
      elapsed: now - since,
      items: inside.length,
      bytes: inside.reduce((sum, each) => sum + each.bytes, 0),
      processor: inside.reduce((sum, each) => sum + each.processor, 0),
    };
  }
}
