import type { Finding } from '@lantern/core/detection';

/** Findings of one pattern in one item that are counted: no rule can ask for more (`MAX_COUNT` of the core). */
export const MOST_COUNTED = 100_000;

/** Counts findings of an item over all its parts, and says which are still worth keeping. */
export class FindingQuota {
  private readonly seen = new Map<string, { findings: number; values: Set<string> }>();

  constructor(private readonly most: number = MOST_COUNTED) {}

  /** Whether it can change what a rule counts: one more finding, or one more distinct value. */
  keeps({ pattern, canonical }: Pick<Finding, 'pattern' | 'canonical'>): boolean {
    let known = this.seen.get(pattern);
    if (!known) this.seen.set(pattern, (known = { findings: 0, values: new Set() }));
    const isNew = known.values.size < this.most && !known.values.has(canonical);
    if (isNew) known.values.add(canonical);
    known.findings += 1;
    return isNew || known.findings <= this.most;
  }
}
