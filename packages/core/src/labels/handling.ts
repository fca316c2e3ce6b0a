import type { PersonFacts } from '../directory/person.js';
import { type Audience, isMeant } from '../directory/audience.js';
import { assertNever } from '../shared/assert-never.js';

/** What somebody can do with an item. */
export const EFFECTS = ['read', 'change', 'take-out', 'make-another', 'pass-on'] as const;
export type Effect = (typeof EFFECTS)[number];

/** Some people who may, for ever or for a time. */
export interface Grant {
  /** Empty `with` names everybody, also outside. */
  readonly to: Audience;
  /** Days after the label was set; null for no end. */
  readonly days: number | null;
}

/** For whom an effect is open. */
export type EffectTerms =
  | { readonly kind: 'anyone' }
  | { readonly kind: 'inside' }
  /** Only those named; nobody but the owner where nobody is. */
  | { readonly kind: 'named'; readonly grants: readonly Grant[] }
  /** Whoever sets the label names them. */
  | { readonly kind: 'setter' };

export type Handling = Readonly<Record<Effect, EffectTerms>>;

export const OPEN_HANDLING: Handling = {
  read: { kind: 'anyone' },
  change: { kind: 'anyone' },
  'take-out': { kind: 'anyone' },
  'make-another': { kind: 'anyone' },
  'pass-on': { kind: 'anyone' },
};

/** Somebody who wants to do something. */
export interface Handler extends PersonFacts {
  readonly outside: boolean;
}

/** People whom the setter named for an effect. */
export type Named = Readonly<Partial<Record<Effect, readonly string[]>>>;

/** An item as handling asks about it. */
export interface HandledItem {
  /** Address of the owner, who keeps every effect; empty where nobody is known to own it. */
  readonly owner: string;
  /** Null for an item without a label: everything is open. */
  readonly handling: Handling | null;
  /** When the label was set, in milliseconds since 1970, UTC. */
  readonly since: number;
  readonly named: Named;
}

/** Which clause decided. `until` is in milliseconds since 1970, null for no end; `grant` counts from 0. */
export type Clause =
  | { readonly code: 'owner' | 'no-label' | 'anyone' | 'inside' | 'named-by-setter' }
  | { readonly code: 'granted'; readonly grant: number; readonly until: number | null }
  | { readonly code: 'over'; readonly grant: number; readonly until: number }
  | { readonly code: 'outside' | 'not-granted' | 'not-named-by-setter' | 'cannot-read' }
  /** What the label of the place says where it lies. */
  | {
      readonly code:
        'place-copies' | 'place-machine' | 'place-network' | 'place-outside' | 'place-link' | 'place-sign-in';
    };

export interface Leave {
  readonly allowed: boolean;
  readonly clause: Clause;
}

const DAY = 86_400_000;

/**
 * Whether somebody may do something with an item now, and which clause says so. Whoever may not read may do nothing.
 * `now` in milliseconds since 1970, UTC.
 */
export function mayDo(effect: Effect, person: Handler, item: HandledItem, now: number): Leave {
  if (item.owner !== '' && person.address.toLowerCase() === item.owner.toLowerCase())
    return yes({ code: 'owner' });
  if (!item.handling) return yes({ code: 'no-label' });
  if (effect !== 'read' && !mayDo('read', person, item, now).allowed) return no({ code: 'cannot-read' });
  const terms = item.handling[effect];
  switch (terms.kind) {
    case 'anyone':
      return yes({ code: 'anyone' });
    case 'inside':
      return person.outside ? no({ code: 'outside' }) : yes({ code: 'inside' });
    case 'setter': {
      const named = (item.named[effect] ?? []).some(
        (each) => each.toLowerCase() === person.address.toLowerCase(),
      );
      return named ? yes({ code: 'named-by-setter' }) : no({ code: 'not-named-by-setter' });
    }
    case 'named':
      return byGrants(terms.grants, person, item.since, now);
    default:
      return assertNever(terms);
  }
}

/** The grant that lasts longest decides; one that is over is told where no other holds. */
function byGrants(grants: readonly Grant[], person: Handler, since: number, now: number): Leave {
  const mine = grants.flatMap(({ to, days }, grant) =>
    isMeant(to, person) ? [{ grant, until: days === null ? null : since + days * DAY }] : [],
  );
  const longest = mine.reduce<(typeof mine)[number] | null>(
    (best, each) =>
      best === null || each.until === null || (best.until !== null && each.until > best.until) ? each : best,
    null,
  );
  if (!longest) return no({ code: 'not-granted' });
  return longest.until === null || longest.until > now
    ? yes({ code: 'granted', grant: longest.grant, until: longest.until })
    : no({ code: 'over', grant: longest.grant, until: longest.until });
}

const yes = (clause: Clause): Leave => ({ allowed: true, clause });
const no = (clause: Clause): Leave => ({ allowed: false, clause });

/** Effects that are left to the person who sets the label. */
export function leftToSetter(handling: Handling): Effect[] {
  return EFFECTS.filter((effect) => handling[effect].kind === 'setter');
}

/** Whether nothing is limited: such a label says how to handle an item and enforces nothing. */
export function isOpen(handling: Handling): boolean {
  return EFFECTS.every((effect) => handling[effect].kind === 'anyone');
}
