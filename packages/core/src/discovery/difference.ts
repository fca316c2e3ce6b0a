import { holdingOf, ITEM_REACHES, isSensitive, type ItemKnown } from './item.js';

/** What became of an item between two runs. */
export const ITEM_CHANGES = [
  'new',
  'gone',
  'moved',
  'holds-more',
  'holds-less',
  'label-raised',
  'label-lowered',
  'spread-wider',
  'narrowed',
  'unreadable-now',
  'readable-now',
] as const;
export type ItemChange = (typeof ITEM_CHANGES)[number];

/** What differs; several things can at once. Null stands for an item that there was or is not. Equal states give nothing. */
export function changesBetween(before: ItemKnown | null, after: ItemKnown | null): ItemChange[] {
  const was = before && before.state !== 'gone' ? before : null;
  const is = after && after.state !== 'gone' ? after : null;
  if (!was || !is) return is ? ['new'] : was ? ['gone'] : [];
  const changes: ItemChange[] = [];
  if (was.state === 'unreadable' && is.state === 'read') changes.push('readable-now');
  if (was.state === 'read' && is.state === 'unreadable') changes.push('unreadable-now');
  if (was.state === 'read' && is.state === 'read') {
    const [held, holds] = [holdingOf(was), holdingOf(is)];
    if (holds > held) changes.push('holds-more');
    if (holds < held) changes.push('holds-less');
  }
  const [ranked, ranks] = [was.labelRank ?? -1, is.labelRank ?? -1];
  if (ranks > ranked) changes.push('label-raised');
  if (ranks < ranked) changes.push('label-lowered');
  const [reached, reaches] = [ITEM_REACHES.indexOf(was.reach), ITEM_REACHES.indexOf(is.reach)];
  if (reaches > reached) changes.push('spread-wider');
  if (reaches < reached) changes.push('narrowed');
  return changes;
}

/** One item at one path, before and after. */
export interface ItemStep {
  readonly id: string;
  readonly before: ItemKnown | null;
  readonly after: ItemKnown | null;
}

/** Several runs as one: the first state before, the last state after. Steps are given in the order of their runs. */
export function composed(steps: readonly ItemStep[]): ItemStep[] {
  const whole = new Map<string, ItemStep>();
  for (const step of steps) {
    const known = whole.get(step.id);
    whole.set(step.id, known ? { ...known, after: step.after } : step);
  }
  return [...whole.values()];
}

export interface ItemDifference {
  readonly id: string;
  readonly changes: readonly ItemChange[];
  /** Of a moved item: the id it had before. */
  readonly from: string | null;
  readonly sensitive: boolean;
}

/**
 * What differs, item by item. An item that is gone and one that is new with the same bytes are one that moved; where
 * several have the same bytes, each old one is used up once, in the order given.
 */
export function differencesOf(steps: readonly ItemStep[]): ItemDifference[] {
  const all = steps.map((step) => ({ step, changes: changesBetween(step.before, step.after) }));
  const left = new Map<string, ItemStep[]>();
  for (const { step, changes } of all) {
    const digest = step.before?.digest;
    if (changes[0] === 'gone' && digest) left.set(digest, [...(left.get(digest) ?? []), step]);
  }
  const moved = new Map<string, ItemStep>();
  for (const { step, changes } of all) {
    const digest = step.after?.digest;
    const from = changes[0] === 'new' && digest ? left.get(digest)?.shift() : undefined;
    if (from) moved.set(step.id, from);
  }
  const usedUp = new Set([...moved.values()].map(({ id }) => id));
  return all.flatMap(({ step, changes }): ItemDifference[] => {
    if (usedUp.has(step.id)) return [];
    const from = moved.get(step.id);
    const what = from ? (['moved', ...changesBetween(from.before, step.after)] as const) : changes;
    if (what.length === 0) return [];
    const known = step.after?.state === 'gone' ? step.before : (step.after ?? step.before);
    return [
      {
        id: step.id,
        changes: [...what],
        from: from?.id ?? null,
        sensitive: known ? isSensitive(known) : false,
      },
    ];
  });
}
