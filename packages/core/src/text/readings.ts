import { CAPITAL_UNIT, DIGIT_UNIT, SEPARATOR, SMALL_UNIT, UNIT_CLASSES } from './fold.js';
import type { SearchText } from './search-text.js';
import type { Tables } from './tables.js';
import { unitsToString } from './units.js';

/**
 * A stretch of the text read in another way: a number whose line broke, quoted-printable or base 64 that was left over.
 * `starts` and `ends` give, for each unit of `text`, where it was written, in units of the searched text.
 */
export interface Reading {
  readonly text: string;
  readonly starts: Uint32Array;
  readonly ends: Uint32Array;
  /** Offsets of `text` across which a value must stand to count; empty where every value counts. */
  readonly joints: readonly number[];
}

/** Line breaks looked at for numbers that go on behind them; beyond it the text is a dump of numbers. */
export const MAX_JOINTS = 20_000;
/** Units kept on either side of a line break: the longest value and the words around it. */
const AROUND_JOINT = 100;
/** Encoded text decoded in one item, in units; beyond it attachments are read as files. */
export const MAX_DECODED = 4_000_000;
/** A shorter row of characters of base 64 is a word or a key, not a text. */
const SHORTEST_ENCODED = 40;

const HYPHEN = 45;
const SLASH = 47;
const DOT = 46;

interface Room {
  readonly units: Uint16Array;
  readonly starts: Uint32Array;
  readonly ends: Uint32Array;
}

const roomFor = (size: number): Room => ({
  units: new Uint16Array(size),
  starts: new Uint32Array(size),
  ends: new Uint32Array(size),
});
/** Room kept for the next reading, in units: one reading is built at a time, and nearly all are shorter. */
const KEPT_ROOM = 1 << 16;
const keptRoom = roomFor(KEPT_ROOM);
/** Decoded bytes and where each was written, likewise. */
const keptBytes = new Uint8Array(KEPT_ROOM);
const keptOrigins = new Uint32Array(KEPT_ROOM);

class ReadingBuilder {
  private units = keptRoom.units;
  private starts = keptRoom.starts;
  private ends = keptRoom.ends;
  length = 0;

  /** One unit that was written from `start` to `end`. */
  add(unit: number, start: number, end: number): void {
    if (this.length === this.units.length) this.grow(1);
    this.units[this.length] = unit;
    this.starts[this.length] = start;
    this.ends[this.length] = end;
    this.length += 1;
  }

  /** Units from `from` to `to` as they stand. */
  addStretch(units: Uint16Array, from: number, to: number): void {
    if (this.length + to - from > this.units.length) this.grow(to - from);
    let { length } = this;
    for (let at = from; at < to; at += 1) {
      this.units[length] = units[at]!;
      this.starts[length] = at;
      this.ends[length] = at + 1;
      length += 1;
    }
    this.length = length;
  }

  addText(text: string, start: number, end: number): void {
    for (let index = 0; index < text.length; index += 1) this.add(text.charCodeAt(index), start, end);
  }

  build(joints: readonly number[] = []): Reading {
    const { length } = this;
    return {
      text: unitsToString(this.units.subarray(0, length)),
      starts: this.starts.slice(0, length),
      ends: this.ends.slice(0, length),
      joints,
    };
  }

  private grow(more: number): void {
    const room = roomFor(Math.max(this.length * 2, this.length + more));
    room.units.set(this.units);
    room.starts.set(this.starts);
    room.ends.set(this.ends);
    ({ units: this.units, starts: this.starts, ends: this.ends } = room);
  }
}

const isValueUnit = (unit: number): boolean => {
  const unitClass = UNIT_CLASSES[unit] ?? 0;
  return unitClass === DIGIT_UNIT || unitClass === CAPITAL_UNIT;
};
const isDigitNear = (units: Uint16Array, at: number, step: number): boolean => {
  for (let index = 0; index < 6; index += 1) {
    const unitClass = UNIT_CLASSES[units[at + index * step] ?? 32] ?? 0;
    if (unitClass === DIGIT_UNIT) return true;
    if (unitClass === 0) return false;
  }
  return false;
};

/** Numbers that a line break cuts, joined: directly, and with the space that the break may stand for. */
export function joinedLines(search: SearchText, tables: Tables): Reading | undefined {
  const { units } = search;
  const builder = new ReadingBuilder();
  const joints: number[] = [];
  for (let line = 0; line + 1 < tables.lines && joints.length < MAX_JOINTS; line += 1) {
    const before = units[tables.lineStarts[line + 1]! - 2] ?? 0;
    if (UNIT_CLASSES[before]! >= SMALL_UNIT) continue;
    // In a table a line break ends the row.
    if (tables.blockOf[line] !== 0 || tables.blockOf[line + 1] !== 0) continue;
    const end = tables.lineEnd(line);
    let left = end;
    while (left > 0 && (units[left - 1] === 32 || units[left - 1] === 9) && end - left < 4) left -= 1;
    const last = units[left - 1] ?? 0;
    const mark = last === HYPHEN || last === SLASH || last === DOT;
    if (
      left === 0 ||
      !(mark ? isDigitNear(units, left - 2, -1) : isValueUnit(last) && isDigitNear(units, left - 1, -1))
    )
      continue;
    const nextEnd = tables.lineEnd(line + 1);
    let right = tables.lineStarts[line + 1] ?? 0;
    while (right < nextEnd && (units[right] === 32 || units[right] === 9 || units[right] === 62)) right += 1;
    if (right >= nextEnd || !isValueUnit(units[right] ?? 0) || !isDigitNear(units, right, 1)) continue;
    const from = Math.max(tables.lineStarts[line] ?? 0, left - AROUND_JOINT);
    const to = Math.min(nextEnd, right + AROUND_JOINT);
    for (const between of mark ? [''] : ['', ' ']) {
      for (let at = from; at < left; at += 1) builder.add(units[at] ?? 0, at, at + 1);
      joints.push(builder.length);
      builder.addText(between, left, right);
      for (let at = right; at < to; at += 1) builder.add(units[at] ?? 0, at, at + 1);
      builder.addText('\n\n', to, to);
    }
  }
  return joints.length === 0 ? undefined : builder.build(joints);
}

const EQUALS = 61;
/** Attributes of HTML that say how a page looks: what is assigned to them is no value that somebody looks for. */
const LOOKS = new Set(
  'align alink alt background bgcolor border bordercolor cellpadding cellspacing charset class clear color cols colspan coords face height href hspace lang language leftmargin link marginheight marginwidth maxlength media method name noshade nowrap rel rows rowspan scrolling shape size src start style summary tabindex target text topmargin type usemap valign vlink vspace width'.split(
    ' ',
  ),
);
const LONGEST_ATTRIBUTE = 12;

/**
 * Lines with quoted-printable left in them, decoded with one line of surroundings on either side (RFC 2045 section
 * 6.7). Only lines where decoding changes what can be found: where a word or number is cut or a character of one is
 * encoded; a space at the end of a line and the sign of assignment in the markup of a page read the same either way.
 */
export function quotedPrintable(search: SearchText, tables: Tables): Reading | undefined {
  const { text, units } = search;
  const { lineStarts, lines } = tables;
  const builder = new ReadingBuilder();
  let line = 0;
  let from = -1;
  let last = -1;
  for (let at = text.indexOf('='); at !== -1; at = text.indexOf('=', at + 1)) {
    if (!matters(units, at)) continue;
    while (line + 1 < lines && lineStarts[line + 1]! <= at) line += 1;
    if (line > last + 1 && last >= 0) {
      decodeLines(search, tables, { from, to: last }, builder);
      if (builder.length > MAX_DECODED) return builder.build();
      from = -1;
    }
    if (from < 0) from = Math.max(last + 1, line - 1);
    last = Math.min(lines - 1, line + 1);
    // The rest of the line belongs to the same stretch.
    at = Math.max(at, tables.lineEnd(line) - 2);
  }
  if (last >= 0) decodeLines(search, tables, { from, to: last }, builder);
  return builder.length === 0 ? undefined : builder.build();
}

function decodeLines(
  { text, units }: SearchText,
  tables: Tables,
  { from, to }: { from: number; to: number },
  builder: ReadingBuilder,
): void {
  const end = tables.lineEnd(to);
  decodeQuoted({ text, units }, tables.lineStarts[from] ?? 0, end, builder);
  builder.addText('\n\n', end, end);
}

/** Whether a sign of equality begins something encoded that reads otherwise when decoded. */
function matters(units: Uint16Array, at: number): boolean {
  const first = units[at + 1] ?? 0;
  if (first === 10 || first === 13) return cuts(units, at, first === 13 ? at + 3 : at + 2);
  const second = units[at + 2] ?? 0;
  if (!isHexadecimal(first) || !isHexadecimal(second)) return false;
  const behind = units[at + 3] ?? 10;
  const code = hexadecimal(first) * 16 + hexadecimal(second);
  if (code > 126 || isWordUnit(code)) return true;
  // What is encoded ends a word either way; only what follows is glued to the code.
  return isWordUnit(behind) && !(code === EQUALS && isLook(units, at));
}

/** Whether a line that goes on in the next one is cut within a word or a number. */
function cuts(units: Uint16Array, at: number, next: number): boolean {
  let left = at - 1;
  const right = units[next] ?? 32;
  if (isWordUnit(units[left] ?? 32)) return isWordUnit(right) || right === HYPHEN || right === DOT;
  while (left > 0 && at - left < 3 && !isWordUnit(units[left]!)) left -= 1;
  return isValueUnit(units[left] ?? 32) && isValueUnit(right);
}

/** Whether the word that ends at `end` is an attribute of {@link LOOKS}. */
function isLook(units: Uint16Array, end: number): boolean {
  let start = end;
  while (start > 0 && end - start <= LONGEST_ATTRIBUTE && isWordUnit(units[start - 1]!)) start -= 1;
  return LOOKS.has(String.fromCharCode(...units.subarray(start, end)).toLowerCase());
}

const isWordUnit = (unit: number): boolean => UNIT_CLASSES[unit] !== SEPARATOR;
const isHexadecimal = (unit: number): boolean => (unit >= 48 && unit <= 57) || (unit >= 65 && unit <= 70);
const hexadecimal = (unit: number): number => (unit <= 57 ? unit - 48 : unit - 55);

function decodeQuoted(
  { text, units }: Pick<SearchText, 'text' | 'units'>,
  from: number,
  to: number,
  builder: ReadingBuilder,
): void {
  let at = from;
  while (at < to) {
    const found = text.indexOf('=', at);
    const next = found === -1 || found > to ? to : found;
    builder.addStretch(units, at, next);
    if (next === to) return;
    at = decodeSign(units, next, builder);
  }
}

/** Reads what a sign of equality begins; the offset behind it. */
function decodeSign(units: Uint16Array, at: number, builder: ReadingBuilder): number {
  let end = at + 1;
  while (end - at < 5 && (units[end] === 32 || units[end] === 9)) end += 1;
  if (units[end] === 13) end += 1;
  if (units[end] === 10) return end + 1;
  const bytes: number[] = [];
  end = at;
  while (units[end] === EQUALS && bytes.length < 4) {
    const first = units[end + 1] ?? 0;
    const second = units[end + 2] ?? 0;
    if (!isHexadecimal(first) || !isHexadecimal(second)) break;
    bytes.push(hexadecimal(first) * 16 + hexadecimal(second));
    end += 3;
    if (bytes[0]! < 128) break;
  }
  if (bytes.length === 0) {
    builder.add(EQUALS, at, at + 1);
    return at + 1;
  }
  const [character, used] = characterOf(bytes, 0);
  builder.addText(character, at, at + used * 3);
  return at + used * 3;
}

/** One character of UTF-8, or of ISO 8859-1 where the bytes are none; how many bytes it took. */
function characterOf(bytes: readonly number[] | Uint8Array, at: number): [string, number] {
  const first = bytes[at] ?? 0;
  const size = first >= 0xf0 ? 4 : first >= 0xe0 ? 3 : first >= 0xc2 ? 2 : 1;
  if (size === 1) return [String.fromCharCode(first), 1];
  let code = first & (0xff >> (size + 1));
  for (let index = 1; index < size; index += 1) {
    const next = bytes[at + index] ?? 0;
    if (next >> 6 !== 2) return [String.fromCharCode(first), 1];
    code = code * 64 + (next & 63);
  }
  return code > 0x10ffff ? ['\ufffd', 1] : [String.fromCodePoint(code), size];
}

const BASE64 = new Int16Array(128).fill(-1);
[...'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/'].forEach((unit, value) => {
  BASE64[unit.charCodeAt(0)] = value;
});
const isEncoded = (unit: number): boolean => unit < 128 && (BASE64[unit] ?? -1) >= 0;

/** Text in base 64 that was left over, decoded (RFC 4648); `runs` are starts and ends of long runs of letters and digits. */
export function leftoverBase64(search: SearchText, runs: readonly number[]): Reading | undefined {
  const { units } = search;
  const builder = new ReadingBuilder();
  let done = 0;
  for (let index = 0; index < runs.length && builder.length < MAX_DECODED; index += 2) {
    const run = runs[index] ?? 0;
    if (run < done) continue;
    let from = run;
    while (from > done && isEncoded(units[from - 1] ?? 0)) from -= 1;
    let to = runs[index + 1] ?? run;
    for (;;) {
      while (to < units.length && isEncoded(units[to] ?? 0)) to += 1;
      const next = units[to] === 13 ? to + 2 : to + 1;
      // A full line goes on in the next one.
      if (to - from < 60 || (units[to] !== 10 && units[to] !== 13) || !isEncoded(units[next] ?? 0)) break;
      to = next;
    }
    done = to;
    if (to - from >= SHORTEST_ENCODED) decodeBase64(units, from, to, builder);
  }
  return builder.length === 0 ? undefined : builder.build();
}

/** Bytes looked at before the rest is decoded: pictures and archives show at once that they are no text. */
const PROBE = 48;

function decodeBase64(units: Uint16Array, from: number, to: number, builder: ReadingBuilder): void {
  const most = Math.ceil(((to - from) * 3) / 4) + 3;
  const bytes = most <= KEPT_ROOM ? keptBytes : new Uint8Array(most);
  const origins = most <= KEPT_ROOM ? keptOrigins : new Uint32Array(most);
  let length = 0;
  let bits = 0;
  let held = 0;
  for (let at = from; at < to; at += 1) {
    const value = BASE64[units[at] ?? 0] ?? -1;
    if (value < 0) continue;
    bits = (bits << 6) | value;
    held += 6;
    if (held < 8) continue;
    held -= 8;
    bytes[length] = (bits >> held) & 255;
    origins[length] = at;
    length += 1;
    bits &= (1 << held) - 1;
    if (length === PROBE && !looksLikeText(bytes, length)) return;
  }
  if (!looksLikeText(bytes, Math.min(length, PROBE * 8))) return;
  // A character that the end cuts is none, whatever stood here before.
  bytes.fill(0, length, length + 3);
  for (let at = 0; at < length;) {
    const [character, used] = characterOf(bytes, at);
    builder.addText(
      character,
      Math.max(from, (origins[at] ?? from) - 1),
      (origins[at + used - 1] ?? to - 1) + 1,
    );
    at += used;
  }
  builder.addText('\n\n', to, to);
}

function looksLikeText(bytes: Uint8Array, length: number): boolean {
  let odd = 0;
  for (let index = 0; index < length; index += 1) {
    const byte = bytes[index] ?? 0;
    if (byte === 0) return false;
    if (byte < 32 && byte !== 9 && byte !== 10 && byte !== 13) odd += 1;
    if (byte > 126) odd += 0.4;
  }
  return odd / Math.max(1, length) < 0.12;
}
