import { type Audience, isMeant } from '../directory/audience.js';
import type { PersonFacts } from '../directory/person.js';
import type { LabelId, OfferId } from '../shared/brand.js';
import { type Carrier, type Label, labelShift } from './label.js';

/** How an item starts. A preset is there before anybody thought; a proposal waits to be taken. */
export type Start =
  | { readonly kind: 'bare' }
  | { readonly kind: 'proposed'; readonly label: LabelId }
  | { readonly kind: 'preset'; readonly label: LabelId };

/** What an item needs before it is saved for others or sent. */
export const NEEDS = ['nothing', 'a-label'] as const;
export type Need = (typeof NEEDS)[number];

/** What going down the scale costs. */
export const COSTS = ['nothing', 'reason', 'second-person'] as const;
export type Cost = (typeof COSTS)[number];

/** How a whole (mail, archive, folder) follows its parts. */
export const FOLLOWINGS = ['takes-highest', 'proposes-highest', 'stands-alone'] as const;
export type Following = (typeof FOLLOWINGS)[number];

/** Labels published to some people for some carriers. */
export interface Offer {
  readonly id: OfferId;
  readonly name: string;
  readonly people: Audience;
  readonly carriers: readonly Carrier[];
  /** In the order in which they are shown. */
  readonly labels: readonly LabelId[];
  readonly starts: Start;
  readonly needs: Need;
  readonly lowering: Cost;
  readonly follows: Following;
  /** First day (YYYY-MM-DD, UTC); null for at once. */
  readonly from: string | null;
  /** What people are told beforehand, with the change itself; empty for nothing. */
  readonly telling: string;
}

/** Everything that labels are made of. */
export interface LabelSet {
  readonly labels: readonly Label[];
  readonly offers: readonly Offer[];
}

/** What one person has for one carrier. */
export interface Offered {
  readonly offer: Offer;
  readonly labels: readonly Label[];
  /** Other offers that name the same person for the same carrier. The first in order decides. */
  readonly others: readonly Offer[];
}

/** Whether an offer is in force; `now` in milliseconds since 1970, UTC. */
export function hasBegun({ from }: Pick<Offer, 'from'>, now: number): boolean {
  return from === null || Date.parse(`${from}T00:00:00Z`) <= now;
}

/** What a person can choose for a carrier now; null for nothing. Retired labels are not offered. */
export function offeredTo(set: LabelSet, person: PersonFacts, carrier: Carrier, now: number): Offered | null {
  const mine = set.offers.filter(
    (offer) => offer.carriers.includes(carrier) && hasBegun(offer, now) && isMeant(offer.people, person),
  );
  const [offer, ...others] = mine;
  if (!offer) return null;
  const labels = offer.labels.flatMap((id) => {
    const label = set.labels.find((each) => each.id === id);
    return label && !label.retired && label.carriers.includes(carrier) ? [label] : [];
  });
  return { offer, labels, others };
}

/** What a change of label asks of the person: nothing, a reason in words, somebody else's yes. */
export function costOf(
  offer: Pick<Offer, 'lowering'>,
  before: Pick<Label, 'id' | 'rank'> | null,
  after: Pick<Label, 'id' | 'rank'> | null,
): Cost {
  const shift = labelShift(before, after);
  return shift === 'lowered' || shift === 'removed' ? offer.lowering : 'nothing';
}

/** Whether two offers tell one person different things. */
export function disagree(one: Offer, other: Offer): boolean {
  const terms = ({ starts, needs, lowering, follows, labels }: Offer): string =>
    JSON.stringify([starts, needs, lowering, follows, [...labels].sort()]);
  return terms(one) !== terms(other);
}
