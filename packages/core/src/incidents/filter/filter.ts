import type { FieldName, Operator } from './fields.js';

export type CompareOperator = Exclude<Operator, 'pr'>;
export type FilterValue = string | number | boolean;

/** A condition over the rows of a list, the desk's where no other is named: the filter grammar of RFC 7644, section 3.4.2.2. */
export type Filter<Name extends string = FieldName> =
  | {
      readonly kind: 'compare';
      readonly field: Name;
      readonly operator: CompareOperator;
      readonly value: FilterValue;
    }
  | { readonly kind: 'present'; readonly field: Name }
  | { readonly kind: 'not'; readonly part: Filter<Name> }
  | { readonly kind: 'and' | 'or'; readonly parts: readonly Filter<Name>[] };

/** Holds for everything. */
export const EVERYTHING: Filter<never> = { kind: 'and', parts: [] };

/** Longest filter line, in characters: a list of 100 addresses fits. */
export const MAX_FILTER_LENGTH = 6_000;
/** Deepest nesting; a person cannot read more, and a parser must end. */
export const MAX_FILTER_DEPTH = 12;
/** Most comparisons in one filter. */
export const MAX_FILTER_TERMS = 120;

/** What is wrong with a filter line, and where (UTF-16 units from its start). */
export interface FilterFault {
  readonly code:
    | 'too-long'
    | 'too-deep'
    | 'too-many-terms'
    | 'field-expected'
    | 'unknown-field'
    | 'operator-expected'
    | 'operator-not-for-field'
    | 'value-expected'
    | 'unclosed-text'
    | 'bad-escape'
    | 'wrong-kind'
    | 'unknown-choice'
    | 'bad-time'
    | 'unclosed-parenthesis'
    | 'parenthesis-expected'
    | 'joiner-expected';
  readonly at: number;
  readonly length: number;
  /** The word it is about. */
  readonly word: string;
  /** What would be right there. */
  readonly expected: readonly string[];
}
