import type { PatternId } from '../../shared/brand.js';
import type { LookCheck } from '../looks/look.js';
import type { CheckStep } from '../checks/step.js';
import type { RecordShape } from './record-shape.js';

/** What a pattern describes; filters of the library group by it. */
export type PatternKind =
  | 'payment'
  | 'bank'
  | 'identity'
  | 'tax'
  | 'health'
  | 'travel'
  | 'contact'
  | 'network'
  | 'secrets'
  | 'vehicle'
  | 'cargo'
  | 'own-words'
  | 'own-expression'
  | 'own-records'
  | 'own-documents';

/** Weights in log-odds (natural logarithm); see docs/decisions/0002-certainty.md. */
export interface PatternWeights {
  /** Log-odds that something of this shape is the real thing before anything else is known. */
  readonly shape: number;
  /** Dates, ranges and lists inside the value hold. */
  readonly structure: number;
  /** Check digits hold: ln k where one random candidate in k passes. */
  readonly check: number;
  /** Written in its usual groups. */
  readonly grouping: number;
  /** Its own name right beside it; falls with distance. */
  readonly namingWord: number;
  /** A name that it shares with the numbers of other countries, right beside it; falls with distance. */
  readonly generalName: number;
  /** A word of its subject right beside it; falls with distance. */
  readonly supportingWord: number;
  /** The heading of its column or the name of its field names it. */
  readonly heading: number;
  /** A counter word right beside it (negative); falls with distance. */
  readonly counterWord: number;
  /** It is a published test value (negative). */
  readonly testValue: number;
  /** A check that most of these numbers pass, and not all of them, holds; half of it is taken off where it fails. */
  readonly usualCheck: number;
}

/** How a value is written when its length and groups are known; the notation is explained in `shape.ts`. */
export interface ShapeRecognition {
  readonly by: 'shapes';
  readonly shapes: readonly string[];
  /** What may stand where a shape says `_`, the same at all places of one value. */
  readonly separators: readonly string[];
}

/** What is looked for first, so that the expression runs at few places only. */
export type Trigger =
  /** A text that always stands in the value; the engine's own string search finds it at nearly no cost. */
  | { readonly by: 'text'; readonly texts: readonly string[] }
  /**
   * Letters and digits, or digits only, of a length. `then` lists what stands right behind: a character, and after it
   * `9` for a digit, `a` for a word of three letters or more, or itself. `never` lists characters that may not stand in front.
   */
  | {
      readonly by: 'run';
      readonly digits: boolean;
      readonly least: number;
      readonly most: number;
      readonly then: readonly string[];
      readonly never: string;
      /** Length of the run behind that one character, and what may stand behind it; empty for anything. */
      readonly next?: { readonly least: number; readonly most: number; readonly then: string };
      /** So many of these marks follow at least, each behind a run as long as the next; or one of them stands doubled. */
      readonly marks?: { readonly least: number; readonly orDoubled: boolean };
    }
  /** A word, in any case and with or without accents. */
  | { readonly by: 'word'; readonly words: readonly string[] };

/** How a value is found that has no fixed groups. */
export interface TriggerRecognition {
  readonly by: 'trigger';
  readonly trigger: Trigger;
  /** Characters in front of the trigger that belong to the value, as the inside of a character class; empty for none. */
  readonly before: string;
  /** Most characters in front of the trigger. */
  readonly longestBefore: number;
  /** Plain expression that begins where those characters begin; every repetition in it has an upper bound. */
  readonly expression: string;
  readonly anyCase: boolean;
  /** How the value is compared with others: letters in one case, without spaces, or as it stands. */
  readonly canonical: 'lower-case' | 'without-spaces' | 'as-written';
  /** Number of the group of the expression that is the value; 0 is all of it. */
  readonly group: number;
  /** How the look of the value is judged. */
  readonly looks: LookCheck;
  /** Every cell of a column whose heading is one of its names is a value too. */
  readonly cells: boolean;
}

/** An own expression: the automaton of all of them finds it. */
export interface ExpressionRecognition {
  readonly by: 'expression';
  readonly expression: string;
  readonly caseMatters: boolean;
  readonly exclusions: Exclusions;
}

/** What is never found, however it stands. */
export interface Exclusions {
  /** Values as written or without separators, in any case. */
  readonly values: readonly string[];
  /** Words within the value, in any case. */
  readonly words: readonly string[];
  /** Numbers from and to, both included, compared by the digits of the value. */
  readonly ranges: readonly { readonly from: string; readonly to: string }[];
}

/** A pattern of the ready library: data, no behaviour of its own. */
export interface ReadyPattern {
  readonly origin: 'ready';
  readonly id: PatternId;
  readonly name: string;
  /** Other names, in the languages of its country; search finds it by them. */
  readonly otherNames: readonly string[];
  readonly kind: PatternKind;
  /** ISO 3166-1 alpha-2 codes, or empty for everywhere. */
  readonly countries: readonly string[];
  readonly about: string;
  readonly recognition: ShapeRecognition | TriggerRecognition | ExpressionRecognition;
  readonly steps: readonly CheckStep[];
  /** A check that most and not all of these numbers pass; it counts as evidence and refuses nothing. */
  readonly usualSteps: readonly CheckStep[];
  readonly weights: PatternWeights;
  /** Its own names: where one stands, little else can be meant. `=SIN` counts in these capitals only. */
  readonly namingWords: readonly string[];
  /** Names that the numbers of other countries have too: `tax id`, `account number`; some may be among its own. */
  readonly generalNames: readonly string[];
  /** Words of its subject: they fit other numbers too. */
  readonly supportingWords: readonly string[];
  readonly counterWords: readonly string[];
  /** Characters between a word and the value within which it counts; the usual window where absent. */
  readonly wordDistance?: number;
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
  /**
   * Log-odds that the different words of one text must come to before any of them is found; absent where each stands
   * for itself.
   */
  readonly threshold?: number;
  /** Found inside longer words too; whole words only where absent. */
  readonly inside?: boolean;
}

/** Checks that an own expression can ask for, each over all letters and digits of a value. */
export const OWN_CHECKS = [
  'none',
  'luhn',
  'verhoeff',
  'damm',
  'mod 11-2',
  'mod 37-2',
  'mod 97-10',
  'mod 11-10',
  'mod 37-36',
] as const;
export type OwnCheck = (typeof OWN_CHECKS)[number];

/** An organisation's own expression, with everything that speaks for and against what it finds. */
export interface ExpressionPattern {
  readonly origin: 'expression';
  readonly id: PatternId;
  readonly name: string;
  readonly kind: 'own-expression';
  readonly about: string;
  readonly expression: string;
  readonly caseMatters: boolean;
  readonly check: OwnCheck;
  readonly namingWords: readonly string[];
  readonly supportingWords: readonly string[];
  readonly counterWords: readonly string[];
  /** Characters between a word and the value within which it counts, 1 to the usual window. */
  readonly wordDistance: number;
  readonly exclusions: Exclusions;
  /** Log-odds of a value by itself, with one of its names beside it, a word of its subject, a counter word. */
  readonly weights: Pick<PatternWeights, 'shape' | 'namingWord' | 'supportingWord' | 'counterWord'>;
}

/** An organisation's own records, looked for by keyed hashes. The hashes are not part of the pattern. */
export interface RecordsPattern {
  readonly origin: 'records';
  readonly id: PatternId;
  readonly name: string;
  readonly kind: 'own-records';
  readonly about: string;
  readonly shape: RecordShape;
}

/** What is learnt from sample documents: where one of them reappears, or whether a text is of their kind. */
export const LEARNT = ['likeness', 'category'] as const;

/** Documents that are found by samples of them. What was learnt is not part of the pattern. */
export interface DocumentsPattern {
  readonly origin: 'documents';
  readonly id: PatternId;
  readonly name: string;
  readonly kind: 'own-documents';
  readonly about: string;
  readonly learns: (typeof LEARNT)[number];
  /** Share of a sample that must reappear, over 0 to 1; likeness only. */
  readonly leastShare: number;
}

export type Pattern = ReadyPattern | WordListPattern | ExpressionPattern | RecordsPattern | DocumentsPattern;

/** Log-odds of a listed word that its author gave no weight: certain to 95. */
export const DEFAULT_WORD_WEIGHT = 3;
