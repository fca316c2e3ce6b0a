import type { AutomaticId } from '../shared/brand.js';
import { type Automatic, labelByRules, type LabelledItem } from './automatic.js';
import { type Carrier, highest, type Label, type LabelledHow } from './label.js';
import type { WholeLabelSet } from './label-problems.js';

/** The label of an item, and how it came there. */
export interface StandingLabel {
  readonly label: Label;
  readonly how: LabelledHow;
  /** The rule by which a machine set it; null where none did. */
  readonly rule: AutomaticId | null;
}

/** An item that is written or moved, as labels ask about it. */
export interface ItemOnItsWay extends Omit<LabelledItem, 'carries'> {
  readonly carrier: Carrier;
  /** What a person chose for it, or what it carries already. */
  readonly own: Omit<StandingLabel, 'rule'> | null;
}

/**
 * The label with which an item goes on: automatic rules are asked first, so that policies see the labelled item. Rules
 * for labels that cannot stand on such an item are passed over, and one that only suggests keeps none back that applies.
 */
export function labelOnItsWay(set: WholeLabelSet, item: ItemOnItsWay): StandingLabel | null {
  const applied = set.automatic.filter(({ does }) => does === 'apply');
  const claim = claimOn({ ...set, automatic: applied }, item);
  if (claim && ['labelled', 'raised', 'lowered'].includes(claim.outcome))
    return { label: claim.label, how: 'automatically', rule: claim.rule.id };
  return item.own && { ...item.own, rule: null };
}

/** The label that an item calls for while it is written, with the rule that says so; null where it has it, or one as high. */
export function suggestedLabel(
  set: WholeLabelSet,
  item: ItemOnItsWay,
): { readonly label: Label; readonly rule: Automatic } | null {
  const claim = claimOn(set, item);
  return claim && ['suggested', 'labelled', 'raised'].includes(claim.outcome) ? claim : null;
}

function claimOn(set: WholeLabelSet, { carrier, own, ...item }: ItemOnItsWay) {
  const rules = set.automatic.filter(({ label }) =>
    set.labels.some(({ id, carriers }) => id === label && carriers.includes(carrier)),
  );
  const carries = own && { label: own.label.id, how: own.how };
  const { outcome, rule: id, label: wanted } = labelByRules(rules, { ...item, carries }, set.labels);
  const label = set.labels.find((each) => each.id === wanted);
  const rule = rules.find((each) => each.id === id);
  return label && rule ? { outcome, label, rule } : null;
}

/** The label after a verdict: the highest that treatments set, where the item carries none as high. */
export function labelAfter(
  set: Pick<WholeLabelSet, 'labels'>,
  own: StandingLabel | null,
  treatments: readonly { readonly kind: string; readonly label?: string }[],
): StandingLabel | null {
  const wanted = highest(
    treatments.flatMap(({ kind, label }) =>
      kind === 'set-label' ? (set.labels.find(({ id }) => id === label) ?? []) : [],
    ),
  );
  if (!wanted || (own && own.label.rank >= wanted.rank)) return own;
  return { label: wanted, how: 'automatically', rule: null };
}
