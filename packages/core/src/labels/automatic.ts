import { countFindings, type Finding } from '../detection/model/finding.js';
import type { AutomaticId, LabelId, PatternId } from '../shared/brand.js';
import { highest, type Label, type LabelledHow } from './label.js';

/** How much of something an item must hold. */
export interface ContentTerm {
  readonly pattern: PatternId;
  /** Count equal values once. */
  readonly distinct: boolean;
  /** 0 to 100. */
  readonly certainty: number;
  readonly atLeast: number;
}

/** Whom an item is shared with. */
export const REACHES = ['anybody', 'inside-only', 'outside'] as const;
export type Reach = (typeof REACHES)[number];

export const DOES = ['apply', 'suggest'] as const;

/** A rule by which a machine labels. */
export interface Automatic {
  readonly id: AutomaticId;
  readonly name: string;
  readonly label: LabelId;
  readonly content: readonly ContentTerm[];
  /** Whether one term is enough or all must hold. */
  readonly quantity: 'any' | 'every';
  /** Kinds of file; empty for any. */
  readonly kinds: readonly string[];
  /**
   * Names of places, each with all under it (`Tariffs/2026`), or addresses of people, meaning every place of theirs, also
   * one that they get later; empty for everywhere.
   */
  readonly places: readonly string[];
  readonly sharedWith: Reach;
  readonly does: (typeof DOES)[number];
  /** May lower a label that a person chose. */
  readonly lowersPeople: boolean;
  /** Most items that one run labels; null for no limit. */
  readonly atMost: number | null;
}

/** An item as automatic rules ask about it. */
export interface LabelledItem {
  readonly findings: readonly Finding[];
  readonly kind: string;
  /** Path from its place to its folder: `Tariffs/2026`. */
  readonly place: string;
  /** Address of whose place it is; empty where nobody's. */
  readonly owner: string;
  readonly sharedOutside: boolean;
  readonly carries: { readonly label: LabelId; readonly how: LabelledHow } | null;
}

/** What would become of an item. */
export const OUTCOMES = [
  'labelled',
  'suggested',
  'raised',
  'lowered',
  'has-it',
  'already-higher',
  'unknown-label',
  'nothing',
] as const;
export type AutomaticOutcome = (typeof OUTCOMES)[number];

export interface AutomaticResult {
  readonly outcome: AutomaticOutcome;
  /** The rule that wins, where one claims the item. */
  readonly rule: AutomaticId | null;
  readonly label: LabelId | null;
  /** Other rules that claim it for another label: the highest rank won. */
  readonly outranked: readonly AutomaticId[];
  /** Which terms of the winning rule held, with what was counted. */
  readonly held: readonly { readonly pattern: PatternId; readonly count: number }[];
}

/** Whether an entry means a person and not a place. */
export const isPersonsStore = (entry: string): boolean => entry.includes('@');

/** Whether a place is one of `places`, stands under one, or is of a person among them. */
export function isAtPlace(place: string, places: readonly string[], owner = ''): boolean {
  return (
    places.length === 0 ||
    places.some((each) =>
      isPersonsStore(each)
        ? each.toLowerCase() === owner.toLowerCase()
        : place === each || place.startsWith(`${each}/`),
    )
  );
}

function heldTerms(rule: Automatic, item: LabelledItem): AutomaticResult['held'] | null {
  if (rule.kinds.length > 0 && !rule.kinds.includes(item.kind)) return null;
  if (!isAtPlace(item.place, rule.places, item.owner)) return null;
  if (rule.sharedWith !== 'anybody' && (rule.sharedWith === 'outside') !== item.sharedOutside) return null;
  const held = rule.content.flatMap(({ pattern, distinct, certainty, atLeast }) => {
    const counted = countFindings(item.findings, pattern, certainty);
    const count = distinct ? counted.distinct : counted.findings;
    return count >= atLeast ? [{ pattern, count }] : [];
  });
  const enough =
    rule.quantity === 'any'
      ? held.length > 0 || rule.content.length === 0
      : held.length === rule.content.length;
  return enough ? held : null;
}

/**
 * What rules make of an item. Of several claims the highest rank wins, of equal ones the rule that comes first. A label
 * that a person chose is never lowered, unless the rule says so; one that a machine set stays too, because its reason
 * may stand in a part that is gone.
 */
export function labelByRules(
  rules: readonly Automatic[],
  item: LabelledItem,
  labels: readonly Label[],
): AutomaticResult {
  const byId = new Map(labels.map((label) => [label.id, label]));
  const claims = rules.flatMap((rule) => {
    const label = byId.get(rule.label);
    const held = label && !label.retired ? heldTerms(rule, item) : null;
    return label && held ? [{ rule, label, held }] : [];
  });
  const won = highest(claims.map(({ label }) => label));
  const winner = claims.find(({ label }) => label === won);
  if (!winner) return { outcome: 'nothing', rule: null, label: null, outranked: [], held: [] };
  return {
    outcome: outcomeOf(winner.rule, winner.label, item.carries, byId),
    rule: winner.rule.id,
    label: winner.label.id,
    outranked: claims.filter(({ label }) => label !== won).map(({ rule }) => rule.id),
    held: winner.held,
  };
}

function outcomeOf(
  rule: Automatic,
  label: Label,
  carries: LabelledItem['carries'],
  labels: ReadonlyMap<LabelId, Label>,
): AutomaticOutcome {
  if (!carries) return rule.does === 'apply' ? 'labelled' : 'suggested';
  if (carries.label === label.id) return 'has-it';
  const before = labels.get(carries.label);
  // A label that this set does not know is somebody's decision all the same.
  if (!before) return 'unknown-label';
  if (before.rank < label.rank) return rule.does === 'apply' ? 'raised' : 'suggested';
  if (!rule.lowersPeople) return 'already-higher';
  return rule.does === 'apply' ? 'lowered' : 'suggested';
}
