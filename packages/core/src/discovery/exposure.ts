import { holdingOf, isSensitive, type ItemKnown, type ItemReach } from './item.js';

/** How well a place is guarded. */
export interface PlaceGuard {
  /** How far what lies there can be opened, by the place alone. */
  readonly reach: ItemReach;
  /** Rank of its label; null without one. */
  readonly labelRank: number | null;
  /** Unmanaged machines may open it. */
  readonly unmanaged: boolean;
}

/** An item of a place with what its exposure depends on. Times are milliseconds. */
export interface ExposedItem extends ItemKnown {
  readonly changedAt: number | null;
  /** Its kind should not lie there at all. */
  readonly misplaced: boolean;
}

/** What adds to the exposure of a place, in the order in which it is shown. */
export const EXPOSURE_PARTS = [
  'open-with-link',
  'open-outside',
  'open-inside',
  'unmanaged',
  'without-label',
  'above-place',
  'old',
  'misplaced',
] as const;
export type ExposurePartCode = (typeof EXPOSURE_PARTS)[number];

/**
 * Points for each unit of holding. Whoever can open it weighs most, and each wider circle about twice the one before;
 * the rest says how easily somebody takes it for harmless. Our own judgement, no source; documented in docs/discovery.md.
 */
export const POINTS: Readonly<Record<ExposurePartCode, number>> = {
  'open-with-link': 8,
  'open-outside': 4,
  'open-inside': 2,
  unmanaged: 2,
  'without-label': 1,
  'above-place': 1,
  old: 0.5,
  misplaced: 1,
};

/** Sensitive items that nobody changed for so long are kept for no work. */
export const OLD_AFTER_DAYS = 3 * 365;

export interface ExposurePart {
  readonly code: ExposurePartCode;
  readonly items: number;
  /** What those items hold together: the sum of their holdings. */
  readonly holding: number;
  readonly points: number;
  /** `holding` times `points`. */
  readonly adds: number;
}

export interface Exposure {
  /** The sum of what the parts add. */
  readonly total: number;
  readonly parts: readonly ExposurePart[];
}

/** How far what a place holds outruns its guard, as a sum with every part. `now` in milliseconds. */
export function exposureOf(guard: PlaceGuard, items: Iterable<ExposedItem>, now: number): Exposure {
  const sums = new Map<ExposurePartCode, { items: number; holding: number }>();
  for (const item of items) {
    const holding = isSensitive(item) ? holdingOf(item) : 0;
    for (const code of partsOf(guard, item, now)) {
      const sum = sums.get(code) ?? { items: 0, holding: 0 };
      // What should not lie there counts as one, whatever it holds.
      sums.set(code, {
        items: sum.items + 1,
        holding: sum.holding + Math.max(holding, code === 'misplaced' ? 1 : 0),
      });
    }
  }
  return exposureOfSums([...sums].map(([code, sum]) => ({ code, ...sum })));
}

/** How many items a part is about, and what they hold together. */
export type ExposureSum = Pick<ExposurePart, 'code' | 'items' | 'holding'>;

/** The exposure of parts that were summed elsewhere; those without items are left out. */
export function exposureOfSums(sums: readonly ExposureSum[]): Exposure {
  const parts = EXPOSURE_PARTS.flatMap((code): ExposurePart[] => {
    const sum = sums.find((each) => each.code === code);
    if (!sum || sum.items === 0) return [];
    return [{ ...sum, points: POINTS[code], adds: sum.holding * POINTS[code] }];
  });
  return { total: parts.reduce((total, { adds }) => total + adds, 0), parts };
}

/** The parts of the exposure that an item adds to. */
export function partsOf(guard: PlaceGuard, item: ExposedItem, now: number): ExposurePartCode[] {
  const codes: ExposurePartCode[] = item.misplaced && item.state !== 'gone' ? ['misplaced'] : [];
  if (!isSensitive(item)) return codes;
  const reach = REACH_PART[item.reach];
  if (reach) codes.push(reach);
  if (guard.unmanaged) codes.push('unmanaged');
  if (item.labelRank === null) codes.push('without-label');
  else if (guard.labelRank !== null && item.labelRank > guard.labelRank) codes.push('above-place');
  if (item.changedAt !== null && now - item.changedAt > OLD_AFTER_DAYS * 86_400_000) codes.push('old');
  return codes;
}

const REACH_PART: Readonly<Record<ItemReach, ExposurePartCode | null>> = {
  few: null,
  organisation: 'open-inside',
  outside: 'open-outside',
  'anybody-with-link': 'open-with-link',
};
