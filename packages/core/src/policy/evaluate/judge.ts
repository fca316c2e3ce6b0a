import { certaintyFor, type Finding, patternsOf } from '../../detection/model/finding.js';
import { domainOf } from '../../directory/address.js';
import { isMeant } from '../../directory/audience.js';
import { meet, type Scene } from './condition.js';
import {
  clausesOf,
  type Condition,
  type DomainCondition,
  isGroup,
  type LeafCondition,
  type Measure,
  patternAsked,
} from '../model/conditions.js';
import { bandFor, isForOthers, isPastRule, matchOf, weigh } from './evaluate.js';
import { type Judgement, type Match } from './verdict.js';
import {
  type InspectedMovement,
  type InspectedPart,
  isPlaced,
  type Recipient,
} from '../../movement/movement.js';
import { isThere } from '../model/whereabouts.js';
import { patternsOfRule } from './patterns-of-rule.js';
import type { Policy, PolicySet, Rule } from '../model/rule.js';

/** Judges movements by one set, without keeping the way: what replay and the doors run. */
export interface Judge {
  judge(movement: InspectedMovement): Judgement;
  /** Every pattern that some rule asks for: findings of others change nothing. Null where any may. */
  readonly asked: ReadonlySet<string> | null;
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
  const asked = patternsAsked(set);
  const candidates = new Candidates(rules.length, always);
  // An exchange that is for some patterns looks at what else an item holds.
  const asksForAll = usesExchanges(set) && set.exchanges.some(({ patterns }) => patterns.length > 0);
  return {
    asked: asksForAll ? null : asked,
    judge: (movement) => {
      const asking = new Asking(
        { movement, exchanges: set.exchanges, spots: set.spots },
        clauses.size,
        asked,
      );
      for (const pattern of asking.found.keys()) candidates.add(byPattern.get(pattern) ?? []);
      return weigh(readRules(candidates, rules, { set, shared, asking }));
    },
  };
}

function usesExchanges({ policies }: PolicySet): boolean {
  return policies.some(({ shared, rules }) =>
    [shared, ...rules.flatMap(({ when, unless }) => [when, unless])].some(
      (condition) => condition && clausesOf(condition).some(({ kind }) => kind === 'exchange'),
    ),
  );
}

function patternsAsked({ policies }: PolicySet): Set<string> {
  const shared = policies.flatMap((policy) => (policy.shared ? clausesOf(policy.shared) : []));
  const asked = shared.flatMap(patternAsked);
  return new Set([...asked, ...policies.flatMap(({ rules }) => rules.flatMap(patternsOfRule))]);
}

/** Rules to be looked at, as bits, so that they come in reading order without being sorted. Emptied while it is read. */
class Candidates {
  private readonly bits: Uint32Array;
  private readonly always: Uint32Array;

  constructor(rules: number, always: readonly number[]) {
    this.always = new Uint32Array((rules + 31) >>> 5);
    for (const at of always) this.always[at >>> 5] = (this.always[at >>> 5] as number) | (1 << (at & 31));
    this.bits = this.always.slice();
  }

  add(rules: readonly number[]): void {
    const { bits } = this;
    for (const at of rules) bits[at >>> 5] = (bits[at >>> 5] as number) | (1 << (at & 31));
  }

  /** Calls `visit` for each, lowest first, and leaves only those that are always looked at. */
  take(visit: (rule: number) => void): void {
    const { bits, always } = this;
    for (let word = 0; word < bits.length; word += 1) {
      let left = bits[word] as number;
      bits[word] = always[word] as number;
      while (left !== 0) {
        const lowest = left & -left;
        left ^= lowest;
        visit((word << 5) + 31 - Math.clz32(lowest));
      }
    }
  }
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

interface Reading {
  readonly set: PolicySet;
  readonly shared: readonly (Compiled | null)[];
  readonly asking: Asking;
}

function readRules(candidates: Candidates, rules: readonly CompiledRule[], reading: Reading): Match[] {
  const { set, shared, asking } = reading;
  const { movement } = asking.scene;
  const matches: Match[] = [];
  let current = -1;
  let closed = false;
  candidates.take((at) => {
    const each = rules[at] as CompiledRule;
    const policy = set.policies[each.policy] as Policy;
    if (each.policy !== current) {
      current = each.policy;
      closed = !applies(policy, shared[current] ?? null, asking);
    }
    if (closed) return;
    const { rule } = each;
    if (isPastRule(rule, movement) || isForOthers(rule, movement)) return;
    const apart = rule.perRecipient && movement.recipients.length > 0;
    const recipients = apart ? heldFor(each, asking) : null;
    if (apart ? recipients === null : !asking.meets(each)) return;
    const counted = rule.measure && asking.measure(rule.measure);
    const band = bandFor(rule, counted);
    if (band === null) return;
    matches.push(matchOf(policy, rule, { at: band, counted, recipients }, movement));
    closed = rule.endsPolicy;
  });
  return matches;
}

/** Recipients for whom a rule holds that is asked of each of them; null for none. */
function heldFor(rule: CompiledRule, asking: Asking): string[] | null {
  const held = asking.scene.movement.recipients.filter((recipient) => asking.alone(recipient).meets(rule));
  return held.length === 0 ? null : held.map(({ address }) => address);
}

function applies(policy: Policy, shared: Compiled | null, asking: Asking): boolean {
  const { movement } = asking.scene;
  return (
    policy.channels.includes(movement.channel) &&
    isMeant(policy.people, movement.sender) &&
    isThere(policy.where, movement) &&
    (!shared || asking.holds(shared))
  );
}

interface Found {
  readonly part: Pick<InspectedPart & { readonly status: 'read' }, 'role' | 'inner'>;
  readonly finding: Finding;
}

/** One movement while it is judged: what was found in it by pattern, and what was already asked. */
class Asking {
  readonly found: ReadonlyMap<string, readonly Found[]>;
  /** 0 not asked, 1 no, 2 yes. */
  private readonly known: Uint8Array;
  private hostsAbove: readonly ReadonlySet<string>[] | undefined;
  private apart: Map<Recipient, Asking> | undefined;

  constructor(
    readonly scene: Scene,
    clauses: number,
    found: ReadonlySet<string> | ReadonlyMap<string, readonly Found[]>,
  ) {
    this.known = new Uint8Array(clauses);
    this.found = found instanceof Map ? found : foundIn(scene.movement, found as ReadonlySet<string>);
  }

  /** The same movement as one recipient gets it. */
  alone(recipient: Recipient): Asking {
    this.apart ??= new Map();
    const known = this.apart.get(recipient);
    if (known) return known;
    const made = new Asking({ ...this.scene, recipients: [recipient] }, this.known.length, this.found);
    this.apart.set(recipient, made);
    return made;
  }

  /** Whether a rule's condition holds and its exception does not. */
  meets({ when, unless }: CompiledRule): boolean {
    return this.holds(when) && !(unless && this.holds(unless));
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

  measure(measure: Measure): number {
    return this.countUpTo(measure, Infinity);
  }

  reaches(measure: Measure, least: number): boolean {
    return this.countUpTo(measure, least) >= least;
  }

  /** Counts, and stops where the count comes to `most`. */
  private countUpTo({ pattern, distinct, certainty, where }: Measure, most: number): number {
    const found = this.found.get(pattern);
    if (!found || most <= 0) return 0;
    // One value needs no set: most items hold one.
    let first: string | undefined;
    let values: Set<string> | undefined;
    let count = 0;
    for (const { part, finding } of found) {
      if (certaintyFor(finding, pattern) < certainty || !isPlaced(where, part)) continue;
      const { canonical } = finding;
      if (!distinct || first === undefined) count += 1;
      else if (canonical !== first) count = (values ??= new Set([first])).add(canonical).size;
      first ??= canonical;
      if (count >= most) return count;
    }
    return count;
  }

  /** The host of every recipient with all that it stands under, so that a list of domains is a few look-ups. */
  get hosts(): readonly ReadonlySet<string>[] {
    this.hostsAbove ??= (this.scene.recipients ?? this.scene.movement.recipients).map(({ address }) =>
      hostAndAbove(domainOf(address)),
    );
    return this.hostsAbove;
  }
}

/** A host and every domain it stands under. */
function hostAndAbove(host: string): ReadonlySet<string> {
  const hosts = new Set([host]);
  for (let dot = host.indexOf('.'); dot !== -1; dot = host.indexOf('.', dot + 1))
    hosts.add(host.slice(dot + 1));
  return hosts;
}

/** Findings by pattern, of those some rule asks for. */
function foundIn(movement: InspectedMovement, asked: ReadonlySet<string>): Map<string, Found[]> {
  const found = new Map<string, Found[]>();
  for (const part of movement.parts) {
    if (part.status !== 'read') continue;
    for (const finding of part.findings) {
      for (const pattern of patternsOf(finding)) {
        const list = found.get(pattern);
        if (list) list.push({ part, finding });
        else if (asked.has(pattern)) found.set(pattern, [{ part, finding }]);
      }
    }
  }
  return found;
}

function askOf(condition: LeafCondition): (asking: Asking) => boolean {
  if (condition.kind === 'findings') return (asking) => asking.reaches(condition, condition.atLeast);
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
