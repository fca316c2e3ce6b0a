import type { PatternId } from '../shared/brand.js';

/** What a pattern describes; filters of the library group by it. */
export type PatternKind = 'payment' | 'bank' | 'travel' | 'own-words';

/** A value that a shape accepted, read by the pattern's check. */
export interface CheckResult {
  /** The value without separators, upper case: equal for equal values however they are written. */
  readonly canonical: string;
  /** Whether the value satisfies every check digit and range of its standard. */
  readonly passes: boolean;
  /** Whether it is written in the groups in which this number is printed. */
  readonly grouped: boolean;
}

/** Weights in log-odds (natural logarithm); see docs/decisions/0002-certainty.md. */
export interface PatternWeights {
  /** Log-odds that something of this shape is the real thing before anything else is known. */
  readonly shape: number;
  /** The issuer range, country structure or field layout holds. */
  readonly structure: number;
  /** Check digits hold: ln k where one random candidate in k passes. */
  readonly check: number;
  /** Written in its usual groups. */
  readonly grouping: number;
  /** A supporting word right beside it; falls with distance. */
  readonly supportingWord: number;
  /** The heading of its column names it. */
  readonly heading: number;
  /** A counter word right beside it (negative); falls with distance. */
  readonly counterWord: number;
  /** It is a published test value (negative). */
  readonly testValue: number;
}

/** A pattern of the ready library: data and a check, no behaviour of its own. */
export interface ReadyPattern {
  readonly origin: 'ready';
  readonly id: PatternId;
  readonly name: string;
  readonly kind: PatternKind;
  /** ISO 3166-1 alpha-2 codes, or empty for everywhere. */
  readonly countries: readonly string[];
  readonly about: string;
  /** Plain expression over the folded text; linear in its length and anchored by look-arounds at both ends. */
  readonly expression: string;
  readonly checkName: string;
  /** Share of random candidates of the right structure that pass the check, 0 to 1. */
  readonly accidentalShare: number;
  readonly check: (written: string) => CheckResult;
  readonly weights: PatternWeights;
  readonly supportingWords: readonly string[];
  readonly counterWords: readonly string[];
  /** Canonical values that standards or networks publish for testing. */
  readonly testValues: readonly string[];
  readonly source: string;
  readonly examples: { readonly passing: readonly string[]; readonly nearMisses: readonly string[] };
}

/** One entry of an own word list; the weight is in log-odds. */
export interface ListedWord {
  readonly text: string;
  readonly weight: number;
}

/** An organisation's own word list. */
export interface WordListPattern {
  readonly origin: 'own';
  readonly id: PatternId;
  readonly name: string;
  readonly kind: 'own-words';
  readonly about: string;
  readonly words: readonly ListedWord[];
}

export type Pattern = ReadyPattern | WordListPattern;

/** Log-odds of a listed word that its author gave no weight: certain to 95. */
export const DEFAULT_WORD_WEIGHT = 3;
