import type { Permission, WaitingView } from '@lantern/contracts';
import type { PersonEntity } from '../../directory/person.entity.js';
import { holding } from '../../platform/auth/grants.js';
import type { Caller } from '../../platform/auth/permit.js';
import type { Outcome } from './pending.service.js';
import type { PendingEntity } from './pending.entity.js';

/** Who ends what nobody answered. */
export const SYSTEM = 'Uncut Lantern';

/** What a reply to an ask says; nobody's is the system's own. */
export function replyOf(state: Outcome['state'], by: string): string {
  if (by === SYSTEM) return 'no-reply';
  return state === 'went-on' ? 'work' : 'mistake';
}

/** The reply that a proof of identity leaves for filters. */
export function proofReplyOf(state: Outcome['state'], by: string): string {
  if (state === 'went-on') return 'proved';
  return state === 'taken-back' && by === SYSTEM ? 'no-reply' : 'not-proved';
}

/** What the history says of an outcome. */
export const OUTCOMES = { 'went-on': 'It goes on', 'taken-back': 'Taken back', refused: 'It stays' } as const;

/** Why an account cannot decide. */
export const REFUSALS = {
  own: 'You cannot decide about your own movements.',
  'not-permitted': 'Your account may not decide about these movements.',
  'persons-own-reply': 'Only the person can answer this question.',
} as const;

/** The permission that deciding takes. */
export const neededFor = ({ decides }: Pick<PendingEntity, 'decides'>): Permission =>
  decides === 'authors' ? 'policies.write' : 'overrides.decide';

/**
 * Why an account cannot decide about something that waits; null if it can. `isWithin` says whether it lies within the
 * limits with which the account may decide.
 */
export function whyNot(
  entry: PendingEntity,
  person: PersonEntity | undefined,
  caller: Caller,
  isWithin: boolean,
): WaitingView['refusal'] {
  if (entry.kind === 'ask' || entry.kind === 'prove') return 'persons-own-reply';
  const held = holding(caller.grants, neededFor(entry));
  const own = held.some(({ inPlaceOf }) => inPlaceOf === null);
  // A deputy has no more to say about the absent person's own movements than that person.
  const acting = own ? [caller.email] : [caller.email, ...held.map(({ inPlaceOf }) => inPlaceOf)];
  const address = person?.address.toLowerCase();
  if (address !== undefined && acting.some((one) => one?.toLowerCase() === address)) return 'own';
  return held.length > 0 && isWithin ? null : 'not-permitted';
}
