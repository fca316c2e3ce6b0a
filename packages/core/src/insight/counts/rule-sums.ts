import type { DeskColumns } from './desk-columns.js';
import { PAIR } from './pairs.js';

/** Most pairs of a rule and a person that stand in one array: 64 MB of times. */
const MOST_IN_ARRAY = 2 ** 23;
const MINUTE_MS = 60_000;
/** How long the next movement of the same person against the same rule counts as a repeat after an advice. */
export const REPEAT_MS = 7 * 86_400_000;

/** What is known of each pair of a rule and a person: at a place in arrays, by their codes where there are not too many. */
export class Pairs {
  /** One more than the highest code of a person where places go by codes: rule times this, and the person. 0 where they do not. */
  readonly width: number;
  /** How many people each rule concerned. */
  readonly people: Uint32Array;
  /** When the last match was, where that was an advice; 0 where not. */
  private readonly last: Float64Array;
  private readonly concerned: Uint8Array;
  private readonly advising: Uint8Array;
  private readonly places = new Map<number, number>();
  private readonly ruleAt: number[] = [0];

  /** Advices whose week is over or that were followed by the same person tripping the same rule within it, and the latter, by rule. */
  readonly known: Uint32Array;
  readonly repeated: Uint32Array;

  /** For `most` matches at most; the week of an advice from before `weekAgo` is over. */
  constructor(
    { rules, people, most }: { readonly rules: number; readonly people: number; readonly most: number },
    private readonly weekAgo: number,
  ) {
    const byCodes = rules * people <= MOST_IN_ARRAY;
    this.width = byCodes ? people : 0;
    this.people = new Uint32Array(rules);
    this.known = new Uint32Array(rules);
    this.repeated = new Uint32Array(rules);
    this.advising = new Uint8Array(rules);
    this.concerned = new Uint8Array(byCodes ? rules * people : most + 1);
    this.last = new Float64Array(this.concerned.length);
  }

  /** The place of a pair where places do not go by codes; 0 is no place. */
  placeOf(rule: number, person: number): number {
    const key = rule * PAIR + person;
    const known = this.places.get(key) ?? this.ruleAt.length;
    if (known === this.ruleAt.length) {
      this.places.set(key, known);
      this.ruleAt.push(rule);
    }
    return known;
  }

  /** The rule concerned the person of a pair. */
  concerns(pair: number, rule: number): void {
    if (this.concerned[pair] === 1) return;
    this.concerned[pair] = 1;
    this.people[rule] = (this.people[rule] ?? 0) + 1;
  }

  /** The next movement of a pair, in the order of times. Most rules never advise, so that nothing is looked up for them. */
  follow(pair: number, rule: number, when: number, isAdvice: boolean): void {
    const before = this.advising[rule] === 1 ? (this.last[pair] ?? 0) : 0;
    if (before === 0 && !isAdvice) return;
    if (before > 0) {
      const isAgain = when <= before + REPEAT_MS;
      if (isAgain) this.repeated[rule] = (this.repeated[rule] ?? 0) + 1;
      if (isAgain || before < this.weekAgo) this.known[rule] = (this.known[rule] ?? 0) + 1;
    }
    this.advising[rule] = 1;
    this.last[pair] = isAdvice ? when : 0;
  }

  /** Counts the advices that nothing followed and whose week is over. */
  end(): void {
    const note = (place: number, rule: number): void => {
      const advice = this.last[place] ?? 0;
      if (advice > 0 && advice < this.weekAgo) this.known[rule] = (this.known[rule] ?? 0) + 1;
    };
    if (this.width === 0) for (const [place, rule] of this.ruleAt.entries()) note(place, rule);
    else
      for (const [rule, advises] of this.advising.entries())
        if (advises === 1)
          for (let place = rule * this.width; place < (rule + 1) * this.width; place += 1) note(place, rule);
  }
}

/** Whole minutes from movements to their decisions, rule by rule. */
export class Minutes {
  private readonly rules: Uint32Array;
  private readonly values: Int32Array;
  private length = 0;
  private readonly time: ArrayLike<number>;
  private readonly decided: ArrayLike<number>;

  /** For `most` notes at most. */
  constructor({ incidents }: DeskColumns, most: number) {
    this.time = incidents.column('time').data;
    this.decided = incidents.column('decided').data;
    this.rules = new Uint32Array(most);
    this.values = new Int32Array(most);
  }

  /** Notes an incident where it is decided. */
  note(rule: number, row: number): void {
    const decided = this.decided[row] ?? Number.NaN;
    if (Number.isNaN(decided)) return;
    this.rules[this.length] = rule;
    this.values[this.length] = Math.trunc((decided - (this.time[row] ?? 0)) / MINUTE_MS);
    this.length += 1;
  }

  /** The median of each rule; the mean of the two in the middle where their number is even. */
  medians(): Map<number, number> {
    const ends: number[] = [];
    for (let at = 0; at < this.length; at += 1) {
      const rule = this.rules[at] ?? 0;
      ends[rule] = (ends[rule] ?? 0) + 1;
    }
    const places: number[] = [];
    let end = 0;
    for (const [rule, count = 0] of ends.entries()) {
      places[rule] = end;
      end += count;
    }
    const grouped = new Int32Array(this.length);
    for (let at = 0; at < this.length; at += 1) {
      const place = places[this.rules[at] ?? 0] ?? 0;
      grouped[place] = this.values[at] ?? 0;
      places[this.rules[at] ?? 0] = place + 1;
    }
    return new Map(
      ends.flatMap((count, rule) => {
        const last = places[rule] ?? 0;
        return count ? [[rule, middleOf(grouped.subarray(last - count, last))] as const] : [];
      }),
    );
  }
}

function middleOf(values: Int32Array): number {
  const middle = values.length >>> 1;
  const high = select(values, middle);
  if (values.length % 2 === 1) return high;
  let low = -Infinity;
  for (let at = 0; at < middle; at += 1) low = Math.max(low, values[at] ?? 0);
  return (low + high) / 2;
}

/** The value that stands at a place once they are sorted; smaller ones stand before it afterwards (Hoare's quickselect, 1961). */
function select(values: Int32Array, place: number): number {
  let [low, high] = [0, values.length - 1];
  while (low < high) {
    const pivot = values[(low + high) >>> 1] ?? 0;
    let [left, right] = [low, high];
    while (left <= right) {
      while ((values[left] ?? 0) < pivot) left += 1;
      while ((values[right] ?? 0) > pivot) right -= 1;
      if (left > right) break;
      const swapped = values[left] ?? 0;
      values[left] = values[right] ?? 0;
      values[right] = swapped;
      left += 1;
      right -= 1;
    }
    if (place <= right) high = right;
    else if (place >= left) low = left;
    else break;
  }
  return values[place] ?? 0;
}
