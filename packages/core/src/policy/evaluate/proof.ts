import type { InspectedMovement } from '../../movement/movement.js';
import type { TrustScope } from '../model/answers.js';
import type { Judgement } from './verdict.js';

/** That the person shows again who they are, and for how long and where they are then believed. */
export interface ProofAsked {
  /** Minutes after a right proof in which it is not asked again; 0 asks each time. */
  readonly minutes: number;
  readonly trusts: TrustScope;
}

/**
 * Whether a movement waits until its person has shown who they are; null where it does not. What is held or blocked does
 * not get so far. Where several rules ask, the shortest trust in the narrowest place holds.
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

/** Where a movement happens, as trust knows it: the application it is done in or, without one, its channel. */
export function trustPlace({ channel, from = [] }: Pick<InspectedMovement, 'channel' | 'from'>): string {
  const application = from.find((spot) => spot.kind === 'application');
  return application ? `application ${application.name.toLowerCase()}` : `channel ${channel}`;
}

/** Longest time that somebody is believed after one proof: a working day. Common practice, no source. */
export const MAX_TRUST_MINUTES = 12 * 60;
