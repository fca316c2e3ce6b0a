import type { PolicyId, RuleId } from '../shared/brand.js';
import type { Channel } from './movement.js';

/** What happens to a movement, weakest first. */
export const ANSWERS = ['note', 'advise', 'ask', 'hold', 'block'] as const;
export type Answer = (typeof ANSWERS)[number];

/** How bad it is, least first. */
export const SEVERITIES = ['low', 'medium', 'high', 'critical'] as const;
export type Severity = (typeof SEVERITIES)[number];

/** Answers that each channel can give today. */
export const CHANNEL_ANSWERS: Readonly<Record<Channel, readonly Answer[]>> = { mail: ['note', 'block'] };

/** Content holds at least so many findings of a pattern at a certainty. */
export interface FindingsCondition {
  readonly kind: 'findings';
  readonly pattern: string;
  readonly atLeast: number;
  /** Count a value that appears twice once. */
  readonly distinct: boolean;
  /** 0 to 100. */
  readonly certainty: number;
}

/** Some part of the item could not be read. */
export interface UnreadableCondition {
  readonly kind: 'unreadable';
}

/** Where the recipients are; `any` holds for one, `every` for all. An item without recipients goes nowhere. */
export interface RecipientCondition {
  readonly kind: 'recipient';
  readonly quantity: 'any' | 'every';
  readonly side: 'outside' | 'inside';
}

/** A recipient under one of these domains or their sub-domains. */
export interface DomainCondition {
  readonly kind: 'domain';
  readonly quantity: 'any' | 'every';
  readonly domains: readonly string[];
}

export interface GroupCondition {
  readonly kind: 'all' | 'any' | 'none';
  readonly of: readonly Condition[];
}

export type Condition =
  FindingsCondition | UnreadableCondition | RecipientCondition | DomainCondition | GroupCondition;

export interface Rule {
  readonly id: RuleId;
  readonly when: Condition;
  /** The rule does not hold when this does. */
  readonly unless: Condition | null;
  readonly answer: Answer;
  readonly severity: Severity;
  /** What the sender reads; empty where the answer is silent. */
  readonly notice: string;
  /** Later rules of this policy are not read when this one holds. */
  readonly endsPolicy: boolean;
}

export interface Policy {
  readonly id: PolicyId;
  readonly name: string;
  readonly purpose: string;
  readonly channels: readonly Channel[];
  readonly rules: readonly Rule[];
}

/** Place of an answer on the scale, 0 for the weakest. */
export function strength(answer: Answer): number {
  return ANSWERS.indexOf(answer);
}
