/** A movement that waits on a machine to be handed in. */
export interface BacklogRecord {
  readonly id: string;
  /** When it happened, in milliseconds since 1970, UTC. */
  readonly at: number;
  readonly bytes: number;
  /** It was kept from going on. */
  readonly stopped: boolean;
  /** Some rule held. */
  readonly matched: boolean;
}

export interface BacklogLimits {
  readonly records: number;
  readonly bytes: number;
}

/**
 * Ids of the records to let go so that the rest fits: the oldest that no rule held for go first, then the oldest that
 * went on all the same. What was stopped is never let go, so that a store of nothing else may stay too full.
 */
export function letGo(records: readonly BacklogRecord[], limits: BacklogLimits): string[] {
  let count = records.length;
  let bytes = records.reduce((sum, each) => sum + each.bytes, 0);
  const order = [...records]
    .filter(({ stopped }) => !stopped)
    .sort((left, right) => Number(left.matched) - Number(right.matched) || left.at - right.at);
  const gone: string[] = [];
  for (const each of order) {
    if (count <= limits.records && bytes <= limits.bytes) break;
    gone.push(each.id);
    count -= 1;
    bytes -= each.bytes;
  }
  return gone;
}
