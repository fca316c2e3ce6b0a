import type { SearchText } from '../../text/search-text.js';
import type { Prepared } from './prepared.js';
import { CAPITAL_UNIT, DIGIT_UNIT, SEPARATOR, SMALL_UNIT, UNIT_CLASSES } from '../../text/fold.js';
import type { Trigger, TriggerRecognition } from './pattern.js';
import { canonicalOf } from './prepared.js';
import { type Look, lookAt } from '../looks/look.js';
import { MAX_VALUES, valuesOf } from '../checks/values.js';

/** A value that a trigger led to. */
export interface TriggerHit {
  readonly prepared: Prepared;
  /** Units of the value, end exclusive. */
  readonly start: number;
  readonly end: number;
  readonly canonical: string;
  readonly passes: boolean;
  /** What its look says; null where it says nothing. */
  readonly look: Look | null;
}

export interface RunTrigger {
  readonly prepared: Prepared;
  readonly digits: boolean;
  readonly least: number;
  readonly most: number;
  /** Class that the unit behind the mark must have, or -1 for any; `literal` where it must be one unit. */
  readonly nextClass: number;
  readonly literal: number;
  readonly never: string;
  /** Length of the next run, and units that may stand behind it; empty for any. */
  readonly nextLeast: number;
  readonly nextMost: number;
  readonly nextThen: string;
  /** Marks that must follow, this one counted; 0 for none. */
  readonly marks: number;
  readonly orDoubled: boolean;
}

/** A run of letters and digits, what stands behind it, and the run after that. */
export interface RunPlace {
  start: number;
  end: number;
  /** Length of the run that begins one unit behind it. */
  next: number;
  /** Unit behind that run; 0 at the end of the text. */
  second: number;
}

interface Reader {
  readonly recognition: TriggerRecognition;
  readonly expression: RegExp;
  /** Whether a unit may stand in front of the trigger, for units below 1280. */
  readonly before: Uint8Array | null;
  /** Where the expression was tried last: several triggers of one value lead to the same start. */
  tried: number;
  /** End of the last value: what begins before it is part of it and need not be judged. */
  ended: number;
}

const NONE: readonly RunTrigger[] = [];
/** Letters of the shortest word that triggers: the name of a month. */
const SHORTEST_WORD = 3;
/** Longest run that triggers a pattern: the number on a magnetic stripe. */
const LONGEST_TRIGGER = 19;
const RUN_PLACES = (LONGEST_TRIGGER + 1) * 2;
/** What may stand behind the mark, as far as triggers tell it apart: a digit, a letter, anything else. */
const BEHIND = 3;
const BEHIND_OF = Uint8Array.from(UNIT_CLASSES, (unitClass) =>
  unitClass === DIGIT_UNIT ? 0 : unitClass >= CAPITAL_UNIT ? 1 : 2,
);
const placeOf = (mark: number, length: number, digits: boolean, behind: number): number =>
  (mark * RUN_PLACES + length * 2 + (digits ? 1 : 0)) * BEHIND + behind;
const ANY = -1;

const ANY_RUN = { least: 0, most: Number.MAX_SAFE_INTEGER, then: '' };

function runTrigger(
  prepared: Prepared,
  trigger: Extract<Trigger, { by: 'run' }>,
  behind: string | undefined,
): RunTrigger {
  const { digits, least, most, never } = trigger;
  const { next: { least: nextLeast, most: nextMost, then: nextThen } = ANY_RUN } = trigger;
  const nextClass = behind === '9' ? DIGIT_UNIT : behind === 'a' ? SMALL_UNIT : ANY;
  const literal = behind === undefined || nextClass !== ANY ? ANY : behind.charCodeAt(0);
  const { least: marks, orDoubled } = trigger.marks ?? { least: 0, orDoubled: false };
  const next = { nextClass, literal, nextLeast, nextMost, nextThen };
  return { prepared, digits, least, most, never, ...next, marks, orDoubled };
}

function placesBehind({ nextClass, literal }: RunTrigger): readonly number[] {
  if (literal !== ANY) return [BEHIND_OF[literal]!];
  if (nextClass === ANY) return [0, 1, 2];
  return [nextClass === DIGIT_UNIT ? 0 : 1];
}

/** A text that triggers, and the place in it of the part that the engine leaps to. */
interface TextTrigger {
  readonly prepared: Prepared;
  readonly text: string;
  readonly rare: number;
}

function textTriggers(patterns: readonly Prepared[]): ReadonlyMap<string, readonly TextTrigger[]> {
  const wanted = patterns.flatMap((prepared) => {
    const { recognition } = prepared;
    if (recognition.by !== 'trigger' || recognition.trigger.by !== 'text') return [];
    return recognition.trigger.texts.map((text) => ({ prepared, text }));
  });
  const all = wanted.map(({ text }) => text);
  const byLeap = new Map<string, TextTrigger[]>();
  for (const { prepared, text } of wanted) {
    const leap = leapOf(text, all);
    byLeap.set(leap, [...(byLeap.get(leap) ?? []), { prepared, text, rare: text.indexOf(leap) }]);
  }
  return byLeap;
}

/**
 * What the engine leaps to on its way to a text: another text inside it, which is looked for anyway; a capital where it
 * begins with a small letter, of which every text is full; else the text.
 */
function leapOf(text: string, all: readonly string[]): string {
  const inside = all.find((other) => other !== text && text.includes(other));
  if (inside !== undefined) return inside;
  return (/^[a-z]/.test(text) && /[A-Z]/.exec(text)?.[0]) || text;
}

/** Whether a run is the trigger that its length and the unit behind it make it. */
export function fits(trigger: RunTrigger, units: Uint16Array, run: RunPlace): boolean {
  if (run.next < trigger.nextLeast || run.next > trigger.nextMost) return false;
  const next = units[run.end + 1] ?? 32;
  if (trigger.literal !== ANY && next !== trigger.literal) return false;
  if (trigger.nextClass === DIGIT_UNIT && UNIT_CLASSES[next] !== DIGIT_UNIT) return false;
  if (
    trigger.nextClass === SMALL_UNIT &&
    (run.next < SHORTEST_WORD || (UNIT_CLASSES[next] ?? 0) < CAPITAL_UNIT)
  )
    return false;
  if (trigger.nextThen !== '' && !trigger.nextThen.includes(String.fromCharCode(run.second))) return false;
  if (trigger.marks > 0 && !marksFollow(trigger, units, run.end)) return false;
  return (
    trigger.never === '' ||
    run.start === 0 ||
    !trigger.never.includes(String.fromCharCode(units[run.start - 1]!))
  );
}

/** Whether the mark at `at` stands often enough, each time behind a run of letters and digits as long as the next may be. */
function marksFollow(trigger: RunTrigger, units: Uint16Array, at: number): boolean {
  const mark = units[at];
  let place = at;
  for (let seen = 1; seen < trigger.marks; seen += 1) {
    if (trigger.orDoubled && units[place + 1] === mark) return true;
    const from = place + 1;
    place = from;
    while (place - from <= trigger.nextMost && (UNIT_CLASSES[units[place] ?? 32] ?? SEPARATOR) !== SEPARATOR)
      place += 1;
    if (units[place] !== mark || place - from < trigger.nextLeast) return false;
  }
  return true;
}

/** Patterns without fixed groups, by what leads to them. Expressions run at the places that triggers name, nowhere else. */
export class Triggers {
  private readonly readers = new Map<Prepared, Reader>();
  /** Texts that trigger, by what the engine leaps to: texts with one rare part are looked for once. */
  private readonly texts: ReadonlyMap<string, readonly TextTrigger[]>;
  /** Triggers by the unit behind them, their length, whether they hold digits only, and what comes after that unit. */
  private readonly runs: (readonly RunTrigger[])[] = Array.from(
    { length: 256 * RUN_PLACES * BEHIND },
    () => NONE,
  );

  constructor(patterns: readonly Prepared[]) {
    this.texts = textTriggers(patterns);
    for (const prepared of patterns) {
      const { recognition, expression } = prepared;
      if (recognition.by !== 'trigger' || expression === null) continue;
      this.readers.set(prepared, {
        recognition,
        expression: new RegExp(
          expression,
          `${recognition.group > 0 ? 'd' : ''}${recognition.anyCase ? 'i' : ''}y`,
        ),
        before: recognition.before === '' ? null : unitsIn(recognition.before),
        tried: -1,
        ended: 0,
      });
      const { trigger } = recognition;
      if (trigger.by === 'run') {
        for (const then of trigger.then) {
          this.addRun(then.charCodeAt(0), runTrigger(prepared, trigger, then[1]));
        }
      }
    }
  }

  /** Triggers that a run of this length in front of `mark` and the unit after it may be; most are none. */
  before(mark: number, length: number, digits: boolean, after: number): readonly RunTrigger[] {
    if (mark > 255 || length > LONGEST_TRIGGER) return NONE;
    return this.runs[placeOf(mark, length, digits, BEHIND_OF[after]!)]!;
  }

  private addRun(mark: number, trigger: RunTrigger): void {
    for (let length = trigger.least; length <= Math.min(trigger.most, LONGEST_TRIGGER); length += 1) {
      for (const digits of trigger.digits ? [true] : [true, false]) {
        for (const behind of placesBehind(trigger)) {
          const place = placeOf(mark, length, digits, behind);
          this.runs[place] = [...this.runs[place]!, trigger];
        }
      }
    }
  }

  /** Every value that a text trigger leads to. */
  findTexts(text: string, units: Uint16Array): TriggerHit[] {
    const hits: TriggerHit[] = [];
    for (const reader of this.readers.values()) {
      reader.tried = -1;
      reader.ended = 0;
    }
    for (const [leap, wanted] of this.texts) {
      for (let place = text.indexOf(leap); place !== -1; place = text.indexOf(leap, place + 1)) {
        for (const { prepared, text: whole, rare } of wanted) {
          const at = place - rare;
          if (whole !== leap && (at < 0 || !text.startsWith(whole, at))) continue;
          const hit = this.readAt({ text, units }, prepared, at);
          if (hit) hits.push(hit);
        }
      }
    }
    return hits;
  }

  /** The value whose trigger stands at `at`, or nothing where its expression does not hold. */
  readAt(
    { text, units }: Pick<SearchText, 'text' | 'units'>,
    prepared: Prepared,
    at: number,
  ): TriggerHit | undefined {
    const reader = this.readers.get(prepared);
    if (!reader) return undefined;
    const start = startOf(units, at, reader);
    if (start === reader.tried) return undefined;
    reader.tried = start;
    reader.expression.lastIndex = start;
    const match = reader.expression.exec(text);
    if (!match || startOfValue(match, reader.recognition.group) < reader.ended) return undefined;
    const hit = hitOf(prepared, reader.recognition, match);
    if (hit?.passes) reader.ended = hit.end;
    return hit;
  }
}

const startOfValue = (match: RegExpExecArray, group: number): number =>
  group === 0 ? match.index : (match.indices?.[group]?.[0] ?? match.index);

/** What a match of a pattern's expression says; with indices where its value is a group. */
export function hitOf(
  prepared: Prepared,
  recognition: TriggerRecognition,
  match: RegExpExecArray,
): TriggerHit | undefined {
  const { group } = recognition;
  const written = match[group];
  // Asking for the places of groups makes the engine match twice, so that the whole match does without.
  const start = group === 0 ? match.index : match.indices?.[group]?.[0];
  if (start === undefined || written === undefined) return undefined;
  const look = lookAt(recognition.looks, { text: match.input, start, written });
  if (look === 'refused') return undefined;
  const canonical = canonicalOf(recognition, written);
  let passes = true;
  if (prepared.pattern.steps.length > 0) {
    const values = valuesOf(canonical.slice(0, MAX_VALUES));
    passes = prepared.check.passes(values, values.length);
  }
  return { prepared, start, end: start + written.length, canonical, passes, look };
}

function startOf(units: Uint16Array, at: number, reader: Reader): number {
  if (!reader.before) return at;
  let start = at;
  const least = Math.max(0, at - reader.recognition.longestBefore);
  while (start > least && reader.before[units[start - 1]!] === 1) start -= 1;
  return start;
}

function unitsIn(inside: string): Uint8Array {
  const expression = new RegExp(`[${inside}]`);
  return Uint8Array.from({ length: 1280 }, (_unused, unit) =>
    expression.test(String.fromCharCode(unit)) ? 1 : 0,
  );
}
