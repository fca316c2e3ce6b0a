/** The parts of the web's encoders that are used here; every engine this runs on has them. */
declare class TextDecoder {
  constructor(label: string, options: { readonly ignoreBOM: boolean });
  decode(bytes: Uint8Array): string;
}
declare class TextEncoder {
  encodeInto(text: string, bytes: Uint8Array): { readonly read: number; readonly written: number };
}

const encoder = new TextEncoder();
/** Units encoded at a time: three bytes each at most, so that long texts take little more room than they need. */
const CHUNK = 1 << 16;
const bytes = new Uint8Array(CHUNK * 3);

/**
 * UTF-16 units of a string. Asking a string for one unit after another takes five times as long as letting the engine
 * write bytes and reading those. Linear; a lone surrogate becomes the replacement character. Tells
 * too whether every unit is ASCII. Where `room` is long enough the units are written there.
 */
export function unitsOf(text: string, room?: Uint16Array): { units: Uint16Array; ascii: boolean } {
  let ascii = true;
  const units =
    room && text.length <= room.length ? room.subarray(0, text.length) : new Uint16Array(text.length);
  let length = 0;
  let from = 0;
  while (from < text.length) {
    let to = Math.min(text.length, from + CHUNK);
    // Both halves of a pair go together.
    if (to < text.length && (text.charCodeAt(to - 1) & 0xfc00) === 0xd800) to -= 1;
    if (to === from) to += 1;
    const { written } = encoder.encodeInto(to - from === text.length ? text : text.slice(from, to), bytes);
    if (written === to - from) units.set(bytes.subarray(0, written), length);
    else {
      decodeInto(units, length, written);
      ascii = false;
    }
    length += to - from;
    from = to;
  }
  return { units, ascii };
}

/** Reads UTF-8 that the engine wrote, and so is well formed. */
function decodeInto(units: Uint16Array, start: number, written: number): void {
  let length = start;
  let at = 0;
  while (at < written) {
    const first = bytes[at]!;
    if (first < 0x80) {
      units[length++] = first;
      at += 1;
    } else if (first < 0xe0) {
      units[length++] = ((first & 31) << 6) | (bytes[at + 1]! & 63);
      at += 2;
    } else if (first < 0xf0) {
      units[length++] = ((first & 15) << 12) | ((bytes[at + 1]! & 63) << 6) | (bytes[at + 2]! & 63);
      at += 3;
    } else {
      const code =
        (((first & 7) << 18) |
          ((bytes[at + 1]! & 63) << 12) |
          ((bytes[at + 2]! & 63) << 6) |
          (bytes[at + 3]! & 63)) -
        0x10000;
      units[length++] = 0xd800 + (code >> 10);
      units[length++] = 0xdc00 + (code & 0x3ff);
      at += 4;
    }
  }
}

/** UTF-16 units as a string of the same length; a lone surrogate becomes the replacement character, one for one. */
export function unitsToString(units: Uint16Array): string {
  const raw = new Uint8Array(units.buffer, units.byteOffset, units.byteLength);
  return new TextDecoder('utf-16le', { ignoreBOM: true }).decode(raw);
}
