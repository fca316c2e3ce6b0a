import type { Judgement, Match, PolicyTrace, RuleTrace, Verdict } from './verdict.js';
import type { RuleId } from '../../shared/brand.js';
import { type Answer, strength, type Treatment, weaker } from '../model/answers.js';
import { isMeant } from '../../directory/audience.js';
import { isThere } from '../model/whereabouts.js';
import { type ConditionTrace, evaluateCondition, measureOf, type Scene } from './condition.js';
import type { InspectedMovement } from '../../movement/movement.js';
import { type Band, type Policy, type PolicySet, type Rule } from '../model/rule.js';
import { isOver } from '../../shared/day.js';

/**
 * Reads policies in order and rules in order within each, and keeps the whole way. A rule that ends its policy ends
 * that one only; each answer is cut to its policy's ceiling; across policies the strongest answer wins, of equal ones
 * the first read; treatments add up.
 */
export function evaluate(set: PolicySet, movement: InspectedMovement): Verdict {
  const scene = { movement, exchanges: set.exchanges, spots: set.spots };
  const matches: Match[] = [];
  const trace = set.policies.map((policy) => evaluatePolicy(policy, scene, matches));
  return { ...weigh(matches), trace };
}

/** Makes one judgement of all matches. */
export function weigh(matches: readonly Match[]): Judgement {
  let decidedBy: Match | null = null;
  for (const match of matches) {
    if (!decidedBy || strength(match.answer) > strength(decidedBy.answer)) decidedBy = match;
  }
  return { answer: decidedBy?.answer ?? null, decidedBy, matches, treatments: treatmentsOf(matches) };
}

function treatmentsOf(matches: readonly Match[]): readonly Treatment[] {
  if (matches.every((match) => match.treatments.length === 0)) return NO_TREATMENTS;
  const all = matches.flatMap((match) =>
    match.treatments.map((each) => [JSON.stringify(each), each] as const),
  );
  return [...new Map(all).values()];
}

const NO_TREATMENTS: readonly Treatment[] = [];

/** What one recipient gets, where rules are asked of each of them. */
export interface RecipientJudgement extends Judgement {
  readonly address: string;
}

/** The judgement for each recipient. All are alike where no rule that held is asked of each of them. */
export function judgementsByRecipient(
  { matches }: Judgement,
  addresses: readonly string[],
): RecipientJudgement[] {
  return addresses.map((address) => ({
    address,
    ...weigh(matches.filter(({ recipients }) => recipients === null || recipients.includes(address))),
  }));
}

/** Whether some rule that held is about some of the recipients alone. */
export function isDivided({ matches }: Judgement): boolean {
  return matches.some(({ recipients }) => recipients !== null);
}

function evaluatePolicy(policy: Policy, scene: Scene, matches: Match[]): PolicyTrace {
  const { movement } = scene;
  const away = (because: 'channel' | 'people' | 'where'): PolicyTrace => ({
    policy: policy.id,
    applies: false,
    because,
    shared: null,
    rules: [],
  });
  if (!policy.channels.includes(movement.channel)) return away('channel');
  if (!isMeant(policy.people, movement.sender)) return away('people');
  if (!isThere(policy.where, movement)) return away('where');
  const shared = policy.shared && evaluateCondition(policy.shared, scene);
  const rules: RuleTrace[] = [];
  let endedBy: RuleId | undefined;
  for (const rule of policy.rules) {
    const unread = whyNotRead(rule, movement, shared);
    if (endedBy) rules.push({ rule: rule.id, read: false, because: 'policy-ended', by: endedBy });
    else if (unread) rules.push({ rule: rule.id, read: false, because: unread });
    else {
      const traced = evaluateRule(rule, scene);
      rules.push(traced);
      if (!traced.held || traced.band === null) continue;
      matches.push(
        matchOf(
          policy,
          rule,
          { at: traced.band, counted: traced.counted, recipients: traced.recipients },
          movement,
        ),
      );
      if (rule.endsPolicy) endedBy = rule.id;
    }
  }
  return { policy: policy.id, applies: true, shared, rules };
}

function whyNotRead(
  rule: Rule,
  movement: InspectedMovement,
  shared: ConditionTrace | null,
): 'other-people' | 'over' | 'shared-not-met' | null {
  if (shared && !shared.held) return 'shared-not-met';
  if (isPastRule(rule, movement)) return 'over';
  return isForOthers(rule, movement) ? 'other-people' : null;
}

/** A silent rule whose time is over. */
export function isPastRule(rule: Rule, movement: InspectedMovement): boolean {
  return rule.silence !== null && isOver(rule.silence.until, movement.at);
}

/** A rule that is for other people than the sender. */
export function isForOthers(rule: Rule, movement: InspectedMovement): boolean {
  return rule.people !== null && !isMeant(rule.people, movement.sender);
}

/**
 * A rule that is asked of each recipient is traced with those it holds for, or with all where it holds for none. If the
 * movement has no recipients, the rule is asked once, like every other rule.
 */
function evaluateRule(rule: Rule, scene: Scene): RuleTrace & { readonly read: true } {
  const { recipients } = scene.movement;
  if (!rule.perRecipient || recipients.length === 0) return { ...askRule(rule, scene), recipients: null };
  const held = recipients.filter((recipient) => askRule(rule, { ...scene, recipients: [recipient] }).held);
  if (held.length === 0) return { ...askRule(rule, scene), held: false, recipients: [] };
  const traced = askRule(rule, { ...scene, recipients: held });
  return { ...traced, held: true, recipients: held.map(({ address }) => address) };
}

function askRule(rule: Rule, scene: Scene): Omit<RuleTrace & { readonly read: true }, 'recipients'> {
  const when = evaluateCondition(rule.when, scene);
  const unless = rule.unless && evaluateCondition(rule.unless, scene);
  const counted = rule.measure && measureOf(rule.measure, scene.movement);
  const band = bandFor(rule, counted);
  const held = when.held && !unless?.held && band !== null;
  return { rule: rule.id, read: true, held, when, unless, measure: rule.measure, counted, band };
}

/** Which band a count falls in; a rule without a measure has its first. Null where there is none for it. */
export function bandFor(rule: Rule, counted: number | null): number | null {
  if (counted === null) return rule.bands.length > 0 ? 0 : null;
  const at = rule.bands.findIndex(
    (band: Band) => counted >= band.from && (band.to === null || counted <= band.to),
  );
  return at === -1 ? null : at;
}

/** The match of a rule that holds, with every cut applied. */
export function matchOf(
  policy: Policy,
  rule: Rule,
  band: {
    readonly at: number;
    readonly counted: number | null;
    readonly recipients: readonly string[] | null;
  },
  movement: InspectedMovement,
): Match {
  const given = rule.bands[band.at] as Band;
  const ceiling = ceilingFor(policy, movement);
  const early =
    rule.bindsFrom !== null &&
    (movement.made ?? movement.at) < Date.parse(`${rule.bindsFrom.slice(0, 10)}T00:00:00Z`);
  const answer = early ? 'note' : ceiling === 'as-written' ? given.answer : weaker(given.answer, ceiling);
  const cut = early ? 'made-before' : ceiling === 'as-written' ? null : 'ceiling';
  return {
    policy: policy.id,
    rule: rule.id,
    answer,
    written: given.answer,
    cut: cut === 'ceiling' && answer === given.answer && given.treatments.length === 0 ? null : cut,
    severity: given.severity,
    band: band.at,
    counted: band.counted,
    text: given.text,
    treatments: cut ? [] : given.treatments,
    silent: rule.silence !== null,
    recipients: band.recipients,
  };
}

/** The strongest answer a policy may give the sender now. */
export function ceilingFor(policy: Policy, movement: InspectedMovement): Answer | 'as-written' {
  const found = policy.ceilings.find(
    (ceiling) =>
      (ceiling.until === null || !isOver(ceiling.until, movement.at)) &&
      isMeant(ceiling.people, movement.sender),
  );
  return found?.answer ?? 'as-written';
}
