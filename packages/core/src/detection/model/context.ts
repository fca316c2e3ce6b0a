import { CAPITAL_UNIT, DIGIT_UNIT, SEPARATOR, SMALL_UNIT, UNIT_CLASSES } from '../../text/fold.js';
import {
  clearShareAtDistance,
  CLOSE_BEHIND,
  type Evidence,
  neighbourWeight,
  shareAtDistance,
} from './evidence.js';
import { type Look, lookEvidence } from '../looks/look.js';
import type { ReadyPattern } from './pattern.js';
import type { Prepared } from './prepared.js';

/** What a word is to a pattern. */
export const NO_ROLE = 0;
export const NAMING = 1;
export const GENERAL = 2;
export const SUPPORTING = 3;
export const COUNTER = 4;

/** A word that counts, and how much of its weight is left. */
export interface NearWord {
  readonly word: string;
  readonly distance: number;
  readonly share: number;
  /** Only signs of assignment stand between the word and the value: the name of a field. */
  readonly field: boolean;
  /** Units of the word, end exclusive. */
  readonly from: number;
  readonly to: number;
}

/** The nearest word of each role. */
export interface NearWords {
  naming: NearWord | null;
  general: NearWord | null;
  supporting: NearWord | null;
  counter: NearWord | null;
}

/** What stands around a value. */
export interface Context {
  readonly naming: NearWord | null;
  readonly general: NearWord | null;
  readonly supporting: NearWord | null;
  readonly counter: NearWord | null;
  /** The heading of its column, and what it is to the pattern. */
  readonly heading: { readonly text: string; readonly role: number } | null;
  readonly inside: 'longer-code' | 'address' | null;
  /** Other values of the same shape in its column or text, and how many of them pass. */
  readonly around: { readonly shaped: number; readonly passing: number };
  readonly broken: boolean;
}

/** Log-odds when the digits are part of a path, a longer code or a decimal number. */
export const INSIDE_LONGER_CODE = -2.5;
/** Log-odds when they stand in the address of a page or file. */
export const INSIDE_ADDRESS = -3;
/** Log-odds when a line break stands inside the value. */
export const BROKEN_OVER_LINES = -1.2;
/** A heading of its subject is worth this much more than a word beside it. */
const SUBJECT_HEADING = 1.2;
/** What is added when the word is the name of the field. */
const FIELD_NAME = 0.5;
/** How far back the start of an address is looked for. */
const LONGEST_ADDRESS = 200;

/** A value that passed its checks. */
export interface Found {
  readonly prepared: Prepared;
  readonly grouped: boolean;
  readonly canonical: string;
  /** Whether the check that most of these numbers pass holds; null where there is none. */
  readonly usual: boolean | null;
  /** What its look says; null where it says nothing. */
  readonly look: Look | null;
}

/** Everything that speaks for and against a value, what it is first and what stands around it after. */
export function evidenceOf(
  found: Found,
  context: Omit<Context, 'around' | 'broken'>,
  { around, broken }: Pick<Context, 'around' | 'broken'>,
): Evidence[] {
  const { pattern, accidentalShare, tests, fixed } = found.prepared;
  const { weights } = pattern;
  const evidence: Evidence[] = fixed.slice();
  if (found.usual !== null)
    evidence.push({
      code: 'usual-check',
      weight: found.usual ? weights.usualCheck : -weights.usualCheck / 2,
    });
  if (found.look !== null) evidence.push(lookEvidence(found.look));
  if (found.grouped && weights.grouping !== 0) evidence.push({ code: 'grouping', weight: weights.grouping });
  addWordEvidence(evidence, found.prepared, context);
  const neighbours = neighbourWeight(around.shaped, around.passing, accidentalShare);
  if (neighbours !== 0)
    evidence.push({ code: 'neighbours', weight: neighbours, detail: String(around.shaped) });
  if (tests.size > 0 && tests.has(found.canonical))
    evidence.push({ code: 'test-value', weight: weights.testValue });
  if (context.inside === 'longer-code')
    evidence.push({ code: 'inside-longer-code', weight: INSIDE_LONGER_CODE });
  if (context.inside === 'address') evidence.push({ code: 'inside-address', weight: INSIDE_ADDRESS });
  if (broken) evidence.push({ code: 'broken-over-lines', weight: BROKEN_OVER_LINES });
  return evidence;
}

/** What words and headings come to, in log-odds: the sum of what {@link addWordEvidence} adds, without making it. */
export function wordSum({ weights }: ReadyPattern, role: number, near: NearWords | null): number {
  let sum = 0;
  if (role === NAMING) sum += weights.heading;
  else if (near?.naming) sum += weightNear(weights.namingWord, near.naming);
  else if (role === GENERAL) sum += weights.generalName;
  else if (near?.general) sum += weightNear(weights.generalName, near.general);
  if (role === SUPPORTING) sum += weights.supportingWord + SUBJECT_HEADING;
  else if (near?.supporting) sum += weightNear(weights.supportingWord, near.supporting);
  if (role === COUNTER) sum += weights.counterWord;
  else if (near?.counter) sum += weights.counterWord * near.counter.share;
  return sum;
}

const weightNear = (weight: number, { share, field }: NearWord): number =>
  weight * share + (field ? FIELD_NAME : 0);

function addWordEvidence(
  evidence: Evidence[],
  prepared: Prepared,
  { heading, naming, general, supporting, counter }: Omit<Context, 'around' | 'broken'>,
): void {
  const { weights } = prepared.pattern;
  const headed = heading?.role ?? NO_ROLE;
  if (heading && headed === NAMING)
    evidence.push({
      code: shares(prepared, heading.text) ? 'general-name' : 'column-heading',
      weight: weights.heading,
      detail: heading.text,
    });
  if (heading && headed === GENERAL && !naming)
    evidence.push({ code: 'general-name', weight: weights.generalName, detail: heading.text });
  if (heading && headed === SUPPORTING)
    evidence.push({
      code: 'column-heading',
      weight: weights.supportingWord + SUBJECT_HEADING,
      detail: heading.text,
    });
  if (naming && headed !== NAMING) {
    const found = near('naming-word', weights.namingWord, naming);
    evidence.push(shares(prepared, naming.word) ? { ...found, code: 'general-name' } : found);
  }
  if (!naming && general && headed !== NAMING && headed !== GENERAL)
    evidence.push({ ...near('naming-word', weights.generalName, general), code: 'general-name' });
  if (supporting && headed !== SUPPORTING)
    evidence.push(near('supporting-word', weights.supportingWord, supporting));
  if (heading && headed === COUNTER) {
    evidence.push({ code: 'counter-word', weight: weights.counterWord, detail: heading.text, distance: 0 });
  } else if (counter) {
    const { word: detail, share, distance } = counter;
    evidence.push({ code: 'counter-word', weight: weights.counterWord * share, detail, distance });
  }
}

/** Whether a name or heading is one that numbers of other countries have too. */
const shares = ({ generalNames }: Prepared, name: string): boolean => generalNames.has(name.toLowerCase());

function near(code: 'naming-word' | 'supporting-word', weight: number, word: NearWord): Evidence {
  const { distance, word: detail, field } = word;
  return {
    code: field ? 'field-name' : code,
    weight: weightNear(weight, word),
    detail,
    distance,
  };
}

/** The nearer of two words, or the only one. */
export function better(one: NearWord | null, other: NearWord): NearWord {
  if (!one) return other;
  if (other.share !== one.share) return other.share > one.share ? other : one;
  if (other.distance !== one.distance) return other.distance < one.distance ? other : one;
  // Two names for the same place: the longer one, and of equal ones the first by letter, so that any order gives one answer.
  const longer = other.to - other.from - (one.to - one.from);
  return longer > 0 || (longer === 0 && other.word < one.word) ? other : one;
}

/**
 * The words around a value without a counter word that is not about it: one that is part of the value's own name, as
 * the reference of a taxpayer reference, or that stands farther off than the name.
 */
export function withoutOtherCounter(near: NearWords): NearWords {
  const { naming, general, counter } = near;
  const name = naming ?? general;
  const supporting = naming === null && isWithin(near.supporting, general) ? null : near.supporting;
  const farther = counter !== null && name !== null && name.distance < counter.distance;
  const other =
    farther || isWithin(counter, naming) || isWithin(counter, general) || isWithin(counter, supporting);
  return { naming, general, supporting, counter: other ? null : counter };
}

const isWithin = (inner: NearWord | null, outer: NearWord | null): boolean =>
  inner !== null && outer !== null && inner.from >= outer.from && inner.to <= outer.to;

/**
 * How a word at `from` to `to` stands to a value at `start` to `end`; undefined beyond the window, within the value,
 * and for a counter word that has a value of its own or stands in another sentence.
 */
export function nearWord(
  units: Uint16Array,
  word: { readonly text: string; readonly from: number; readonly to: number; readonly role: number },
  value: { readonly start: number; readonly end: number },
): NearWord | undefined {
  const behind = word.from >= value.end;
  if (!behind && word.to > value.start) return undefined;
  const distance = behind ? word.from - value.end : value.start - word.to;
  const share = shareOf(units, word, value, distance);
  if (share === 0) return undefined;
  return {
    word: word.text,
    distance,
    share,
    field: !behind && isAssignment(units, word.to, value.start),
    from: word.from,
    to: word.to,
  };
}

function shareOf(
  units: Uint16Array,
  { from, to, role }: { readonly from: number; readonly to: number; readonly role: number },
  { start, end }: { readonly start: number; readonly end: number },
  distance: number,
): number {
  const behind = from >= end;
  const share = shareAtDistance(distance, behind);
  if (role === COUNTER) {
    const elsewhere =
      valueBegins(units, to, behind ? units.length : start) ||
      (behind ? endsSentence(units, end, from) : endsSentence(units, to, start));
    return elsewhere ? 0 : share;
  }
  if ((role !== NAMING && role !== GENERAL) || share === 1) return share;
  if (behind) {
    const its =
      distance <= CLOSE_BEHIND && onlyWords(units, end, from) && !valueBegins(units, to, units.length);
    return its ? 1 : share;
  }
  const clear = clearShareAtDistance(distance);
  return clear > share && onlyWords(units, to, start) ? clear : share;
}

/** Signs between a word and a value of its own: `ticket #993812`, `request: 4821`. */
const MOST_SIGNS = 3;
const SPACE = 32;
/** Ends of sentences: full stop, exclamation and question mark. */
const STOPS = new Set([46, 33, 63]);
/** What keeps apart what stands on both sides: line breaks, tabs, semicolons, bars, and the signs of programs. */
const DIVIDES = new Set([9, 10, 13, 59, 124, 60, 61, 62, 91, 93, 95, 123, 125]);

/** Whether a number begins right behind a word at `at`, before `limit`. */
function valueBegins(units: Uint16Array, at: number, limit: number): boolean {
  for (let next = at; next <= at + MOST_SIGNS && next < limit; next += 1) {
    if (isDigit(units, next)) return true;
    if (isAlphanumeric(units, next)) return false;
  }
  return false;
}

/** Whether a sentence or a line ends between two places. */
function endsSentence(units: Uint16Array, from: number, to: number): boolean {
  for (let at = from; at < to; at += 1) {
    const unit = units[at] ?? SPACE;
    if (unit === 10 || (STOPS.has(unit) && (units[at + 1] ?? SPACE) === SPACE)) return true;
  }
  return false;
}

/** Whether words of one sentence alone stand between two places: nothing that could be another value. */
function onlyWords(units: Uint16Array, from: number, to: number): boolean {
  for (let at = from; at < to; at += 1) {
    const unit = units[at] ?? SPACE;
    if (DIVIDES.has(unit) || isDigit(units, at)) return false;
    if (STOPS.has(unit) && (units[at + 1] ?? SPACE) === SPACE) return false;
  }
  return true;
}

/** Longest row of signs between the name of a field and its value: `": "`, `>`, ` = '`. */
const LONGEST_ASSIGNMENT = 5;

function isAssignment(units: Uint16Array, from: number, to: number): boolean {
  if (to - from > LONGEST_ASSIGNMENT) return false;
  let assigns = false;
  for (let at = from; at < to; at += 1) {
    const unit = units[at] ?? 0;
    if (unit === 58 || unit === 61 || unit === 62) assigns = true;
    else if (unit !== 32 && unit !== 34 && unit !== 39) return false;
  }
  return assigns;
}

const classAt = (units: Uint16Array, at: number): number => UNIT_CLASSES[units[at] ?? 32] ?? SEPARATOR;
const isAlphanumeric = (units: Uint16Array, at: number): boolean => {
  const unitClass = at < 0 || at >= units.length ? SEPARATOR : classAt(units, at);
  return unitClass === DIGIT_UNIT || unitClass === CAPITAL_UNIT || unitClass === SMALL_UNIT;
};
const isDigit = (units: Uint16Array, at: number): boolean =>
  at >= 0 && at < units.length && classAt(units, at) === DIGIT_UNIT;
/** `-`, `_`, `/`, `@`, `+` before a value, the same without `+` behind it. */
const JOINS_BEFORE = new Set([45, 95, 47, 64, 43]);
const JOINS_AFTER = new Set([45, 95, 47, 64]);

/** Whether a value is part of something longer: an address, a path, a code with hyphens, a decimal number. */
export function insideOf(units: Uint16Array, start: number, end: number): 'longer-code' | 'address' | null {
  const before = units[start - 1] ?? 32;
  const after = units[end] ?? 32;
  const joined =
    (JOINS_BEFORE.has(before) && isAlphanumeric(units, start - 2)) ||
    ((before === 46 || before === 58) && isDigit(units, start - 2)) ||
    (JOINS_AFTER.has(after) && isAlphanumeric(units, end + 1)) ||
    (after === 46 && isDigit(units, end + 1));
  if (inAddress(units, start)) return 'address';
  return joined ? 'longer-code' : null;
}

/** Whether the unbroken run of characters before a value holds `://`. */
function inAddress(units: Uint16Array, start: number): boolean {
  for (let at = start - 1; at > start - LONGEST_ADDRESS && at >= 2; at -= 1) {
    const unit = units[at] ?? 32;
    if (unit <= 32 || unit === 34 || unit === 60 || unit === 62) return false;
    if (unit === 47 && units[at - 1] === 47 && units[at - 2] === 58) return true;
  }
  return false;
}
