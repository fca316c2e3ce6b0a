import type { Finding } from '../detection/finding.js';
import { domainOf } from './address.js';
import { isMeant } from './audience.js';
import { meet, type Scene } from './condition.js';
import {
  type Condition,
  type DomainCondition,
  isGroup,
  type LeafCondition,
  type Measure,
} from './conditions.js';
import { bandFor, isForOthers, isPastRule, type Judgement, type Match, matchOf, weigh } from './evaluate.js';
import type { InspectedMovement, PartRole } from './movement.js';
import type { Policy, PolicySet, Rule } from './rule.js';

/** Judges movements by one set, without keeping the way: what replay and the doors run. */
export interface Judge {
  judge(movement: InspectedMovement): Judgement;
}

/** A condition whose equal copies in other rules are the same object, so that it is asked once a movement. */
type Compiled =
  | { readonly kind: 'leaf'; readonly at: number; readonly ask: (asking: Asking) => boolean }
  | { readonly kind: 'all' | 'any' | 'none'; readonly of: readonly Compiled[] };

interface CompiledRule {
  readonly policy: number;
  readonly rule: Rule;
  readonly when: Compiled;
  readonly unless: Compiled | null;
}

/**
 * Compiles a set. Equal clauses of all rules are asked once a movement, and a rule that cannot hold without a finding
 * of some pattern is only looked at when the item holds one. Gives what `evaluate` gives, less the trace (held by test).
 */
export function compilePolicies(set: PolicySet): Judge {
  const clauses = new Map<string, Compiled & { kind: 'leaf' }>();
  const compile = (condition: Condition): Compiled => {
    if (isGroup(condition)) return { kind: condition.kind, of: condition.of.map(compile) };
    const key = JSON.stringify(condition);
    const known = clauses.get(key);
    if (known) return known;
    const made = { kind: 'leaf', at: clauses.size, ask: askOf(condition) } as const;
    clauses.set(key, made);
    return made;
  };
  const shared = set.policies.map((policy) => policy.shared && compile(policy.shared));
  const rules = set.policies.flatMap((policy, at) =>
    policy.rules.map((rule): CompiledRule => ({
      policy: at,
      rule,
      when: compile(rule.when),
      unless: rule.unless && compile(rule.unless),
    })),
  );
  const { byPattern, always } = indexRules(rules);
  return {
    judge: (movement) => {
      const asking = new Asking({ movement, exchanges: set.exchanges }, clauses.size);
      const candidates = candidatesOf(asking.found, byPattern, always);
      return weigh(readRules(candidates, rules, { set, shared, asking }));
    },
  };
}

/** Which rules wait for which pattern, in reading order; the others are always looked at. */
function indexRules(rules: readonly CompiledRule[]): {
  readonly byPattern: ReadonlyMap<string, readonly number[]>;
  readonly always: readonly number[];
} {
  const byPattern = new Map<string, number[]>();
  const always: number[] = [];
  rules.forEach(({ rule }, at) => {
    const needed = neededBy(rule);
    if (!needed) always.push(at);
    for (const pattern of needed ?? []) {
      const waiting = byPattern.get(pattern) ?? [];
      waiting.push(at);
      byPattern.set(pattern, waiting);
    }
  });
  return { byPattern, always };
}

/** Patterns of which at least one must be found for the rule to hold; null where it can hold without any. */
function neededBy(rule: Rule): ReadonlySet<string> | null {
  const { measure } = rule;
  // A band from 0 holds for an item without any finding.
  if (measure && rule.bands.every((band) => band.from > 0)) return new Set([measure.pattern]);
  return neededFor(rule.when);
}

function neededFor(condition: Condition): ReadonlySet<string> | null {
  if (condition.kind === 'findings') return condition.atLeast > 0 ? new Set([condition.pattern]) : null;
  if (condition.kind === 'all') {
    const needs = condition.of.map(neededFor).filter((needed) => needed !== null);
    return needs.sort((left, right) => left.size - right.size)[0] ?? null;
  }
  if (condition.kind !== 'any' || condition.of.length === 0) return null;
  const together = new Set<string>();
  for (const part of condition.of) {
    const needed = neededFor(part);
    if (!needed) return null;
    for (const pattern of needed) together.add(pattern);
  }
  return together;
}

function candidatesOf(
  found: ReadonlyMap<string, unknown>,
  byPattern: ReadonlyMap<string, readonly number[]>,
  always: readonly number[],
): readonly number[] {
  const lists = [...found.keys()].flatMap((pattern) => {
    const waiting = byPattern.get(pattern);
    return waiting ? [waiting] : [];
  });
  if (lists.length === 0) return always;
  const [only] = lists;
  if (lists.length === 1 && always.length === 0 && only) return only;
  return [...new Set([...always, ...lists.flat()])].sort((left, right) => left - right);
}

interface Reading {
  readonly set: PolicySet;
  readonly shared: readonly (Compiled | null)[];
  readonly asking: Asking;
}

function readRules(candidates: readonly number[], rules: readonly CompiledRule[], reading: Reading): Match[] {
  const { set, shared, asking } = reading;
  const { movement } = asking.scene;
  const matches: Match[] = [];
  let current = -1;
  let closed = false;
  for (const at of candidates) {
    const each = rules[at] as CompiledRule;
    const policy = set.policies[each.policy] as Policy;
    if (each.policy !== current) {
      current = each.policy;
      closed = !applies(policy, shared[current] ?? null, asking);
    }
    if (closed) continue;
    const { rule } = each;
    if (isPastRule(rule, movement) || isForOthers(rule, movement)) continue;
    if (!asking.holds(each.when) || (each.unless && asking.holds(each.unless))) continue;
    const counted = rule.measure && asking.measure(rule.measure);
    const band = bandFor(rule, counted);
    if (band === null) continue;
    matches.push(matchOf(policy, rule, { at: band, counted }, movement));
    closed = rule.endsPolicy;
  }
  return matches;
}

function applies(policy: Policy, shared: Compiled | null, asking: Asking): boolean {
  const { movement } = asking.scene;
  return (
    policy.channels.includes(movement.channel) &&
    isMeant(policy.people, movement.sender) &&
    (!shared || asking.holds(shared))
  );
}

interface Found {
  readonly role: PartRole;
  readonly finding: Finding;
}

/** One movement while it is judged: what was found in it by pattern, and what was already asked. */
class Asking {
  readonly found: ReadonlyMap<string, readonly Found[]>;
  /** 0 not asked, 1 no, 2 yes. */
  private readonly known: Uint8Array;
  private hostsAbove: readonly ReadonlySet<string>[] | undefined;

  constructor(
    readonly scene: Scene,
    clauses: number,
  ) {
    this.known = new Uint8Array(clauses);
    this.found = foundIn(scene.movement);
  }

  holds(condition: Compiled): boolean {
    switch (condition.kind) {
      case 'all':
        return condition.of.every((part) => this.holds(part));
      case 'any':
        return condition.of.some((part) => this.holds(part));
      case 'none':
        return !condition.of.some((part) => this.holds(part));
      case 'leaf': {
        const known = this.known[condition.at];
        if (known) return known === 2;
        const held = condition.ask(this);
        this.known[condition.at] = held ? 2 : 1;
        return held;
      }
    }
  }

  measure({ pattern, distinct, certainty, where }: Measure): number {
    const values = new Set<string>();
    let count = 0;
    for (const { role, finding } of this.found.get(pattern) ?? []) {
      if (finding.certainty < certainty || (where.length > 0 && !where.includes(role))) continue;
      count += 1;
      if (distinct) values.add(finding.canonical);
    }
    return distinct ? values.size : count;
  }

  /** The host of every recipient with all that it stands under, so that a list of domains is a few look-ups. */
  get hosts(): readonly ReadonlySet<string>[] {
    this.hostsAbove ??= this.scene.movement.recipients.map(({ address }) => {
      const parts = domainOf(address).split('.');
      return new Set(parts.map((_part, from) => parts.slice(from).join('.')));
    });
    return this.hostsAbove;
  }
}

function foundIn(movement: InspectedMovement): Map<string, Found[]> {
  const found = new Map<string, Found[]>();
  for (const part of movement.parts) {
    if (part.status !== 'read') continue;
    for (const finding of part.findings) {
      const list = found.get(finding.pattern);
      if (list) list.push({ role: part.role, finding });
      else found.set(finding.pattern, [{ role: part.role, finding }]);
    }
  }
  return found;
}

function askOf(condition: LeafCondition): (asking: Asking) => boolean {
  if (condition.kind === 'findings') return (asking) => asking.measure(condition) >= condition.atLeast;
  if (condition.kind === 'domain') return askDomains(condition);
  return (asking) => meet(condition, asking.scene).held;
}

function askDomains({ domains, quantity }: DomainCondition): (asking: Asking) => boolean {
  const wanted = new Set(domains.map((domain) => domain.toLowerCase()));
  const isWanted = (above: ReadonlySet<string>): boolean => {
    for (const host of above) if (wanted.has(host)) return true;
    return false;
  };
  return ({ hosts }) =>
    quantity === 'any' ? hosts.some(isWanted) : hosts.length > 0 && hosts.every(isWanted);
}
