import type { PatternId } from '../../shared/brand.js';
import { READY_PATTERNS } from '../library/index.js';
import type {
  DocumentsPattern,
  ExpressionPattern,
  Pattern,
  PatternWeights,
  ReadyPattern,
  RecordsPattern,
  WordListPattern,
} from '../model/pattern.js';

/** Weights of a ready pattern that an organisation chose in place of those that ship. */
export interface AdjustedPattern {
  readonly origin: 'adjusted';
  /** The ready pattern. */
  readonly id: PatternId;
  readonly name: string;
  readonly weights: Partial<PatternWeights>;
}

/** What an organisation adds to the ready library. */
export type OwnPattern =
  WordListPattern | ExpressionPattern | RecordsPattern | DocumentsPattern | AdjustedPattern;

/** Largest weight either way: beyond it a sum is certain whatever else is known. */
export const MAX_WEIGHT = 20;

/** Names of all weights, in the order in which a pattern's page shows them. */
export const WEIGHT_NAMES = [
  'shape',
  'structure',
  'check',
  'usualCheck',
  'generalName',
  'grouping',
  'namingWord',
  'heading',
  'supportingWord',
  'counterWord',
  'testValue',
] as const satisfies readonly (keyof PatternWeights)[];

/** A ready pattern with some of its weights replaced. */
export function withWeights(pattern: ReadyPattern, weights: Partial<PatternWeights>): ReadyPattern {
  return { ...pattern, weights: { ...pattern.weights, ...weights } };
}

/** Everything that is looked for: the ready library as adjusted, and own word lists. */
export function patternSet(own: readonly OwnPattern[]): Pattern[] {
  const adjusted = new Map(
    own.flatMap((pattern) => (pattern.origin === 'adjusted' ? [[pattern.id, pattern.weights]] : [])),
  );
  const ready = READY_PATTERNS.map((pattern) => {
    const weights = adjusted.get(pattern.id);
    return weights ? withWeights(pattern, weights) : pattern;
  });
  return [...ready, ...own.filter((pattern) => pattern.origin !== 'adjusted')];
}

/** Kinds that stand in nearly every text: they are evidence only where a rule asks for them. */
const EVERYWHERE: readonly string[] = ['contact', 'network'];
const everywhere = new Set<string>(
  READY_PATTERNS.filter((pattern) => EVERYWHERE.includes(pattern.kind)).map((pattern) => pattern.id),
);

/** Whether findings of a pattern stand in nearly every text: addresses, telephone numbers. */
export function isEverywhere(pattern: string): boolean {
  return everywhere.has(pattern);
}
