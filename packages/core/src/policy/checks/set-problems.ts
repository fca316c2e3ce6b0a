import { answersOf, strength } from '../model/answers.js';
import { spotProblems } from './condition-problems.js';
import type { Condition } from '../model/conditions.js';
import { CHANNELS } from '../../movement/movement.js';
import { implies } from './implies.js';
import { patternsOfRule } from '../evaluate/patterns-of-rule.js';
import type { Problem, ProblemContext } from './problem.js';
import { catches, policyProblems } from './problems.js';
import { coversPlace } from '../model/whereabouts.js';
import { type Policy, type PolicySet, type Rule } from '../model/rule.js';
import { isOver } from '../../shared/day.js';

/** A problem of the whole set, with the policy where it stands; null for the set itself. */
export interface SetProblem {
  readonly policy: string | null;
  readonly problem: Problem;
}

/** What the checks of a set need beside what those of a policy need. */
export interface SetContext extends Omit<ProblemContext, 'otherNames' | 'texts' | 'exchanges' | 'spots'> {
  /** Own patterns for which no specimen is kept; ready patterns carry their examples. */
  readonly withoutSpecimens: ReadonlySet<string>;
}

/** Everything worth saying about a set, policy by policy in reading order, the set's own last. */
export function setProblems(set: PolicySet, context: SetContext): SetProblem[] {
  const exchanges = new Set<string>(set.exchanges.map(({ id }) => id));
  const spots = new Set<string>(set.spots.map(({ id }) => id));
  const twice = idsOfSeveral(set);
  const ofPolicies = set.policies.flatMap((policy) => {
    const otherNames = set.policies.filter(({ id }) => id !== policy.id).map(({ name }) => name);
    const problems = [
      ...policyProblems(policy, { ...context, texts: set.texts, exchanges, spots, otherNames }),
      ...unproven(policy, context.withoutSpecimens),
      ...sameIds(policy, twice),
      ...overlooked(policy, set),
      ...guestsForgotten(policy, set),
    ];
    return problems.map((problem) => ({ policy: policy.id, problem }));
  });
  const own = [...ownProblems(set, context.at), ...placesUncovered(set, context)];
  return [...ofPolicies, ...own.map((problem) => ({ policy: null, problem }))];
}

/** Ids that more than one rule of the set has. */
function idsOfSeveral({ policies }: PolicySet): ReadonlySet<string> {
  const seen = new Set<string>();
  const twice = new Set<string>();
  for (const { id } of policies.flatMap(({ rules }) => rules)) {
    if (seen.has(id)) twice.add(id);
    seen.add(id);
  }
  return twice;
}

function sameIds({ rules }: Policy, twice: ReadonlySet<string>): Problem[] {
  return rules.flatMap(({ id }, index): Problem[] =>
    twice.has(id) ? [{ code: 'duplicate-rule', path: ['rules', index, 'id'], value: id }] : [],
  );
}

function unproven({ rules }: Policy, without: ReadonlySet<string>): Problem[] {
  const said = new Set<string>();
  return rules.flatMap((rule, index) =>
    patternsOfRule(rule).flatMap((pattern): Problem[] => {
      if (!without.has(pattern) || said.has(pattern)) return [];
      said.add(pattern);
      return [{ code: 'pattern-without-specimens', path: ['rules', index], value: pattern }];
    }),
  );
}

const strongest = (rule: Rule): number => Math.max(-1, ...rule.bands.map(({ answer }) => strength(answer)));
const weakest = (rule: Rule): number => Math.min(9, ...rule.bands.map(({ answer }) => strength(answer)));

/** Rules whose answer another one always outdoes, and rules that ask the same and answer otherwise. */
function overlooked(policy: Policy, set: PolicySet): Problem[] {
  const others = set.policies
    .filter(
      (other) =>
        JSON.stringify(other.people) === JSON.stringify(policy.people) &&
        JSON.stringify(other.shared) === JSON.stringify(policy.shared) &&
        JSON.stringify(other.where) === JSON.stringify(policy.where) &&
        policy.channels.every((channel) => other.channels.includes(channel)),
    )
    .flatMap((other) =>
      other.rules.map((rule, at) => ({ other, rule, at, demanded: demandedOf(rule.when) })),
    );
  return policy.rules.flatMap((rule, index): Problem[] => {
    const path = ['rules', index];
    const own = new Set(patternsOfRule(rule));
    const found = others.find(
      (each) =>
        each.rule.id !== rule.id &&
        each.demanded.every((pattern) => own.has(pattern)) &&
        !reachedAfter(each, policy, index) &&
        catches(each.rule, rule) &&
        isOtherAnswer(each, rule, index),
    );
    if (!found) return [];
    const value = `${found.other.name}, ${found.at + 1}`;
    const same = asksTheSame(found.rule, rule);
    return [{ code: same ? 'contradicting' : 'shadowed', path, value }];
  });
}

/** Patterns without which a condition cannot hold: a rule that never speaks of them is not caught by it. */
function demandedOf(condition: Condition): string[] {
  if (condition.kind === 'findings' || condition.kind === 'fields') return [condition.pattern];
  return condition.kind === 'all' ? condition.of.flatMap(demandedOf) : [];
}

interface Placed {
  readonly other: Policy;
  readonly rule: Rule;
  readonly at: number;
}

/** A later rule of a policy that this rule ends is not read with it, and an earlier one that ends it is told already. */
function reachedAfter({ other, rule, at }: Placed, policy: Policy, index: number): boolean {
  if (other.id !== policy.id) return false;
  return at > index ? policy.rules.slice(index, at).some(({ endsPolicy }) => endsPolicy) : rule.endsPolicy;
}

/** The other's weakest answer is at least as strong as this one's strongest: this one never decides. */
function isOtherAnswer({ rule: other, at, other: policy }: Placed, rule: Rule, index: number): boolean {
  if (weakest(other) > strongest(rule)) return true;
  const earlier = policy.rules.some(({ id }) => id === rule.id) && at < index;
  return weakest(other) === strongest(rule) && earlier && !asksTheSame(other, rule);
}

function asksTheSame(one: Rule, other: Rule): boolean {
  return catches(one, other) && catches(other, one);
}

/** A rule about what leaves by mail, whose content a guest of a chat may get from the same people. */
function guestsForgotten(policy: Policy, set: PolicySet): Problem[] {
  if (policy.channels.includes('chat')) return [];
  const onChat = set.policies.filter(({ channels }) => channels.includes('chat'));
  return policy.rules.flatMap((rule, index): Problem[] => {
    if (!asksOutside(rule.when) || strongest(rule) < strength('ask')) return [];
    const open = patternsOfRule(rule).filter(
      (pattern) =>
        !onChat.some((other) => other.rules.some((each) => patternsOfRule(each).includes(pattern))),
    );
    return open.length > 0
      ? [{ code: 'guests-forgotten', path: ['rules', index], value: open.join(', ') }]
      : [];
  });
}

const OUTSIDE: Condition = { kind: 'recipient', quantity: 'any', side: 'outside' };

function asksOutside(when: Condition): boolean {
  return implies(when, OUTSIDE);
}

/** Places of the directory that every policy for drives leaves out; where no policy is for drives, that is said once. */
function placesUncovered({ policies }: PolicySet, { machines }: SetContext): Problem[] {
  const onDrives = policies.filter(({ channels }) => channels.includes('drive'));
  if (!machines || onDrives.length === 0) return [];
  return [...machines.places]
    .filter((path) => !onDrives.some(({ where }) => coversPlace(where, path)))
    .map((path) => ({ code: 'place-uncovered', path: [], value: path }));
}

/** A group of spots names no other group. */
const NO_GROUPS: ReadonlySet<string> = new Set();

function ownProblems({ policies, exchanges, spots }: PolicySet, at: number): Problem[] {
  const open = CHANNELS.filter(
    (channel) =>
      answersOf([channel]).length > 0 && !policies.some(({ channels }) => channels.includes(channel)),
  );
  return [
    ...open.map((channel): Problem => ({ code: 'channel-uncovered', path: [], value: channel })),
    ...spots.flatMap((group): Problem[] =>
      spotProblems(group.spots, { spots: NO_GROUPS }, []).map(({ code, value }) => ({
        code,
        path: [],
        value: value === undefined ? group.name : `${group.name}: ${value}`,
      })),
    ),
    ...exchanges
      .filter(({ until }) => until !== null && isOver(until, at))
      .map(({ name }): Problem => ({ code: 'exchange-over', path: [], value: name })),
  ];
}
