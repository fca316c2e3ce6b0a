import { FOLDED_UNITS } from '../../text/fold.js';
import { type CompiledCheck, compileChecks } from '../checks/compile.js';
import { MOST_FOR_LOOK } from '../looks/look.js';
import { valuesOf } from '../checks/values.js';
import type { Check } from '../checks/weighted.js';
import type { Evidence } from './evidence.js';
import type { PatternWeights, ReadyPattern, TriggerRecognition } from './pattern.js';
import { type ShapeVariant, shapeVariants } from './shape.js';

/** A ready pattern with everything compiled that both scanners need. */
export interface Prepared {
  readonly pattern: ReadyPattern;
  /** Place among the patterns of its scanner. */
  readonly index: number;
  readonly check: CompiledCheck;
  /** A check that most of these numbers pass; null where there is none. */
  readonly usual: Check | null;
  /** Share of accidental values of this shape that pass all steps, 0 to 1. */
  readonly accidentalShare: number;
  readonly variants: readonly ShapeVariant[];
  /** Expression of a pattern with a trigger, as source; look-alike letters in it folded as in the searched text. */
  readonly expression: string | null;
  readonly recognition: ReadyPattern['recognition'];
  readonly tests: ReadonlySet<string>;
  /** Names that other countries' numbers have too, in small letters. */
  readonly generalNames: ReadonlySet<string>;
  /** The most that the look of a value adds, in log-odds. */
  readonly mostForLook: number;
  /** Whether whole cells under its name are values. */
  readonly cells: boolean;
  /** Evidence that every value has which passed: what it is, whatever stands around it. */
  readonly fixed: readonly Evidence[];
}

/** Compiles one pattern. Throws an Error for a shape or expression that cannot be read: ready patterns are tested for it. */
export function prepare(pattern: ReadyPattern, index: number): Prepared {
  const { recognition } = pattern;
  const steps = compileChecks(pattern.steps);
  const check = recognition.by === 'shapes' ? { ...steps, passes: notOneSign(steps.passes) } : steps;
  return {
    pattern,
    index,
    check,
    usual: pattern.usualSteps.length === 0 ? null : compileChecks(pattern.usualSteps).passes,
    accidentalShare: check.digitsShare * check.structureShare,
    variants: recognition.by === 'shapes' ? shapeVariants(recognition.shapes, recognition.separators) : [],
    expression: recognition.by === 'trigger' ? folded(recognition.expression) : null,
    recognition,
    tests: new Set(pattern.testValues),
    generalNames: new Set(pattern.generalNames.map((name) => name.replace(/^=/, '').toLowerCase())),
    mostForLook: recognition.by === 'trigger' ? MOST_FOR_LOOK[recognition.looks] : 0,
    cells: recognition.by === 'trigger' && recognition.cells,
    fixed: fixedEvidence(pattern),
  };
}

function fixedEvidence({ weights, recognition }: ReadyPattern): Evidence[] {
  const code = recognition.by === 'expression' ? 'own-expression' : 'shape';
  const evidence: Evidence[] = [{ code, weight: weights.shape }];
  if (weights.structure !== 0) evidence.push({ code: 'structure', weight: weights.structure });
  if (weights.check !== 0) evidence.push({ code: 'check-digits', weight: weights.check });
  return evidence;
}

function folded(expression: string): string {
  return Array.from(expression, (unit) => {
    const code = unit.charCodeAt(0);
    return code < 0x370 || unit.length > 1 ? unit : String.fromCharCode(FOLDED_UNITS[code] ?? code);
  }).join('');
}

/** From this length on, one sign again and again is a placeholder, whatever check it passes: all zeros pass most. */
const LONGEST_REPETITION = 6;

function notOneSign(passes: Check): Check {
  return (values, length) => {
    if (length >= LONGEST_REPETITION && values[0] === values[length - 1]) {
      let at = 1;
      while (at < length && values[at] === values[0]) at += 1;
      if (at === length) return false;
    }
    return passes(values, length);
  };
}

/** The value as it is compared with others, from what a trigger's expression found. */
export function canonicalOf(recognition: TriggerRecognition, written: string): string {
  switch (recognition.canonical) {
    case 'lower-case':
      return written.toLowerCase();
    case 'without-spaces':
      return written.replace(/[\s().-]/g, '');
    case 'as-written':
      return written;
  }
}

/** Log-odds of a value before anything around it is looked at. */
export function baseSum(weights: PatternWeights, grouped: boolean): number {
  return weights.shape + weights.structure + weights.check + (grouped ? weights.grouping : 0);
}

/** Tells whether a canonical value satisfies every step of a pattern; for tests and generators, which have no scanner at hand. */
export function checkOf(pattern: ReadyPattern): (canonical: string) => boolean {
  const { passes } = compileChecks(pattern.steps);
  return (canonical) => {
    const values = valuesOf(canonical);
    return passes(values, values.length);
  };
}
