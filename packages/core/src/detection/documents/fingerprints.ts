import { NO_LETTER, UNIT_CLASSES, WORD_UNITS, SEPARATOR } from '../../text/fold.js';

const { imul } = Math;

/**
 * Fingerprints of a text by winnowing (Schleimer, Wilkerson, Aiken: Winnowing: Local Algorithms for Document
 * Fingerprinting, SIGMOD 2003). Only letters and digits count, without case, accents, spaces and marks.
 */

/** Letters and digits in one hashed piece: shorter ones are common phrases, longer ones break at each blank of a form. */
export const GRAM = 16;
/** Hashes of which one is kept at least: whatever two texts share over GRAM + WINDOW - 1 letters is noticed for certain. */
export const WINDOW = 10;

/** Hashes kept of a text, and where each piece begins and ends in it. */
export interface Fingerprints {
  readonly hashes: Uint32Array;
  /** Units of the text, end exclusive. */
  readonly starts: Uint32Array;
  readonly ends: Uint32Array;
}

const NONE: Fingerprints = {
  hashes: new Uint32Array(0),
  starts: new Uint32Array(0),
  ends: new Uint32Array(0),
};

/**
 * Places of the hashes that winnowing keeps: of each window the smallest, of equal ones the last, each place once
 * (the paper's figure 2 and section 3).
 */
export function winnow(hashes: Readonly<ArrayLike<number>>, window: number): number[] {
  const kept: number[] = [];
  let least = -1;
  for (let end = window - 1; end < hashes.length; end += 1) {
    const first = end - window + 1;
    if (least < first) {
      least = first;
      for (let at = first + 1; at <= end; at += 1) if (hashes[at]! <= hashes[least]!) least = at;
      kept.push(least);
    } else if (hashes[end]! <= hashes[least]!) {
      least = end;
      kept.push(least);
    }
  }
  return kept;
}

/** Fingerprints of a searched text; none where it has too few letters. Linear. */
export function fingerprintsOf(units: Readonly<Uint16Array>): Fingerprints {
  const letters = new Uint16Array(units.length);
  const places = new Uint32Array(units.length);
  let length = 0;
  for (let at = 0; at < units.length; at += 1) {
    const unit = units[at]!;
    if (UNIT_CLASSES[unit] === SEPARATOR) continue;
    const letter = WORD_UNITS[unit]!;
    if (letter === NO_LETTER) continue;
    letters[length] = letter;
    places[length] = at;
    length += 1;
  }
  if (length < GRAM + WINDOW - 1) return NONE;
  const kept = winnow(gramHashes(letters.subarray(0, length)), WINDOW);
  const hashes = gramsAt(letters, kept);
  return {
    hashes,
    starts: Uint32Array.from(kept, (at) => places[at]!),
    ends: Uint32Array.from(kept, (at) => places[at + GRAM - 1]! + 1),
  };
}

const BASE = 0x01000193;

/** Hash of each piece of {@link GRAM} letters: Karp and Rabin's rolling one, mixed so that its low bits are as good. */
function gramHashes(letters: Uint16Array): Uint32Array {
  const hashes = new Uint32Array(letters.length - GRAM + 1);
  let power = 1;
  for (let index = 1; index < GRAM; index += 1) power = imul(power, BASE);
  let rolling = 0;
  for (let at = 0; at < letters.length; at += 1) {
    if (at >= GRAM) rolling = (rolling - imul(letters[at - GRAM]!, power)) | 0;
    rolling = (imul(rolling, BASE) + letters[at]!) | 0;
    if (at >= GRAM - 1) hashes[at - GRAM + 1] = mixed(rolling);
  }
  return hashes;
}

function gramsAt(letters: Uint16Array, places: readonly number[]): Uint32Array {
  return Uint32Array.from(places, (place) => {
    let rolling = 0;
    for (let at = place; at < place + GRAM; at += 1) rolling = (imul(rolling, BASE) + letters[at]!) | 0;
    return mixed(rolling);
  });
}

/** The last step of MurmurHash3 (public domain). */
function mixed(value: number): number {
  let mix = value ^ (value >>> 16);
  mix = imul(mix, 0x85ebca6b);
  mix ^= mix >>> 13;
  mix = imul(mix, 0xc2b2ae35);
  return (mix ^ (mix >>> 16)) >>> 0;
}
