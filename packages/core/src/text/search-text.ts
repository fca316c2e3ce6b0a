import type { RawOffset, SearchOffset } from '../shared/brand.js';
import { DROPPED, FOLDED_UNITS } from './fold.js';
import { readEntity } from './entities.js';
import { unitsOf, unitsToString } from './units.js';

/** A text prepared for searching, with the way back to the text as read. The only place where offsets convert. */
export interface SearchText {
  /** The text as read. */
  readonly raw: string;
  /** The folded text in which patterns search. */
  readonly text: string;
  /** The same as UTF-16 units. */
  readonly units: Uint16Array;
  /** Offset in {@link raw} of the unit at `offset` of {@link text}; `text.length` maps to `raw.length`. */
  toRaw(offset: SearchOffset): RawOffset;
  /** Offset in {@link raw} right behind the unit before `offset`: the end of what a unit was written with. */
  toRawEnd(offset: SearchOffset): RawOffset;
}

const AMPERSAND = 38;

/**
 * Places where the folded text and the text as read part ways. Between two of them units stand one for one, so that
 * an ordinary text needs none and memory grows with what is odd, not with the length.
 */
class OffsetMap {
  private at = new Uint32Array(64);
  private raw = new Uint32Array(64);
  private wide = new Uint32Array(64);
  private count = 0;

  /** From `offset` on, units come from `raw`; the unit at `offset` itself was written with `wide` units. */
  add(offset: number, raw: number, wide: number): void {
    if (this.count === this.at.length) this.grow();
    this.at[this.count] = offset;
    this.raw[this.count] = raw;
    this.wide[this.count] = wide;
    this.count += 1;
  }

  toRaw(offset: number): number {
    const index = this.before(offset);
    return index < 0 ? offset : this.rawOf(index, offset);
  }

  toRawEnd(offset: number): number {
    if (offset === 0) return 0;
    const index = this.before(offset - 1);
    if (index < 0) return offset;
    return this.at[index] === offset - 1
      ? (this.raw[index] ?? 0) + (this.wide[index] ?? 1)
      : this.rawOf(index, offset - 1) + 1;
  }

  private rawOf(index: number, offset: number): number {
    const steps = offset - (this.at[index] ?? 0);
    return (this.raw[index] ?? 0) + (steps === 0 ? 0 : (this.wide[index] ?? 1) + steps - 1);
  }

  private before(offset: number): number {
    let low = -1;
    let high = this.count - 1;
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if ((this.at[middle] ?? 0) <= offset) low = middle;
      else high = middle - 1;
    }
    return low;
  }

  private grow(): void {
    const twice = (old: Uint32Array<ArrayBuffer>): Uint32Array<ArrayBuffer> => {
      const next = new Uint32Array(old.length * 2);
      next.set(old);
      return next;
    };
    this.at = twice(this.at);
    this.raw = twice(this.raw);
    this.wide = twice(this.wide);
  }
}

/**
 * Folds digits of any script, full-width forms, look-alike letters, odd spaces and dashes to ASCII, reads character
 * references of HTML, and drops invisible characters. Letters keep their case and their accents. Linear in `raw`. With
 * `room` the units stand there, and the result is good until the room is used for another text.
 */
export function toSearchText(raw: string, room?: Uint16Array): SearchText {
  const { units: written, ascii } = unitsOf(raw, room);
  const plain = ascii && !raw.includes('\0') && !raw.includes('\x7f');
  const odd = firstOdd(raw, written, 0, plain);
  if (odd === written.length) return plainText(raw, written);
  const map = new OffsetMap();
  const { units, changed } = foldFrom({ raw, written, plain }, odd, map);
  const { length } = units;
  return {
    raw,
    text: changed ? unitsToString(units) : raw,
    units,
    toRaw: (offset) => (offset >= length ? raw.length : map.toRaw(offset)) as RawOffset,
    toRawEnd: (offset) => map.toRawEnd(Math.min(offset, length)) as RawOffset,
  };
}

/** A text in which every unit stands for itself. */
function plainText(raw: string, units: Uint16Array): SearchText {
  return {
    raw,
    text: raw,
    units,
    toRaw: (offset) => offset as number as RawOffset,
    toRawEnd: (offset) => offset as number as RawOffset,
  };
}

/** Units that may mean something else than they are: everything beyond ASCII, the ampersand and the zero unit. */
const ODD = Uint8Array.from({ length: 65_536 }, (_unused, unit) =>
  unit > 126 || unit === AMPERSAND || unit === 0 ? 1 : 0,
);

/** The same as an expression: the engine runs over ordinary text several times faster than a loop does. */
const ODD_UNIT = /[\0&\x7f-\uffff]/g;
/** Units looked at one by one before the engine is asked: odd units often stand together. */
const NEAR_ODD = 12;

/** First odd unit at or behind `from`; the length of the text where there is none. `plain` texts have only ampersands. */
function firstOdd(raw: string, units: Uint16Array, from: number, plain: boolean): number {
  if (plain) {
    const at = raw.indexOf('&', from);
    return at === -1 ? units.length : at;
  }
  const near = Math.min(units.length, from + NEAR_ODD);
  for (let at = from; at < near; at += 1) if (ODD[units[at]!] !== 0) return at;
  ODD_UNIT.lastIndex = near;
  return ODD_UNIT.test(raw) ? ODD_UNIT.lastIndex - 1 : units.length;
}

/** Folds in place: what is dropped or shortened only moves units to the front. */
function foldFrom(
  { raw, written, plain }: { raw: string; written: Uint16Array; plain: boolean },
  odd: number,
  map: OffsetMap,
): { units: Uint16Array; changed: boolean } {
  let length = odd;
  let at = odd;
  let expected = odd;
  let changed = false;
  while (at < written.length) {
    const code = written[at]!;
    if (ODD[code] === 0) {
      const end = firstOdd(raw, written, at + 1, plain);
      if (at !== expected) map.add(length, at, 1);
      if (at !== length) written.copyWithin(length, at, end);
      length += end - at;
      at = end;
      expected = at;
      continue;
    }
    const [folded, wide] = foldOdd(raw, at, code, written[at + 1] ?? 0);
    if (folded !== code || wide > 1) changed = true;
    if (folded !== DROPPED) {
      if (at !== expected || wide > 1) map.add(length, at, wide);
      written[length++] = folded;
      expected = at + wide;
    }
    at += wide;
  }
  return { units: length === written.length ? written : written.slice(0, length), changed };
}

/** What an odd unit is searched as, and how many units it was written with. */
function foldOdd(raw: string, at: number, code: number, next: number): readonly [number, number] {
  if (code === AMPERSAND) {
    const entity = readEntity(raw, at);
    return entity ? [FOLDED_UNITS[entity.unit] ?? 0, entity.length] : PLAIN_AMPERSAND;
  }
  if (code === 0xd835) {
    const folded = mathematical(next);
    return folded === code ? [code, 1] : [folded, 2];
  }
  return [FOLDED_UNITS[code] ?? code, 1];
}

const PLAIN_AMPERSAND = [AMPERSAND, 1] as const;

/** Mathematical digits and capitals are pairs of units that print as plain ones (U+1D400 to U+1D433, U+1D7CE to U+1D7FF). */
function mathematical(low: number): number {
  if (low >= 0xdfce && low <= 0xdfff) return 48 + ((low - 0xdfce) % 10);
  if (low >= 0xdc00 && low <= 0xdc19) return 65 + low - 0xdc00;
  return 0xd835;
}
