import { CAPITAL_UNIT, DIGIT_UNIT, SEPARATOR, SMALL_UNIT, UNIT_CLASSES } from '../../text/fold.js';
import { NO_VALUE, valueOfUnit, type Values } from '../checks/values.js';
import type { Prepared } from '../model/prepared.js';
import {
  CAPITAL,
  DIGIT,
  MAX_SHAPE_LENGTH,
  shapeExpression,
  SMALL,
  type ShapeVariant,
} from '../model/shape.js';

/** What a run of letters and digits is made of. */
export const DIGITS = 0;
export const MIXED = 1;
export const CAPITALS = 2;

/** One way of writing, with every pattern that is written so: it is read once for all of them. */
export interface SharedShape {
  readonly variant: ShapeVariant;
  readonly owners: readonly Prepared[];
  /** Those of them that may be found with nothing else speaking for them. */
  readonly alone: readonly Prepared[];
  /** Place among all shapes. */
  readonly number: number;
  /** Units before the first run that belong to the value. */
  readonly prefix: number;
  /** Places of the first run that must hold digits, and those that must hold letters, as bits of its first 31 places. */
  readonly digits: number;
  readonly letters: number;
  /** Lengths of the second run, where one character stands before it; 0 and a large number where any will do. */
  readonly nextLeast: number;
  readonly nextMost: number;
  /** Unit behind that second run; 0 where any may stand there. */
  readonly second: number;
  /** Marks further on whose place is known: units behind the first run, and the mark, one after another. */
  readonly further: readonly number[];
  /** Classes that the unit behind the first mark may have, as a mask; 0 where any may stand there. */
  readonly behind: number;
  /** One run and nothing around it: where the run holds digits only, there is nothing left to compare. */
  readonly bareDigits: boolean;
}

const MASK_OF_CLASS = new Uint8Array(6);
MASK_OF_CLASS[DIGIT_UNIT] = DIGIT;
MASK_OF_CLASS[CAPITAL_UNIT] = CAPITAL;
MASK_OF_CLASS[SMALL_UNIT] = SMALL;

const UNIT_MASKS = Uint8Array.from(
  { length: 65_536 },
  (_unused, unit) => MASK_OF_CLASS[UNIT_CLASSES[unit] ?? 0] ?? 0,
);
const UNIT_VALUES = Uint8Array.from({ length: 65_536 }, (_unused, unit) => valueOfUnit(unit));

/**
 * Shapes by what their first run is made of, how long it is, and which character stands behind it, so that a run of
 * letters or digits meets only shapes that can begin with it.
 */
export class ShapeIndex {
  /** All shapes, by number; behind those of the patterns the bundles of them that stand for one length of digits. */
  readonly shared: readonly SharedShape[];
  private readonly buckets: (readonly SharedShape[])[];
  /** Whether a bucket of a kind, length and mark holds any shape, whatever the next run. */
  private readonly beginning: Uint8Array;
  private readonly markNumbers = new Uint8Array(65_536);
  /** Shapes of a bucket by places of digits that runs had so far. */
  private readonly byPlaces = new Map<readonly SharedShape[], Map<number, readonly SharedShape[]>>();
  private marks = 1;

  /** `standsAlone` tells whether a pattern may be found with nothing around it that speaks for it. */
  constructor(patterns: readonly Prepared[], standsAlone: (prepared: Prepared, grouped: boolean) => boolean) {
    const shared = shareShapes(patterns, standsAlone);
    const bundles = new Map<string, SharedShape>();
    for (const { variant } of shared) this.markNumber(markBehind(variant));
    const building = new Map<number, SharedShape[]>();
    for (const shape of shared) this.place(shape, building);
    this.buckets = Array.from({ length: 3 * (MAX_SHAPE_LENGTH + 1) * this.marks * NEXT_LENGTHS }, () => NONE);
    this.beginning = new Uint8Array(this.buckets.length / NEXT_LENGTHS);
    for (const [number, bucket] of building) {
      this.beginning[Math.floor(number / NEXT_LENGTHS)] = 1;
      // What begins before its first run comes first, as it does in the text.
      bucket.sort((left, right) => right.prefix - left.prefix);
      const digits = number < this.bucketOf(DIGITS + 1, 0, 0, 0);
      this.buckets[number] = digits ? bundled(bucket, { bundles, first: shared.length }) : bucket;
    }
    this.shared = [...shared, ...bundles.values()];
  }

  /** Number of the character behind a run; 0 for those that no shape asks for. */
  markNumberOf(mark: number): number {
    return this.markNumbers[mark]!;
  }

  /** Whether a run of this kind and length before this character may begin any shape at all. */
  begins(kind: number, length: number, mark: number): boolean {
    return this.beginning[(kind * (MAX_SHAPE_LENGTH + 1) + length) * this.marks + mark] === 1;
  }

  /** Shapes that a run of this kind and length may begin, by the character behind it and the length of the next run. */
  at(kind: number, length: number, mark: number, next: number): readonly SharedShape[] {
    return this.buckets[this.bucketOf(kind, length, mark, next)]!;
  }

  /** The same, of a run with letters: only shapes whose digits and letters stand where the run has them. */
  among(bucket: readonly SharedShape[], places: number): readonly SharedShape[] {
    let known = this.byPlaces.get(bucket);
    if (!known) this.byPlaces.set(bucket, (known = new Map()));
    const before = known.get(places);
    if (before) return before;
    const fitting = bucket.filter(
      ({ digits, letters }) => (places & digits) === digits && (places & letters) === 0,
    );
    if (known.size < MOST_PLACES) known.set(places, fitting.length === 0 ? NONE : fitting);
    return fitting;
  }

  private place(shape: SharedShape, building: Map<number, SharedShape[]>): void {
    const [first] = shape.variant.groups;
    if (!first) return;
    const mark = markBehind(shape.variant);
    const numbers =
      mark === 0 ? Array.from({ length: this.marks }, (_unused, number) => number) : [this.markNumber(mark)];
    for (let length = first.least; length <= first.most; length += 1) {
      for (const kind of kindsOf(first.masks.slice(0, length))) {
        for (const number of numbers) {
          for (
            let next = Math.min(shape.nextLeast, NEXT_LENGTHS - 1);
            next < NEXT_LENGTHS && next <= shape.nextMost;
            next += 1
          ) {
            const bucket = this.bucketOf(kind, length, number, next);
            const known = building.get(bucket);
            if (known) known.push(shape);
            else building.set(bucket, [shape]);
          }
        }
      }
    }
  }

  private bucketOf(kind: number, length: number, number: number, next: number): number {
    const short = next < NEXT_LENGTHS ? next : NEXT_LENGTHS - 1;
    return ((kind * (MAX_SHAPE_LENGTH + 1) + length) * this.marks + number) * NEXT_LENGTHS + short;
  }

  private markNumber(mark: number): number {
    if (mark === 0) return 0;
    const known = this.markNumbers[mark] ?? 0;
    if (known !== 0) return known;
    this.markNumbers[mark] = this.marks;
    this.marks += 1;
    return this.marks - 1;
  }
}

/**
 * Shapes that are nothing but digits are the same to a run of digits, however many lengths each allows: they are asked
 * about once, with all their owners. Only runs of digits meet them bundled; the first of them reads the values.
 */
function bundled(
  bucket: readonly SharedShape[],
  known: { readonly bundles: Map<string, SharedShape>; readonly first: number },
): readonly SharedShape[] {
  const bare = bucket.filter((shape) => shape.bareDigits && !shape.variant.grouped);
  const [first] = bare;
  if (!first || bare.length < 2) return bucket;
  const key = bare.map((shape) => shape.number).join(' ');
  let bundle = known.bundles.get(key);
  if (!bundle) {
    const owners = [...new Set(bare.flatMap((shape) => shape.owners))];
    const alone = [...new Set(bare.flatMap((shape) => shape.alone))];
    bundle = { ...first, owners, alone, number: known.first + known.bundles.size };
    known.bundles.set(key, bundle);
  }
  const replaced = bundle;
  return bucket.flatMap((shape) => (shape === first ? [replaced] : bare.includes(shape) ? [] : [shape]));
}

/** Lengths of the next run that are told apart; longer ones share the last. */
const NEXT_LENGTHS = 24;
const NONE: readonly SharedShape[] = [];
/** Orders of letters and digits kept for each bucket; a text of others costs time, never memory. */
const MOST_PLACES = 512;

function shareShapes(
  patterns: readonly Prepared[],
  standsAlone: (prepared: Prepared, grouped: boolean) => boolean,
): SharedShape[] {
  const shapes = new Map<string, { variant: ShapeVariant; owners: Prepared[] }>();
  for (const prepared of patterns) {
    for (const variant of prepared.variants) {
      // The same characters may be groups to one pattern and the only way of writing to another.
      const key = `${variant.grouped ? 'grouped ' : ''}${shapeExpression(variant)}`;
      const known = shapes.get(key);
      if (!known) shapes.set(key, { variant, owners: [prepared] });
      else if (!known.owners.includes(prepared)) known.owners.push(prepared);
    }
  }
  return [...shapes.values()].map(({ variant, owners }, number) => ({
    ...quickTests(variant),
    variant,
    owners,
    alone: owners.filter((prepared) => standsAlone(prepared, variant.grouped)),
    number,
    prefix: variant.between[0]?.length ?? 0,
  }));
}

function quickTests(
  variant: ShapeVariant,
): Pick<
  SharedShape,
  'digits' | 'letters' | 'nextLeast' | 'nextMost' | 'second' | 'further' | 'behind' | 'bareDigits'
> {
  const [first, second] = variant.groups;
  let digits = 0;
  let letters = 0;
  first?.masks.slice(0, Math.min(31, first.least)).forEach((mask, place) => {
    if (mask === DIGIT) digits |= 1 << place;
    if ((mask & DIGIT) === 0) letters |= 1 << place;
  });
  const single = second !== undefined && variant.between[1]?.length === 1;
  const bareDigits =
    variant.groups.length === 1 &&
    variant.between[0] === '' &&
    variant.after === '' &&
    !first?.exact.some((unit) => unit !== 0);
  return {
    digits,
    letters,
    nextLeast: single ? second.least : 0,
    nextMost: single ? second.most : 1_000_000,
    second: single ? unitBehindSecond(variant) : 0,
    further: furtherMarks(variant),
    behind: single ? (second.masks[0] ?? 0) : 0,
    bareDigits,
  };
}

/** Marks behind the second run and later ones, as far as all runs in front of them have one length. */
function furtherMarks({ groups, between, after }: ShapeVariant): number[] {
  const marks: number[] = [];
  let place = 0;
  for (let group = 1; group < groups.length; group += 1) {
    const { least, most } = groups[group]!;
    if (least !== most) break;
    place += between[group]!.length + least;
    const mark = group + 1 < groups.length ? between[group + 1] : after;
    if (mark) marks.push(place, mark.charCodeAt(0));
  }
  return marks;
}

/** Whether marks stand where a shape has them, behind the end of its first run. */
export function marksStand(units: Uint16Array, end: number, marks: readonly number[]): boolean {
  for (let index = 0; index < marks.length; index += 2)
    if (units[end + marks[index]!] !== marks[index + 1]) return false;
  return true;
}

/** Classes of a unit as shapes ask for them. */
export function unitMask(unit: number): number {
  return UNIT_MASKS[unit]!;
}

function unitBehindSecond(variant: ShapeVariant): number {
  const text = variant.groups.length > 2 ? variant.between[2] : variant.after;
  return text ? text.charCodeAt(0) : 0;
}

/** The character behind the first run, or 0 where any may stand there. */
function markBehind(variant: ShapeVariant): number {
  const mark = variant.groups.length > 1 ? variant.between[1] : variant.after;
  return mark ? mark.charCodeAt(0) : 0;
}

function kindsOf(masks: readonly number[]): number[] {
  const kinds: number[] = [];
  if (masks.every((mask) => mask & DIGIT)) kinds.push(DIGITS);
  if (masks.every((mask) => mask & CAPITAL)) kinds.push(CAPITALS);
  if (masks.some((mask) => mask & (CAPITAL | SMALL)) && masks.some((mask) => mask & DIGIT)) kinds.push(MIXED);
  return kinds;
}

/** Result of reading a shape at a place, reused between calls. */
export interface ShapeReading {
  readonly values: Values;
  /** Number of values read. */
  length: number;
  start: number;
  end: number;
  /** Where the caller stands. */
  line: number;
  column: number;
}

export function newReading(): ShapeReading {
  return {
    values: new Uint8Array(160).fill(NO_VALUE),
    length: 0,
    start: 0,
    end: 0,
    line: 0,
    column: 0,
  };
}

const isWordUnit = (unit: number): boolean => {
  const unitClass = UNIT_CLASSES[unit] ?? SEPARATOR;
  return unitClass >= DIGIT_UNIT && unitClass <= 4;
};

/** Reads `variant` where its first run begins at `at`; whether it stands there, ends included. */
export function readShape(
  units: Uint16Array,
  at: number,
  variant: ShapeVariant,
  reading: ShapeReading,
): boolean {
  const prefix = variant.between[0] ?? '';
  if (prefix !== '' && !standsAt(units, at - prefix.length, prefix)) return false;
  const { values } = reading;
  let place = at;
  let length = 0;
  for (let group = 0; group < variant.groups.length; group += 1) {
    const { masks, exact, least, most } = variant.groups[group]!;
    if (group > 0) {
      const between = variant.between[group]!;
      for (let index = 0; index < between.length; index += 1) {
        if (units[place] !== between.charCodeAt(index)) return false;
        place += 1;
      }
    }
    let read = 0;
    for (; read < most; read += 1) {
      const unit = units[place + read];
      if (unit === undefined) break;
      if ((UNIT_MASKS[unit]! & masks[read]!) === 0 || (exact[read] !== 0 && exact[read] !== unit)) break;
      values[length] = UNIT_VALUES[unit]!;
      length += 1;
    }
    if (read < least) return false;
    place += read;
    if (place < units.length && isWordUnit(units[place]!)) return false;
  }
  if (variant.after !== '' && !standsAt(units, place, variant.after)) return false;
  place += variant.after.length;
  const previous = reading.length;
  reading.length = length;
  reading.start = at - prefix.length;
  reading.end = place;
  if (length < previous) values.fill(NO_VALUE, length, previous);
  return true;
}

function standsAt(units: Uint16Array, at: number, text: string): boolean {
  if (at < 0) return false;
  for (let index = 0; index < text.length; index += 1)
    if (units[at + index] !== text.charCodeAt(index)) return false;
  return true;
}
