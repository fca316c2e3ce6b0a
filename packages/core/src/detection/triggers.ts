import type { SearchText } from '../text/search-text.js';
import type { Prepared } from './prepared.js';
import { CAPITAL_UNIT, DIGIT_UNIT, SMALL_UNIT, UNIT_CLASSES } from '../text/fold.js';
import type { Trigger, TriggerRecognition } from './pattern.js';
import { canonicalOf } from './prepared.js';
import { MAX_VALUES, valuesOf } from './checks/values.js';

/** A value that a trigger led to. */
export interface TriggerHit {
  readonly prepared: Prepared;
  /** Units of the value, end exclusive. */
  readonly start: number;
  readonly end: number;
  readonly canonical: string;
  readonly passes: boolean;
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
}

const NONE: readonly RunTrigger[] = [];
/** Letters of the shortest word that triggers: the name of a month. */
const SHORTEST_WORD = 3;
/** Longest run that triggers a pattern: the number on a magnetic stripe. */
const LONGEST_TRIGGER = 19;
const RUN_PLACES = (LONGEST_TRIGGER + 1) * 2;
const placeOf = (mark: number, length: number, digits: boolean): number =>
  mark * RUN_PLACES + length * 2 + (digits ? 1 : 0);
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
  return { prepared, digits, least, most, nextClass, literal, never, nextLeast, nextMost, nextThen };
}

/** Place of a capital in a text that begins with a small letter, of which every text is full; else its beginning. */
function rarestOf(text: string): number {
  return /^[a-z]/.test(text) ? Math.max(0, text.search(/[A-Z]/)) : 0;
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
  return (
    trigger.never === '' ||
    run.start === 0 ||
    !trigger.never.includes(String.fromCharCode(units[run.start - 1]!))
  );
}

/** Patterns without fixed groups, by what leads to them. Expressions run at the places that triggers name, nowhere else. */
export class Triggers {
  private readonly readers = new Map<Prepared, Reader>();
  private readonly texts: { readonly prepared: Prepared; readonly text: string; readonly rare: number }[] =
    [];
  /** Triggers by the unit behind them, their length, and whether they hold digits only. */
  private readonly runs: (readonly RunTrigger[])[] = Array.from({ length: 256 * RUN_PLACES }, () => NONE);

  constructor(patterns: readonly Prepared[]) {
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
      });
      const { trigger } = recognition;
      if (trigger.by === 'text')
        for (const text of trigger.texts) this.texts.push({ prepared, text, rare: rarestOf(text) });
      if (trigger.by === 'run') {
        for (const then of trigger.then) {
          this.addRun(then.charCodeAt(0), runTrigger(prepared, trigger, then[1]));
        }
      }
    }
  }

  /** Triggers that a run of this length in front of `mark` may be; most are none. */
  before(mark: number, length: number, digits: boolean): readonly RunTrigger[] {
    if (mark > 255 || length > LONGEST_TRIGGER) return NONE;
    return this.runs[placeOf(mark, length, digits)]!;
  }

  private addRun(mark: number, trigger: RunTrigger): void {
    for (let length = trigger.least; length <= Math.min(trigger.most, LONGEST_TRIGGER); length += 1) {
      for (const digits of trigger.digits ? [true] : [true, false]) {
        const place = placeOf(mark, length, digits);
        this.runs[place] = [...this.runs[place]!, trigger];
      }
    }
  }

  /** Every value that a text trigger leads to. */
  findTexts(text: string, units: Uint16Array): TriggerHit[] {
    const hits: TriggerHit[] = [];
    for (const reader of this.readers.values()) reader.tried = -1;
    for (const { prepared, text: wanted, rare } of this.texts) {
      // The engine leaps to the first character of what it looks for: a rare one takes it further.
      const leap = rare > 0 ? wanted[rare]! : wanted;
      for (let place = text.indexOf(leap); place !== -1; place = text.indexOf(leap, place + 1)) {
        const at = place - rare;
        if (rare > 0 && (at < 0 || !text.startsWith(wanted, at))) continue;
        const hit = this.readAt({ text, units }, prepared, at);
        if (hit) hits.push(hit);
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
    return match ? hitOf(prepared, reader.recognition, match) : undefined;
  }
}

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
  const canonical = canonicalOf(recognition, written);
  let passes = true;
  if (prepared.pattern.steps.length > 0) {
    const values = valuesOf(canonical.slice(0, MAX_VALUES));
    passes = prepared.check.passes(values, values.length);
  }
  return { prepared, start, end: start + written.length, canonical, passes };
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
