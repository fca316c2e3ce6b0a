/** The quick judge held to the whole evaluation, and that to a plain reading of the law, over random sets. */
import { chance, someCondition, someMovement, someSet } from '@lantern/testkit';
import { incidentOf } from '../../incidents/incident.js';
import { ANSWERS, SEVERITIES, strength } from '../model/answers.js';
import { isMeant } from '../../directory/audience.js';
import { type ConditionTrace, evaluateCondition, measureOf, type Scene } from './condition.js';
import { evaluate } from './evaluate.js';
import { implies, isCertain, isImpossible } from '../checks/implies.js';
import { compilePolicies } from './judge.js';
import type { InspectedMovement, Recipient } from '../../movement/movement.js';
import type { PolicySet, Rule } from '../model/rule.js';
import { isThere } from '../model/whereabouts.js';

const SEED = 4600;

/** Matches by the law as product.md words it: no trace, no index, no sharing. */
function plainMatches({ policies, exchanges, spots }: PolicySet, movement: InspectedMovement): string[] {
  const holds = (condition: Parameters<typeof evaluateCondition>[0]) =>
    evaluateCondition(condition, { movement, exchanges, spots }).held;
  const holdsFor = (rule: Rule, recipient: Recipient) => {
    const scene = { movement, exchanges, spots, recipients: [recipient] };
    return (
      evaluateCondition(rule.when, scene).held && !(rule.unless && evaluateCondition(rule.unless, scene).held)
    );
  };
  const day = new Date(movement.at).toISOString().slice(0, 10);
  const matched: string[] = [];
  for (const policy of policies) {
    if (!policy.channels.includes(movement.channel) || !isMeant(policy.people, movement.sender)) continue;
    if (!isThere(policy.where, movement)) continue;
    if (policy.shared && !holds(policy.shared)) continue;
    for (const rule of policy.rules) {
      if (rule.people && !isMeant(rule.people, movement.sender)) continue;
      if (rule.silence && rule.silence.until < day) continue;
      const apart = rule.perRecipient && movement.recipients.length > 0;
      const meant = movement.recipients.filter((recipient) => apart && holdsFor(rule, recipient));
      if (apart ? meant.length === 0 : !holds(rule.when) || (rule.unless && holds(rule.unless))) continue;
      const count = rule.measure ? measureOf(rule.measure, movement) : 1;
      const band = rule.measure
        ? rule.bands.find(({ from, to }) => from <= count && count <= (to ?? Infinity))
        : rule.bands[0];
      if (!band) continue;
      const ceiling = policy.ceilings.find(
        ({ people, until }) => isMeant(people, movement.sender) && (until === null || until >= day),
      )?.answer;
      const early = rule.bindsFrom !== null && day < rule.bindsFrom;
      const most = early ? 'note' : !ceiling || ceiling === 'as-written' ? 'block' : ceiling;
      const whom = apart ? ` for ${meant.map(({ address }) => address).join()}` : '';
      matched.push(`${rule.id} ${ANSWERS[Math.min(strength(band.answer), strength(most))] ?? ''}${whom}`);
      if (rule.endsPolicy) break;
    }
  }
  return matched;
}

/** What a traced rule was asked of: the recipients it held for, or all. */
function sceneOf(
  { exchanges, spots }: PolicySet,
  movement: InspectedMovement,
  meant: readonly string[] | null,
): Scene {
  if (!meant || meant.length === 0) return { movement, exchanges, spots };
  const recipients = movement.recipients.filter(({ address }) => meant.includes(address));
  return { movement, exchanges, spots, recipients };
}

const tracesOf = (trace: ConditionTrace): ConditionTrace[] => [trace, ...trace.parts.flatMap(tracesOf)];

describe(`judging beside a plain evaluation, seed ${SEED}`, () => {
  const random = chance(SEED);
  const cases = Array.from({ length: 1_500 }, () => ({
    set: someSet(random),
    movement: someMovement(random),
  }));

  it('meets conditions often enough to mean something', () => {
    const matched = cases.filter(({ set, movement }) => evaluate(set, movement).matches.length > 0).length;
    expect(matched).toBeGreaterThan(300);
    expect(matched).toBeLessThan(1_400);
  });

  it('finds the same matches with the same answers in the same order', () => {
    for (const { set, movement } of cases) {
      const found = evaluate(set, movement).matches.map(
        ({ rule, answer, recipients }) => `${rule} ${answer}${recipients ? ` for ${recipients.join()}` : ''}`,
      );
      expect(found).toEqual(plainMatches(set, movement));
    }
  });

  it('judges the same without a trace', () => {
    for (const { set, movement } of cases) {
      const { trace: _trace, ...judgement } = evaluate(set, movement);
      expect(compilePolicies(set).judge(movement)).toEqual(judgement);
    }
  });

  it('judges one movement after the other with the same judge', () => {
    const [first] = cases;
    if (!first) throw new Error('no cases');
    const judge = compilePolicies(first.set);
    for (const { movement } of cases.slice(0, 300)) {
      const { trace: _trace, ...judgement } = evaluate(first.set, movement);
      expect(judge.judge(movement)).toEqual(judgement);
    }
  });

  it('gives the strongest answer, decided by the first that gives it', () => {
    for (const { set, movement } of cases) {
      const { answer, decidedBy, matches } = evaluate(set, movement);
      const strongest = Math.max(-1, ...matches.map((match) => strength(match.answer)));
      expect(answer).toBe(ANSWERS[strongest] ?? null);
      expect(decidedBy).toEqual(matches.find((match) => strength(match.answer) === strongest) ?? null);
    }
  });

  it('leaves no rule out of the trace, and every value stands beside its condition', () => {
    for (const { set, movement } of cases) {
      const { trace, matches } = evaluate(set, movement);
      for (const [index, policy] of set.policies.entries()) {
        const traced = trace[index];
        if (!traced?.applies) continue;
        expect(traced.rules.map((rule) => rule.rule)).toEqual(policy.rules.map((rule) => rule.id));
        for (const rule of traced.rules) {
          expect(rule.read && rule.held).toBe(matches.some((match) => match.rule === rule.rule));
          if (!rule.read) continue;
          for (const { condition, held } of tracesOf(rule.when))
            expect(held).toBe(evaluateCondition(condition, sceneOf(set, movement, rule.recipients)).held);
        }
      }
    }
  });

  it('makes an incident of every movement that matched, with the worst severity, and of no other', () => {
    for (const { set, movement } of cases) {
      const verdict = evaluate(set, movement);
      const incident = incidentOf(movement, verdict);
      expect(incident === null).toBe(verdict.matches.length === 0);
      if (!incident) continue;
      const worst = Math.max(...verdict.matches.map((match) => SEVERITIES.indexOf(match.severity)));
      expect(incident.severity).toBe(SEVERITIES[worst]);
    }
  });

  it('does not change what it is given', () => {
    for (const { set, movement } of cases.slice(0, 100)) {
      const before = JSON.stringify({ set, movement });
      evaluate(set, movement);
      compilePolicies(set).judge(movement);
      expect(JSON.stringify({ set, movement })).toBe(before);
    }
  });
});

describe(`what conditions imply, seed ${SEED}`, () => {
  const random = chance(SEED);
  const movements = Array.from({ length: 400 }, () => someMovement(random));
  const { exchanges, spots } = someSet(random);
  const conditions = Array.from({ length: 250 }, () => someCondition(random, 2));
  const heldBy = conditions.map((condition) =>
    movements.map((movement) => evaluateCondition(condition, { movement, exchanges, spots }).held),
  );

  it('never claims an implication that a movement refutes', () => {
    let claims = 0;
    conditions.forEach((one, at) => {
      conditions.forEach((other, beside) => {
        if (at === beside || !implies(one, other)) return;
        claims += 1;
        const refuted = movements.findIndex(
          (_each, index) => heldBy[at]?.[index] && !heldBy[beside]?.[index],
        );
        if (refuted !== -1) throw new Error(`${JSON.stringify(one)} does not imply ${JSON.stringify(other)}`);
      });
    });
    expect(claims).toBeGreaterThan(100);
  });

  it('calls nothing impossible that happens, and nothing certain that fails', () => {
    conditions.forEach((condition, at) => {
      const goes = movements.map((movement) => movement.recipients.length > 0);
      if (isImpossible(condition)) expect(heldBy[at]).not.toContain(true);
      if (isCertain(condition)) expect(heldBy[at]?.filter((held, index) => !held && goes[index])).toEqual([]);
    });
  });

  it('knows that a condition implies itself', () => {
    for (const condition of conditions) expect(implies(condition, condition)).toBe(true);
  });
});
