/** What a run looked for, by digests: equal digests are equal patterns, sets and rules. */
export interface LookedFacts {
  /** Digest of each own pattern by its id, with what it knows. */
  readonly patterns: Readonly<Record<string, string>>;
  /** Patterns that stand in nearly every text and count only because a rule asks for them. */
  readonly wanted: readonly string[];
  /** Digest of labels and of the rules that set them by themselves. */
  readonly labels: string;
}

/** Which items must be read again though they did not change: all, or those with a finding of these patterns. */
export type Reread =
  { readonly kind: 'all' } | { readonly kind: 'having'; readonly patterns: ReadonlySet<string> };

/**
 * What a run must read again of what an earlier one read. A pattern that is new, or another than before, may stand
 * anywhere; one that is gone is gone from where it was found and from nowhere else.
 */
export function rereadOf(before: LookedFacts, now: LookedFacts): Reread {
  if (before.labels !== now.labels) return { kind: 'all' };
  const wanted = new Set(before.wanted);
  const isMore =
    Object.entries(now.patterns).some(
      ([id, digest]) => !Object.hasOwn(before.patterns, id) || before.patterns[id] !== digest,
    ) || now.wanted.some((id) => !wanted.has(id));
  if (isMore) return { kind: 'all' };
  const stays = new Set(now.wanted);
  return {
    kind: 'having',
    patterns: new Set([
      ...Object.keys(before.patterns).filter((id) => !Object.hasOwn(now.patterns, id)),
      ...before.wanted.filter((id) => !stays.has(id)),
    ]),
  };
}
