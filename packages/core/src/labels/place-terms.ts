import { type Audience, isMeant } from '../directory/audience.js';
import type { Clause, Effect, Handler, Leave } from './handling.js';

/** Who sees that a place exists. */
export const FINDERS = ['its-people', 'inside'] as const;
export type Finder = (typeof FINDERS)[number];

/** How somebody inside comes in. */
export const ENTRIES = ['owner-adds', 'by-themselves'] as const;
export type Entry = (typeof ENTRIES)[number];

/** For whom outside something of the place may open. */
export const OUTSIDE_TERMS = ['nobody', 'named', 'named-and-links'] as const;
export type OutsideTerm = (typeof OUTSIDE_TERMS)[number];

/** What a machine may do there that the organisation does not look after, or one that comes over a foreign network. */
export const STRANGE_MACHINES = ['as-any', 'look-only', 'closed'] as const;
export type StrangeMachine = (typeof STRANGE_MACHINES)[number];

/** Whether copies may be taken out of a place: downloads, prints, syncs, and saving elsewhere. */
export type CopyTerms =
  | { readonly kind: 'free' }
  | {
      readonly kind: 'none';
      /** People who may all the same; owners and administrators are not among them unless named. Null for nobody. */
      readonly except: Audience | null;
      /** Kinds of file that may be taken out by everybody. */
      readonly kinds: readonly string[];
    };

/** What a label asks of a place that carries it. */
export interface PlaceTerms {
  readonly found: Finder;
  readonly entry: Entry;
  readonly outside: OutsideTerm;
  /** Whoever holds a link must sign in before it opens. */
  readonly signIn: boolean;
  readonly strange: StrangeMachine;
  /** The same over networks that the organisation does not trust; left out for as on any. */
  readonly network?: StrangeMachine;
  readonly copies: CopyTerms;
}

/** A place without a label, or under one that asks nothing of places. */
export const OPEN_PLACE: PlaceTerms = {
  found: 'inside',
  entry: 'by-themselves',
  outside: 'named-and-links',
  signIn: false,
  strange: 'as-any',
  copies: { kind: 'free' },
};

/** Something in a place that somebody wants to do something with. */
export interface InPlace {
  /** Whether the organisation looks after the machine; nothing known counts as looked after, as on the network inside. */
  readonly strange: boolean;
  /** Whether it is reached over a network that the organisation does not trust; nothing known counts as trusted. */
  readonly foreign?: boolean;
  /** What its bytes are. */
  readonly kind: string;
  /** It opens, or is to open, by a link for whoever holds it. */
  readonly byLink: boolean;
  /** Whether whoever comes by a link has said who they are. */
  readonly signedIn: boolean;
  /** For sharing: whether what is opened reaches outside. */
  readonly reachesOutside: boolean;
}

/**
 * Whether the place lets somebody do something with what lies there, and which clause says so. It asks everybody alike:
 * owners of items keep nothing beside it. The terms of an item's own label come on top.
 */
export function mayInPlace(effect: Effect, person: Handler, item: InPlace, terms: PlaceTerms): Leave {
  const refusal = refusalOf(effect, person, item, terms);
  return refusal
    ? { allowed: false, clause: { code: refusal } }
    : { allowed: true, clause: { code: 'anyone' } };
}

type PlaceClause = Extract<Clause['code'], `place-${string}`>;

function refusalOf(
  effect: Effect,
  person: Handler,
  { strange, foreign = false, kind, byLink, signedIn, reachesOutside }: InPlace,
  terms: PlaceTerms,
): PlaceClause | null {
  if (strange && terms.strange === 'closed') return 'place-machine';
  if (foreign && terms.network === 'closed') return 'place-network';
  const leaves = person.outside || (effect === 'pass-on' && reachesOutside);
  if (leaves && terms.outside === 'nobody') return 'place-outside';
  if (leaves && byLink && terms.outside === 'named') return 'place-link';
  if (byLink && effect !== 'pass-on' && terms.signIn && !signedIn) return 'place-sign-in';
  if (effect === 'read' || effect === 'pass-on') return null;
  if (strange && terms.strange === 'look-only') return 'place-machine';
  if (foreign && terms.network === 'look-only') return 'place-network';
  if (effect === 'change') return null;
  return isCopyFree(terms.copies, person, kind) ? null : 'place-copies';
}

function isCopyFree(copies: CopyTerms, person: Handler, kind: string): boolean {
  if (copies.kind === 'free' || copies.kinds.includes(kind)) return true;
  return copies.except !== null && isMeant(copies.except, person);
}

/** Whether somebody inside who was not added comes in by themselves. */
export function opensByItself(terms: PlaceTerms): boolean {
  return terms.entry === 'by-themselves';
}

/** Whether a place asks anything of anybody. */
export function isOpenPlace(terms: PlaceTerms): boolean {
  return (
    terms.found === 'inside' &&
    terms.entry === 'by-themselves' &&
    terms.outside === 'named-and-links' &&
    !terms.signIn &&
    terms.strange === 'as-any' &&
    (terms.network ?? 'as-any') === 'as-any' &&
    terms.copies.kind === 'free'
  );
}
