/** What was found of one pattern in one item. */
export interface FoundPattern {
  readonly pattern: string;
  readonly count: number;
  /** Highest certainty among them, 0 to 100. */
  readonly certainty: number;
}

export const ITEM_STATES = ['waiting', 'read', 'unreadable', 'left-out', 'gone'] as const;
/** `gone`: a later run did not find it any more. */
export type ItemState = (typeof ITEM_STATES)[number];

/** What is known of an item after a run. */
export interface ItemKnown {
  readonly state: ItemState;
  readonly found: readonly FoundPattern[];
  /** Rank of the label it carries; null without one. */
  readonly labelRank: number | null;
  /** SHA-256 of its bytes; null where it was not read. */
  readonly digest: string | null;
  /** How far it can be opened: see {@link ITEM_REACHES}. */
  readonly reach: ItemReach;
}

/** How far an item can be opened, the least first. */
export const ITEM_REACHES = ['few', 'organisation', 'outside', 'anybody-with-link'] as const;
export type ItemReach = (typeof ITEM_REACHES)[number];

/** Findings below this certainty make no item sensitive. */
export const CERTAIN_ENOUGH = 60;

/** Whether something was found that is certain enough. */
export function isSensitive({ state, found }: Pick<ItemKnown, 'state' | 'found'>): boolean {
  return state === 'read' && found.some(({ certainty }) => certainty >= CERTAIN_ENOUGH);
}

/**
 * How much an item holds: 1 for one certain finding, 1 more for every tenfold. A count alone would let one export
 * outweigh a thousand letters; a mere yes or no would make both equal.
 */
export function holdingOf({ state, found }: Pick<ItemKnown, 'state' | 'found'>): number {
  if (state !== 'read') return 0;
  const held = found
    .filter(({ certainty }) => certainty >= CERTAIN_ENOUGH)
    .map(({ count, certainty }) => (certainty / 100) * (1 + Math.log10(Math.max(1, count))));
  return held.length === 0 ? 0 : Math.max(...held);
}
