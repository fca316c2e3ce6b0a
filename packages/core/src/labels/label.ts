import type { LabelId } from '../shared/brand.js';
import type { Handling } from './handling.js';
import type { Marking } from './mark.js';
import type { PlaceTerms } from './place-terms.js';

/** What a label can stand on. */
export const CARRIERS = ['document', 'mail', 'chat', 'calendar', 'place'] as const;
export type Carrier = (typeof CARRIERS)[number];

/** Highest rank; ranks leave room between each other, so that a label can be put between two. */
export const MAX_RANK = 1_000;

/** Words for the people who must choose, in one language. */
export interface ChoosingWords {
  /** ISO 639-1. */
  readonly language: string;
  /** When to choose it. */
  readonly when: string;
  /** When not, and what to choose then. */
  readonly not: string;
}

/** A name under which files made elsewhere carry what we call this label. */
export interface ForeignName {
  /** Property, header or metadata field. */
  readonly field: string;
  readonly value: string;
}

/** How something should be handled. */
export interface Label {
  readonly id: LabelId;
  readonly name: string;
  /** How sensitive, 1 to {@link MAX_RANK}; unique. The order of a list is something else. */
  readonly rank: number;
  /** Groups labels where they are shown; decides nothing. Empty for none. */
  readonly family: string;
  /** `#rrggbb`, of its flag on screens. */
  readonly colour: string;
  readonly choosing: readonly ChoosingWords[];
  readonly handling: Handling;
  readonly markings: readonly Marking[];
  readonly carriers: readonly Carrier[];
  readonly foreign: readonly ForeignName[];
  /** What it asks of a place that carries it; left out where it asks nothing. */
  readonly place?: PlaceTerms | null;
  /** Nobody can choose it any more; what carries it is read as before. */
  readonly retired: boolean;
}

/** How a label came onto an item. */
export const LABELLED_HOW = ['by-hand', 'automatically', 'inherited'] as const;
export type LabelledHow = (typeof LABELLED_HOW)[number];

/** What changed about the label of an item. */
export const LABEL_SHIFTS = ['set', 'raised', 'lowered', 'removed', 'same'] as const;
export type LabelShift = (typeof LABEL_SHIFTS)[number];

type Ranked = Pick<Label, 'id' | 'rank'>;

/** Goes by rank; a label that is exchanged for another of the same rank counts as lowered, so that it needs a reason. */
export function labelShift(before: Ranked | null, after: Ranked | null): LabelShift {
  if (!before) return after ? 'set' : 'same';
  if (!after) return 'removed';
  if (before.id === after.id) return 'same';
  return after.rank > before.rank ? 'raised' : 'lowered';
}

/** The most sensitive of labels; null for none. Of two equal ones, which a published set has not, the first. */
export function highest<Each extends Ranked>(labels: readonly (Each | null)[]): Each | null {
  return labels.reduce<Each | null>(
    (best, label) => (label && (!best || label.rank > best.rank) ? label : best),
    null,
  );
}

/** The words of a language, or the first there are; null for a label without words. */
export function choosingWords(label: Pick<Label, 'choosing'>, language: string): ChoosingWords | null {
  const filled = label.choosing.filter(({ when }) => when.trim() !== '');
  return filled.find((words) => words.language === language) ?? filled[0] ?? null;
}

/** The label that files made elsewhere mean by a value; capitals and outer blanks do not matter. */
export function labelOfForeign(labels: readonly Label[], field: string, value: string): Label | null {
  const same = (one: string, other: string): boolean =>
    one.trim().toLowerCase() === other.trim().toLowerCase();
  return (
    labels.find(({ foreign }) =>
      foreign.some((name) => same(name.field, field) && same(name.value, value)),
    ) ?? null
  );
}
