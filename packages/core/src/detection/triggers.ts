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

interface RunTrigger {
  readonly prepared: Prepared;
  readonly digits: boolean;
  readonly least: number;
  readonly most: number;
  /** Class that the unit behind the mark must have, or -1 for any; `literal` where it must be one unit. */
  readonly nextClass: number;
  readonly literal: number;
  readonly never: string;
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
const NOBODY: readonly Prepared[] = [];
const ANY = -1;

function runTrigger(
  prepared: Prepared,
  trigger: Extract<Trigger, { by: 'run' }>,
  next: string | undefined,
): RunTrigger {
  const { digits, least, most, never } = trigger;
  const nextClass = next === '9' ? DIGIT_UNIT : next === 'a' ? SMALL_UNIT : ANY;
  const literal = next === undefined || nextClass !== ANY ? ANY : next.charCodeAt(0);
  return { prepared, digits, least, most, nextClass, literal, never };
}

function fits(
  trigger: RunTrigger,
  units: Uint16Array,
  run: { start: number; end: number; digits: boolean },
): boolean {
  const length = run.end - run.start;
  if (length < trigger.least || length > trigger.most || (trigger.digits && !run.digits)) return false;
  const next = units[run.end + 1] ?? 32;
  if (trigger.literal !== ANY && next !== trigger.literal) return false;
  if (trigger.nextClass === DIGIT_UNIT && UNIT_CLASSES[next] !== DIGIT_UNIT) return false;
  if (trigger.nextClass === SMALL_UNIT && (UNIT_CLASSES[next] ?? 0) < CAPITAL_UNIT) return false;
  return (
    trigger.never === '' ||
    run.start === 0 ||
    !trigger.never.includes(String.fromCharCode(units[run.start - 1]!))
  );
}

/** Patterns without fixed groups, by what leads to them. Expressions run at the places that triggers name, nowhere else. */
export class Triggers {
  private readonly readers = new Map<Prepared, Reader>();
  private readonly texts: { readonly prepared: Prepared; readonly text: string }[] = [];
  private readonly runs: (readonly RunTrigger[])[] = Array.from({ length: 256 }, () => NONE);

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
      if (trigger.by === 'text') for (const text of trigger.texts) this.texts.push({ prepared, text });
      if (trigger.by === 'run') {
        for (const then of trigger.then) {
          const code = then.charCodeAt(0);
          this.runs[code] = [...(this.runs[code] ?? NONE), runTrigger(prepared, trigger, then[1])];
        }
      }
    }
  }

  /** Patterns whose trigger is the run from `start` to `end`. */
  behindRun(units: Uint16Array, start: number, end: number, digits: boolean): readonly Prepared[] {
    const mark = units[end] ?? 0;
    const triggers = mark < 256 ? this.runs[mark]! : NONE;
    if (triggers.length === 0) return NOBODY;
    const found: Prepared[] = [];
    for (let index = 0; index < triggers.length; index += 1) {
      if (fits(triggers[index]!, units, { start, end, digits })) found.push(triggers[index]!.prepared);
    }
    return found;
  }

  /** Every value that a text trigger leads to, in the order of the text. */
  findTexts(text: string): TriggerHit[] {
    const hits: TriggerHit[] = [];
    for (const reader of this.readers.values()) reader.tried = -1;
    for (const { prepared, text: wanted } of this.texts) {
      for (let at = text.indexOf(wanted); at !== -1; at = text.indexOf(wanted, at + 1)) {
        const hit = this.readAt(text, prepared, at);
        if (hit) hits.push(hit);
      }
    }
    return hits.sort((left, right) => left.start - right.start);
  }

  /** The value whose trigger stands at `at`, or nothing where its expression does not hold. */
  readAt(text: string, prepared: Prepared, at: number): TriggerHit | undefined {
    const reader = this.readers.get(prepared);
    if (!reader) return undefined;
    const start = startOf(text, at, reader);
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

function startOf(text: string, at: number, reader: Reader): number {
  if (!reader.before) return at;
  let start = at;
  const least = Math.max(0, at - reader.recognition.longestBefore);
  while (start > least && reader.before[text.charCodeAt(start - 1)] === 1) start -= 1;
  return start;
}

function unitsIn(inside: string): Uint8Array {
  const expression = new RegExp(`[${inside}]`);
  return Uint8Array.from({ length: 1280 }, (_unused, unit) =>
    expression.test(String.fromCharCode(unit)) ? 1 : 0,
  );
}
