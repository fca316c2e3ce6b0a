import { countFindings, type Finding } from '../detection/finding.js';
import { assertNever } from '../shared/assert-never.js';
import type { InspectedMovement, Recipient } from './movement.js';
import type { Condition, DomainCondition, FindingsCondition, RecipientCondition } from './rule.js';

/** A condition with the value that was met, so that a verdict can be read. The sentence for it is the web's. */
export interface ConditionTrace {
  readonly condition: Condition;
  readonly held: boolean;
  /** Count that was compared: findings, unreadable parts, or recipients of the wanted kind. */
  readonly value: number;
  /** What the value was counted out of, where that says something: recipients, parts. */
  readonly outOf?: number;
  /** Names that made it hold: domains, paths. Never content. */
  readonly names: readonly string[];
  readonly parts: readonly ConditionTrace[];
}

/** Evaluates a condition; every member of a group is evaluated, so that the trace is whole. */
export function evaluateCondition(condition: Condition, movement: InspectedMovement): ConditionTrace {
  switch (condition.kind) {
    case 'findings':
      return evaluateFindings(condition, movement);
    case 'unreadable': {
      const unreadable = movement.parts.filter((part) => part.status === 'unreadable');
      const names = unreadable.map((part) => part.path.join(' › '));
      return leaf(condition, unreadable.length > 0, {
        value: unreadable.length,
        outOf: movement.parts.length,
        names,
      });
    }
    case 'recipient':
    case 'domain':
      return evaluateRecipients(condition, movement.recipients);
    case 'all':
    case 'any':
    case 'none': {
      const parts = condition.of.map((part) => evaluateCondition(part, movement));
      const holding = parts.filter((part) => part.held).length;
      const held =
        condition.kind === 'all'
          ? holding === parts.length
          : condition.kind === 'any'
            ? holding > 0
            : holding === 0;
      return { condition, held, value: holding, outOf: parts.length, names: [], parts };
    }
    default:
      return assertNever(condition);
  }
}

function leaf(
  condition: Condition,
  held: boolean,
  met: { readonly value: number; readonly outOf?: number; readonly names: readonly string[] },
): ConditionTrace {
  return { condition, held, ...met, parts: [] };
}

function evaluateFindings(condition: FindingsCondition, movement: InspectedMovement): ConditionTrace {
  const findings = findingsOf(movement);
  const counted = countFindings(findings, condition.pattern, condition.certainty);
  const value = condition.distinct ? counted.distinct : counted.findings;
  return leaf(condition, value >= condition.atLeast, { value, names: [] });
}

/** All findings of an item, over its parts. */
export function findingsOf(movement: InspectedMovement): Finding[] {
  return movement.parts.flatMap((part) => (part.status === 'read' ? part.findings : []));
}

function evaluateRecipients(
  condition: RecipientCondition | DomainCondition,
  recipients: readonly Recipient[],
): ConditionTrace {
  const meant = recipients.filter((recipient) => isMeant(condition, recipient));
  const held =
    condition.quantity === 'any'
      ? meant.length > 0
      : recipients.length > 0 && meant.length === recipients.length;
  const names = [...new Set(meant.map((recipient) => domainOf(recipient.address)))];
  return leaf(condition, held, { value: meant.length, outOf: recipients.length, names });
}

function isMeant(condition: RecipientCondition | DomainCondition, recipient: Recipient): boolean {
  if (condition.kind === 'recipient') return recipient.outside === (condition.side === 'outside');
  return condition.domains.some((domain) => isUnder(domainOf(recipient.address), domain));
}

/** The part of an address behind its last `@`, lower case; empty where there is none. */
export function domainOf(address: string): string {
  const at = address.lastIndexOf('@');
  return at === -1 ? '' : address.slice(at + 1).toLowerCase();
}

/** Whether `host` is `domain` or stands under it: `evilpartner.example` is not under `partner.example`. */
export function isUnder(host: string, domain: string): boolean {
  const wanted = domain.toLowerCase();
  return host === wanted || host.endsWith(`.${wanted}`);
}
