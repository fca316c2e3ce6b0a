import { domainOf, isUnder } from '../../directory/address.js';
import { spotName } from '../../movement/location.js';
import type { Channel, InspectedMovement, Recipient } from '../../movement/movement.js';
import type { Spot } from '../../movement/location.js';
import type { RuleId } from '../../shared/brand.js';
import { weigh } from '../evaluate/evaluate.js';
import type { Match, Verdict } from '../evaluate/verdict.js';

/** What an approver allows one person for a time, without a change of the published rules. */
export interface StandingApproval {
  readonly id: string;
  /** Counts its changes, from 1. */
  readonly version: number;
  /** Address of the person it is for. */
  readonly person: string;
  readonly channel: Channel;
  /** Rules whose holds and blocks it lifts; others answer as before. */
  readonly rules: readonly RuleId[];
  /** Addresses, sites, devices and applications; `@domain` stands for every address there. Other destinations are not allowed. */
  readonly to: readonly string[];
  /** Milliseconds since 1970, UTC; `until` is the first instant without it. */
  readonly since: number;
  readonly until: number;
  /** Digest of the only content that it is for; null for any. */
  readonly content: string | null;
  /** Who gave it. */
  readonly by: string;
}

/** Longest time in days. What is needed for longer is an approved exchange, which is reviewed. Common practice, no source. */
export const MAX_APPROVAL_DAYS = 90;

/** Where a movement goes that an approval must name: people outside, and places, sites and devices. */
export function destinationsToApprove({
  recipients,
  into = [],
}: {
  readonly recipients: readonly Pick<Recipient, 'address' | 'outside'>[];
  readonly into?: readonly Spot[] | undefined;
}): string[] {
  const outside = recipients.filter((recipient) => recipient.outside).map(({ address }) => address);
  const names = [...outside, ...into.map(spotName)].map((name) => name.toLowerCase());
  return [...new Set(names)];
}

/** What an approval may name for a destination: itself, or every address at its domain, and nothing wider. */
export function namesFor(destination: string): string[] {
  return destination.includes('@') ? [destination, `@${domainOf(destination)}`] : [destination];
}

/** Whether a list of destinations names one: by itself or by its domain. */
export function isNamed(to: readonly string[], destination: string): boolean {
  const name = destination.toLowerCase();
  return to.some((each) => {
    const allowed = each.toLowerCase();
    if (!allowed.startsWith('@')) return allowed === name;
    return name.includes('@') && isUnder(domainOf(name), allowed.slice(1));
  });
}

/**
 * Applies standing approvals to a verdict: matches that they allow become notes. Everything else stays: rules that no
 * approval names, label restrictions, unfinished reading, and requests for a second factor.
 */
export function withApprovals(
  verdict: Verdict,
  movement: InspectedMovement,
  approvals: readonly StandingApproval[],
  content: string | null,
): Verdict {
  if (verdict.forbidden || verdict.unfinished || approvals.length === 0) return verdict;
  let changed = false;
  const matches = verdict.matches.map((match) => {
    const found = isStopping(match) ? approvals.find((each) => covers(each, match, movement, content)) : null;
    if (!found) return match;
    changed = true;
    const { id, version, by, until } = found;
    return { ...match, answer: 'note', cut: 'approval', approval: { id, version, by, until } } as const;
  });
  return changed ? { ...verdict, ...weigh(matches) } : verdict;
}

/** Ids of the approvals that lifted a match of a verdict, each once. */
export function approvalsUsed({ matches }: Pick<Verdict, 'matches'>): readonly string[] {
  return [...new Set(matches.flatMap(({ approval }) => (approval ? [approval.id] : [])))];
}

const isStopping = ({ answer }: Match): boolean => answer === 'hold' || answer === 'block';

function covers(
  approval: StandingApproval,
  { rule, recipients }: Match,
  movement: InspectedMovement,
  content: string | null,
): boolean {
  const { person, channel, rules, to, since, until } = approval;
  if (person.toLowerCase() !== movement.sender.address.toLowerCase() || channel !== movement.channel)
    return false;
  if (movement.at < since || movement.at >= until || !rules.includes(rule)) return false;
  if (approval.content !== null && approval.content !== content) return false;
  const meant =
    recipients === null
      ? movement.recipients
      : movement.recipients.filter(({ address }) => recipients.includes(address));
  const destinations = destinationsToApprove({ recipients: meant, into: movement.into });
  return destinations.every((each) => isNamed(to, each));
}
