import { type ExpressionPattern, type OwnCheck } from '@lantern/core/detection';
import { type PatternId } from '@lantern/core/shared';

/** What stands in the fields of an own expression: text, as it was typed. */
export interface ExpressionForm {
  readonly name: string;
  readonly about: string;
  readonly expression: string;
  readonly caseMatters: boolean;
  readonly check: OwnCheck;
  readonly namingWords: string;
  readonly supportingWords: string;
  readonly counterWords: string;
  readonly wordDistance: string;
  readonly excludedValues: string;
  readonly excludedWords: string;
  readonly excludedRanges: string;
  readonly shape: string;
  readonly namingWord: string;
  readonly supportingWord: string;
  readonly counterWord: string;
}

export const EMPTY_FORM: ExpressionForm = {
  name: '',
  about: '',
  expression: '',
  caseMatters: false,
  check: 'none',
  namingWords: '',
  supportingWords: '',
  counterWords: '',
  wordDistance: '40',
  excludedValues: '',
  excludedWords: '',
  excludedRanges: '',
  shape: '1.5',
  namingWord: '4',
  supportingWord: '1.5',
  counterWord: '-4',
};

export function formOf(pattern: ExpressionPattern): ExpressionForm {
  const { exclusions, weights } = pattern;
  const lines = (words: readonly string[]): string => words.join('\n');
  return {
    name: pattern.name,
    about: pattern.about,
    expression: pattern.expression,
    caseMatters: pattern.caseMatters,
    check: pattern.check,
    namingWords: lines(pattern.namingWords),
    supportingWords: lines(pattern.supportingWords),
    counterWords: lines(pattern.counterWords),
    wordDistance: String(pattern.wordDistance),
    excludedValues: lines(exclusions.values),
    excludedWords: lines(exclusions.words),
    excludedRanges: lines(exclusions.ranges.map(({ from, to }) => `${from} to ${to}`)),
    shape: String(weights.shape),
    namingWord: String(weights.namingWord),
    supportingWord: String(weights.supportingWord),
    counterWord: String(weights.counterWord),
  };
}

/** Lines with something on them. */
export const linesOf = (text: string): string[] =>
  text
    .split('\n')
    .map((line) => line.trim())
    .filter((line) => line !== '');

const numberOf = (text: string): number =>
  text.trim() === '' ? Number.NaN : Number(text.replace(',', '.').replace('−', '-'));

const RANGE = /^(.*\d.*?)\s+to\s+(.*\d.*)$/;

export type ReadForm =
  | { readonly status: 'read'; readonly fields: Omit<ExpressionPattern, 'origin' | 'id' | 'kind'> }
  | { readonly status: 'wrong'; readonly sentence: string };

/** The pattern that the fields describe, or what is wrong with them. */
export function readForm(form: ExpressionForm): ReadForm {
  const ranges = linesOf(form.excludedRanges).map((line) => RANGE.exec(line));
  const wrong = ranges.indexOf(null);
  if (wrong !== -1)
    return { status: 'wrong', sentence: `Line ${wrong + 1} of the ranges is not "number to number".` };
  const wordDistance = numberOf(form.wordDistance);
  if (!Number.isInteger(wordDistance) || wordDistance < 1 || wordDistance > 60)
    return { status: 'wrong', sentence: 'The maximum distance must be a whole number from 1 to 60.' };
  const weights = {
    shape: numberOf(form.shape),
    namingWord: numberOf(form.namingWord),
    supportingWord: numberOf(form.supportingWord),
    counterWord: numberOf(form.counterWord),
  };
  if (Object.values(weights).some((weight) => !(Math.abs(weight) <= 20)))
    return { status: 'wrong', sentence: 'A weight must be a number from −20 to 20.' };
  const { name, about, expression, caseMatters, check } = form;
  return {
    status: 'read',
    fields: {
      name,
      about,
      expression,
      caseMatters,
      check,
      namingWords: linesOf(form.namingWords),
      supportingWords: linesOf(form.supportingWords),
      counterWords: linesOf(form.counterWords),
      wordDistance,
      exclusions: {
        values: linesOf(form.excludedValues),
        words: linesOf(form.excludedWords),
        ranges: ranges.map((range) => ({ from: range?.[1] ?? '', to: range?.[2] ?? '' })),
      },
      weights,
    },
  };
}

export function patternOf(id: string, form: ReadForm & { status: 'read' }): ExpressionPattern {
  return { origin: 'expression', id: id as PatternId, kind: 'own-expression', ...form.fields };
}
