import { isUnder } from '../../directory/address.js';
import { audienceWithin } from '../../directory/audience.js';
import {
  type Condition,
  type FindingsCondition,
  isGroup,
  isOverTime,
  type LeafCondition,
  type WindowCondition,
} from '../model/conditions.js';
import { windowKey } from '../evaluate/windows.js';

/**
 * Whether every movement that meets `one` surely meets `other`, going by what is written alone. Sound and not complete:
 * true is certain, false may only mean that it cannot be told.
 */
export function implies(one: Condition, other: Condition): boolean {
  if (other.kind === 'all') return other.of.every((part) => implies(one, part));
  if (one.kind === 'any') return one.of.every((part) => implies(part, other));
  if (other.kind === 'any' && other.of.some((part) => implies(one, part))) return true;
  if (other.kind === 'any' && coversBothSides(other.of)) return hasRecipients(one);
  if (one.kind === 'all') return one.of.some((part) => implies(part, other)) || isImpossible(one);
  if (one.kind === 'none' && other.kind === 'none')
    return other.of.every((part) => one.of.some((refused) => implies(part, refused)));
  if (isGroup(one) || isGroup(other)) return false;
  return leafImplies(one, other);
}

/** Whether a rule that asks `other` of a movement surely leaves it alone when `one` holds. */
function contradicts(one: Condition, other: Condition): boolean {
  if (one.kind === 'none') return one.of.some((part) => implies(other, part));
  if (other.kind === 'none') return other.of.some((part) => implies(one, part));
  if (one.kind === 'recipient' && other.kind === 'recipient')
    return one.side !== other.side && (one.quantity === 'every' || other.quantity === 'every');
  if (one.kind === 'channel' && other.kind === 'channel')
    return !one.channels.some((channel) => other.channels.includes(channel));
  if (isOfStates(one) && isOfStates(other) && one.kind === other.kind)
    return !overlap(one.states, other.states);
  return false;
}

/** Whether no movement can meet a condition, as far as that can be told. */
export function isImpossible(condition: Condition): boolean {
  if (condition.kind === 'any') return condition.of.length > 0 && condition.of.every(isImpossible);
  if (condition.kind === 'none') return condition.of.some(isCertain);
  if (isOfStates(condition)) return condition.states.length === 0;
  if (condition.kind !== 'all') return condition.kind === 'channel' && condition.channels.length === 0;
  const flat = flattened(condition);
  return flat.some(
    (part, at) => isImpossible(part) || flat.slice(at + 1).some((other) => contradicts(part, other)),
  );
}

type OfStates = LeafCondition & { readonly kind: 'connection' | 'machine' | 'network' };

function isOfStates(condition: Condition): condition is OfStates {
  return condition.kind === 'connection' || condition.kind === 'machine' || condition.kind === 'network';
}

const overlap = (one: readonly string[], other: readonly string[]): boolean =>
  one.some((each) => other.includes(each));

function flattened(condition: Condition): Condition[] {
  return condition.kind === 'all' ? condition.of.flatMap(flattened) : [condition];
}

/** Whether no movement that goes anywhere can fail a condition. */
export function isCertain(condition: Condition): boolean {
  if (condition.kind === 'all') return condition.of.every(isCertain);
  if (condition.kind === 'any') return condition.of.some(isCertain) || coversBothSides(condition.of);
  if (condition.kind === 'none') return condition.of.length > 0 && condition.of.every(isImpossible);
  return (condition.kind === 'reach' || condition.kind === 'size') && leastOf(condition) <= 0;
}

const leastOf = (condition: { atLeast?: number; atLeastKilobytes?: number }): number =>
  condition.atLeast ?? condition.atLeastKilobytes ?? 0;

/** A list of sides that leaves no recipient out. */
function coversBothSides(conditions: readonly Condition[]): boolean {
  const sides = conditions.flatMap((part) =>
    part.kind === 'recipient' && part.quantity === 'any' ? [part.side] : [],
  );
  return sides.includes('inside') && sides.includes('outside');
}

/** Only a movement with recipients can meet this. */
function hasRecipients(condition: Condition): boolean {
  if (condition.kind === 'all') return condition.of.some(hasRecipients);
  return (
    condition.kind === 'recipient' ||
    condition.kind === 'domain' ||
    condition.kind === 'country' ||
    condition.kind === 'receivers'
  );
}

function leafImplies(one: LeafCondition, other: LeafCondition): boolean {
  if (one.kind === 'findings' && other.kind === 'findings') return findingsImply(one, other);
  if (one.kind === 'recipient' && other.kind === 'recipient')
    return one.side === other.side && quantityImplies(one.quantity, other.quantity);
  if (one.kind === 'domain' && other.kind === 'domain')
    return (
      quantityImplies(one.quantity, other.quantity) &&
      one.domains.every((host) => other.domains.some((domain) => isUnder(host.toLowerCase(), domain)))
    );
  if (one.kind === 'reach' && other.kind === 'reach')
    return one.atLeast >= other.atLeast && (one.side === other.side || one.side === 'outside');
  if (one.kind === 'size' && other.kind === 'size') return one.atLeastKilobytes >= other.atLeastKilobytes;
  if (one.kind === 'sender' && other.kind === 'sender') return audienceWithin(one.people, other.people);
  if (one.kind === 'receivers' && other.kind === 'receivers')
    return quantityImplies(one.quantity, other.quantity) && audienceWithin(one.people, other.people);
  if (one.kind === 'unreadable' && other.kind === 'unreadable') return within(one.reasons, other.reasons);
  if (one.kind === 'channel' && other.kind === 'channel')
    return one.channels.every((channel) => other.channels.includes(channel));
  if (one.kind === 'exchange' && other.kind === 'exchange') return within(one.exchanges, other.exchanges);
  if (isOfStates(one) && isOfStates(other))
    return one.kind === other.kind && within<string>(one.states, other.states);
  if (one.kind === 'rows' && other.kind === 'rows') return one.atLeast >= other.atLeast;
  if (one.kind === 'columns' && other.kind === 'columns') return one.atLeast >= other.atLeast;
  if (isOverTime(one) && isOverTime(other)) return windowImplies(one, other);
  if (one.kind === 'link' && other.kind === 'link') return within(one.links, other.links);
  if (
    (one.kind === 'taken-from' && other.kind === 'taken-from') ||
    (one.kind === 'put-into' && other.kind === 'put-into')
  )
    return one.spots.every((term) => other.spots.some((each) => isSame(each, term)));
  if (one.kind === 'label' && other.kind === 'label')
    return one.carries === other.carries && (one.carries === 'none' || within(one.labels, other.labels));
  return JSON.stringify(one) === JSON.stringify(other);
}

const isSame = (one: unknown, other: unknown): boolean => JSON.stringify(one) === JSON.stringify(other);

const quantityImplies = (one: 'any' | 'every', other: 'any' | 'every'): boolean =>
  one === other || one === 'every';

/** A larger amount over the same stretch; different stretches say nothing of each other. */
function windowImplies(one: WindowCondition, other: WindowCondition): boolean {
  return (
    one.kind === other.kind &&
    windowKey(one) === windowKey(other) &&
    one.atLeast >= other.atLeast &&
    (one.kind !== 'usual' || other.kind !== 'usual' || one.times >= other.times)
  );
}

/** Whether what `narrow` names is among what `wide` names; naming nothing means everything. */
function within<Item>(narrow: readonly Item[], wide: readonly Item[]): boolean {
  return wide.length === 0 || (narrow.length > 0 && narrow.every((item) => wide.includes(item)));
}

function findingsImply(one: FindingsCondition, other: FindingsCondition): boolean {
  if (one.pattern !== other.pattern || one.certainty < other.certainty) return false;
  if (!within(one.where, other.where)) return false;
  // Two findings may be one value, so a count of findings says of values only that there is one.
  const least = other.distinct && !one.distinct ? Math.min(1, one.atLeast) : one.atLeast;
  return least >= other.atLeast;
}
