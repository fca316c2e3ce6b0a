import type { SearchText } from '../../text/search-text.js';
import { compileChecks } from '../checks/compile.js';
import type { CheckStep } from '../checks/step.js';
import { MAX_VALUES, valuesOf } from '../checks/values.js';
import type { Exclusions, ExpressionPattern, OwnCheck, ReadyPattern } from '../model/pattern.js';
import type { Prepared } from '../model/prepared.js';
import type { TriggerHit } from '../model/triggers.js';
import { readExpression } from './read.js';
import { ExpressionSearch } from './search.js';

/** Steps of a check that an own expression asks for. */
export function stepsOf(check: OwnCheck): CheckStep[] {
  switch (check) {
    case 'none':
      return [];
    case 'luhn':
    case 'verhoeff':
    case 'damm':
      return [{ check }];
    default:
      return [{ check: 'iso-7064', system: check }];
  }
}

/** A heading that names the value is worth this much more than its name beside it, as in the ready library. */
const HEADING_OVER_NAME = 0.5;

/** An own expression in the form in which the scanner takes all patterns. */
export function asReady(pattern: ExpressionPattern): ReadyPattern {
  const { id, name, about, expression, caseMatters, exclusions, wordDistance, weights } = pattern;
  const steps = stepsOf(pattern.check);
  const { digitsShare } = compileChecks(steps);
  return {
    origin: 'ready',
    id,
    name,
    otherNames: [],
    kind: 'own-expression',
    countries: [],
    about,
    recognition: { by: 'expression', expression, caseMatters, exclusions },
    steps,
    usualSteps: [],
    weights: {
      ...weights,
      structure: 0,
      check: Math.round(-Math.log(digitsShare) * 100) / 100,
      grouping: 0,
      heading: weights.namingWord === 0 ? 0 : weights.namingWord + HEADING_OVER_NAME,
      testValue: 0,
      usualCheck: 0,
      generalName: 0,
    },
    namingWords: pattern.namingWords,
    generalNames: [],
    supportingWords: pattern.supportingWords,
    counterWords: pattern.counterWords,
    wordDistance,
    testValues: [],
    source: '',
    examples: { passing: [], nearMisses: [] },
  };
}

interface Excluding {
  readonly values: ReadonlySet<string>;
  readonly words: readonly string[];
  readonly ranges: readonly { readonly from: string; readonly to: string }[];
}

/** Letters and digits only, in capitals: how values are compared. */
const bare = (text: string): string => text.replace(/[^\p{L}\p{N}]/gu, '').toUpperCase();
const digitsOnly = (text: string): string => text.replace(/\D/g, '').replace(/^0+(?=\d)/, '');

/** Whether one string of digits is at least as large as another, whatever their length. */
const atLeast = (one: string, other: string): boolean =>
  one.length === other.length ? one >= other : one.length > other.length;

function excludingOf({ values, words, ranges }: Exclusions): Excluding {
  return {
    values: new Set(values.map(bare)),
    words: words.map((word) => word.toUpperCase()),
    ranges: ranges.map(({ from, to }) => ({ from: digitsOnly(from), to: digitsOnly(to) })),
  };
}

function isExcluded(written: string, { values, words, ranges }: Excluding): boolean {
  if (values.size > 0 && values.has(bare(written))) return true;
  const upper = written.toUpperCase();
  if (words.some((word) => upper.includes(word))) return true;
  if (ranges.length === 0) return false;
  const digits = digitsOnly(written);
  return digits !== '' && ranges.some(({ from, to }) => atLeast(digits, from) && atLeast(to, digits));
}

/** All own expressions of a scanner, looked for together. */
export class OwnExpressions {
  private readonly prepared: readonly Prepared[];
  private readonly search: ExpressionSearch;
  private readonly excluding: readonly Excluding[];

  constructor(patterns: readonly Prepared[]) {
    this.prepared = patterns.filter(({ recognition }) => recognition.by === 'expression');
    const recognitions = this.prepared.flatMap(({ recognition }) =>
      recognition.by === 'expression' ? [recognition] : [],
    );
    this.search = new ExpressionSearch(
      recognitions.map(({ expression, caseMatters }) => readExpression(expression, caseMatters)),
    );
    this.excluding = recognitions.map(({ exclusions }) => excludingOf(exclusions));
  }

  /** Every value that an expression finds and no exclusion takes away. */
  find({ text, units }: Pick<SearchText, 'text' | 'units'>): TriggerHit[] {
    if (this.prepared.length === 0) return [];
    return this.search.find(units).flatMap(({ expression, start, end }) => {
      const prepared = this.prepared[expression]!;
      const written = text.slice(start, end);
      if (isExcluded(written, this.excluding[expression]!)) return [];
      const canonical = bare(written) || written;
      const values = valuesOf(canonical.slice(0, MAX_VALUES));
      const passes = prepared.check.passes(values, values.length);
      return [{ prepared, start, end, canonical, passes, look: null }];
    });
  }
}

/** The same for the plain scanner, which looks for one pattern after another. */
export function expressionHits(
  prepared: readonly Prepared[],
  search: Pick<SearchText, 'text' | 'units'>,
): TriggerHit[] {
  return new OwnExpressions(prepared).find(search);
}
