import { isMeant } from '../directory/audience.js';
import type { PersonFacts } from '../directory/person.js';
import { CARRIERS, type Carrier } from './label.js';
import { disagree, type Offer, offeredTo, type LabelSet } from './offer.js';

/** Two offers that tell the same people different things on one carrier. */
export interface Disagreement {
  readonly carrier: Carrier;
  /** The one that decides, because it comes first. */
  readonly first: Offer['id'];
  readonly second: Offer['id'];
  readonly people: readonly string[];
}

/** Who stands under two offers that disagree. Offers that begin later count too: they will. */
export function disagreements(offers: readonly Offer[], people: readonly PersonFacts[]): Disagreement[] {
  const found: Disagreement[] = [];
  for (const carrier of CARRIERS) {
    const here = offers.filter(({ carriers }) => carriers.includes(carrier));
    here.forEach((first, index) => {
      for (const second of here.slice(index + 1)) {
        if (!disagree(first, second)) continue;
        const both = people.filter(
          (person) => isMeant(first.people, person) && isMeant(second.people, person),
        );
        if (both.length > 0)
          found.push({
            carrier,
            first: first.id,
            second: second.id,
            people: both.map(({ address }) => address),
          });
      }
    });
  }
  return found;
}

/** What changes for one person when a set is published. */
export interface PersonChange {
  readonly address: string;
  readonly carrier: Carrier;
  /** Names of labels that come and go. */
  readonly gains: readonly string[];
  readonly loses: readonly string[];
  /** How an item starts, what it needs or what lowering costs is another. */
  readonly otherTerms: boolean;
  /** The offer that decides afterwards; null for none. */
  readonly offer: Offer | null;
}

/** Everything that a new set changes for people, at a time in milliseconds since 1970. */
export function changesForPeople(
  before: LabelSet,
  after: LabelSet,
  people: readonly PersonFacts[],
  at: number,
): PersonChange[] {
  return people.flatMap((person) =>
    CARRIERS.flatMap((carrier): PersonChange[] => {
      const old = offeredTo(before, person, carrier, at);
      const now = offeredTo(after, person, carrier, at);
      const had = new Map((old?.labels ?? []).map(({ id, name }) => [id, name]));
      const has = new Map((now?.labels ?? []).map(({ id, name }) => [id, name]));
      const gains = [...has].flatMap(([id, name]) => (had.has(id) ? [] : [name]));
      const loses = [...had].flatMap(([id, name]) => (has.has(id) ? [] : [name]));
      const terms = (offer: Offer | undefined): string =>
        offer ? JSON.stringify([offer.starts, offer.needs, offer.lowering, offer.follows]) : '';
      const otherTerms = terms(old?.offer) !== terms(now?.offer);
      return gains.length + loses.length > 0 || otherTerms
        ? [{ address: person.address, carrier, gains, loses, otherTerms, offer: now?.offer ?? null }]
        : [];
    }),
  );
}
