import { randomUUID } from 'node:crypto';
import { AppError } from '../../platform/errors/app-error.js';

/** A comparison is kept for an hour: long enough to look through it. */
const KEPT_MS = 60 * 60_000;
/** Comparisons of a large directory are large; the oldest goes. */
const MOST_KEPT = 3;

/** Comparisons that wait for somebody to apply them, by their ids. */
export class KeptComparisons<Comparison> {
  private readonly kept = new Map<string, Comparison>();

  /** Keeps a comparison that is made with the id it is found by. */
  keep<Made extends Comparison>(make: (id: string) => Made): Made {
    const id = randomUUID();
    const comparison = make(id);
    this.kept.set(id, comparison);
    setTimeout(() => this.kept.delete(id), KEPT_MS).unref();
    const [oldest] = this.kept.keys();
    if (this.kept.size > MOST_KEPT && oldest !== undefined) this.kept.delete(oldest);
    return comparison;
  }

  /** Throws `not-found` for one that is gone. */
  get(id: string): Comparison {
    const found = this.kept.get(id);
    if (found === undefined) throw new AppError('not-found', 'This comparison has expired. Compare again.');
    return found;
  }

  drop(id: string): void {
    this.kept.delete(id);
  }
}
