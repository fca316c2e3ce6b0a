import type { InspectedMovement } from '../../movement/movement.js';
import type { TrustScope } from '../model/answers.js';
import type { Judgement } from './verdict.js';

/** Terms of a request for a second factor. */
export interface ProofAsked {
  /** Minutes without a new request after a right code; 0 asks every time. */
  readonly minutes: number;
  readonly trusts: TrustScope;
}

/**
 * The request for a second factor that keeps a movement waiting; null if there is none. Hold and block outrank it. If several
 * rules ask, the shortest time and the narrowest place count.
 */
export function proofAsked({
  answer,
  treatments,
  believed,
}: Pick<Judgement, 'answer' | 'treatments'> & { readonly believed?: boolean }): ProofAsked | null {
  if (believed === true || answer === 'hold' || answer === 'block') return null;
  const asked = treatments.filter((treatment) => treatment.kind === 'ask-who');
  if (asked.length === 0) return null;
  return {
    minutes: Math.min(...asked.map(({ minutes }) => minutes)),
    trusts: asked.some(({ trusts }) => trusts === 'same-application') ? 'same-application' : 'everywhere',
  };
}

/** Place in which a confirmed identity counts for a movement: its application or, without one, its channel. */
export function trustPlace({ channel, from = [] }: Pick<InspectedMovement, 'channel' | 'from'>): string {
  const application = from.find((spot) => spot.kind === 'application');
  return application ? `application ${application.name.toLowerCase()}` : `channel ${channel}`;
}

/** Longest time in minutes that one confirmation counts: a working day. Common practice, no source. */
export const MAX_TRUST_MINUTES = 12 * 60;
