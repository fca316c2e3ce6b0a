import type { WaitingView } from '@lantern/contracts';
import type { PersonEntity } from '../../directory/person.entity.js';
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

/** Why an account cannot decide about something that waits; null if it can. */
export function whyNot(
  entry: PendingEntity,
  person: PersonEntity | undefined,
  caller: Caller,
): WaitingView['refusal'] {
  if (entry.kind === 'ask' || entry.kind === 'prove') return 'persons-own-reply';
  if (person?.address.toLowerCase() === caller.email.toLowerCase()) return 'own';
  const needed = entry.decides === 'authors' ? 'policies.write' : 'overrides.decide';
  return caller.permissions.includes(needed) ? null : 'not-permitted';
}
