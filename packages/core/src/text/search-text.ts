import type { RawOffset, SearchOffset } from '../shared/brand.js';
import { DROPPED, foldUnit } from './fold.js';

/** A text prepared for searching, with the way back to the text as read. The only place where offsets convert. */
export interface SearchText {
  /** The text as read. */
  readonly raw: string;
  /** The folded text in which patterns search. */
  readonly text: string;
  /** Offset in {@link raw} of the unit at `offset` of {@link text}; `text.length` maps to `raw.length`. */
  toRaw(offset: SearchOffset): RawOffset;
}

const ONLY_ASCII = /^[\x00-\x7f]*$/; // eslint-disable-line no-control-regex

/** Units folded at a time; keeps argument lists to `String.fromCharCode` short. */
const CHUNK = 8192;

/**
 * Folds digits of any script, full-width forms, odd spaces and dashes to ASCII and drops invisible characters.
 * Letters keep their case and their accents. Runs in time linear to the length of `raw`.
 */
export function toSearchText(raw: string): SearchText {
  if (ONLY_ASCII.test(raw)) return { raw, text: raw, toRaw: (offset) => offset as number as RawOffset };
  const origin = new Uint32Array(raw.length + 1);
  const units = new Uint16Array(raw.length);
  let length = 0;
  for (let index = 0; index < raw.length; index += 1) {
    const folded = foldUnit(raw.charCodeAt(index));
    if (folded === DROPPED) continue;
    units[length] = folded;
    origin[length] = index;
    length += 1;
  }
  origin[length] = raw.length;
  return {
    raw,
    text: unitsToString(units, length),
    toRaw: (offset) => (origin[offset] ?? raw.length) as RawOffset,
  };
}

function unitsToString(units: Uint16Array, length: number): string {
  const pieces: string[] = [];
  for (let start = 0; start < length; start += CHUNK) {
    pieces.push(String.fromCharCode(...units.subarray(start, Math.min(start + CHUNK, length))));
  }
  return pieces.join('');
}
