import type { DraftState } from '@lantern/contracts';

/** How a draft stands to its published form; both are plain values, so their text decides. */
export function stateOf<Thing extends { readonly id: string }>(
  draft: Thing,
  published: readonly Thing[],
): DraftState {
  const before = published.find((thing) => thing.id === draft.id);
  if (!before) return 'new';
  return stable(before) === stable(draft) ? 'published' : 'changed';
}

/** JSON with sorted keys: the database may return them in another order. */
export function stable(value: unknown): string {
  return JSON.stringify(value, (_key, inner: unknown) =>
    typeof inner === 'object' && inner !== null && !Array.isArray(inner)
      ? Object.fromEntries(Object.entries(inner).sort(([left], [right]) => (left < right ? -1 : 1)))
      : inner,
  );
}
