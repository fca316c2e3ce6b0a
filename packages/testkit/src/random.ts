/** A seeded source of numbers: the same seed gives the same sequence on every machine (mulberry32). */
export interface Chance {
  /** A number from 0 up to but not including 1. */
  next(): number;
  /** A whole number from `least` to `most`, both included. */
  whole(least: number, most: number): number;
  /** One of `items`; throws on an empty list. */
  pick<Item>(items: readonly Item[]): Item;
  /** True in `share` of cases. */
  happens(share: number): boolean;
}

export function chance(seed: number): Chance {
  let state = seed >>> 0;
  const next = (): number => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4_294_967_296;
  };
  const whole = (least: number, most: number): number => least + Math.floor(next() * (most - least + 1));
  return {
    next,
    whole,
    pick: (items) => {
      const item = items[whole(0, items.length - 1)];
      if (item === undefined) throw new Error('Nothing to pick from');
      return item;
    },
    happens: (share) => next() < share,
  };
}
