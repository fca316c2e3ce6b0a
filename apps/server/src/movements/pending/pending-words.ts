import { createHash } from 'node:crypto';
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

/** Who is next in line, in a history. */
export const NEXT_WORDS = { approvers: 'Approvers', authors: 'Policy authors' } as const;

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

/** What two people agree about: one movement, or the same terms for days to come. Begins with the id of what waits. */
export function subjectOf(
  id: string,
  standing: { readonly days: number; readonly to: readonly string[] } | undefined,
): string {
  if (!standing) return id;
  const destinations = createHash('sha256')
    .update(JSON.stringify([...standing.to].sort()))
    .digest('hex');
  return `${id} ${standing.days} ${destinations.slice(0, 16)}`;
}

/** Days that such a subject is about; null where it is about one movement alone. */
export function daysAgreed(subject: string): number | null {
  const [, days] = subject.split(' ');
  return days === undefined ? null : Number(days);
}
