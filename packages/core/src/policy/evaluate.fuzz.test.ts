/** The evaluation held to a plain one, written apart from it, over random policies and movements. */
import { chance, type Chance } from '@lantern/testkit';
import type { Finding } from '../detection/finding.js';
import type { PatternId, PolicyId, RawOffset, RuleId } from '../shared/brand.js';
import { incidentOf } from '../incidents/incident.js';
import { type ConditionTrace } from './condition.js';
import { evaluate } from './evaluate.js';
import type { InspectedMovement } from './movement.js';
import { ANSWERS, type Condition, type Policy, type Rule, SEVERITIES } from './rule.js';

const SEED = 4600;
const PATTERNS = ['card', 'iban', 'words'];
const DOMAINS = ['a.example', 'b.example', 'sub.a.example', 'nota.example', 'own.example'];

function someFindings(random: Chance): Finding[] {
  return Array.from({ length: random.whole(0, 6) }, () => ({
    pattern: random.pick(PATTERNS) as PatternId,
    start: 0 as RawOffset,
    end: 1 as RawOffset,
    certainty: random.pick([10, 50, 80, 81, 100]),
    evidence: [],
    canonical: String(random.whole(1, 3)),
    rivals: [],
  }));
}

function someMovement(random: Chance): InspectedMovement {
  return {
    channel: 'mail',
    sender: { address: 'me@own.example' },
    recipients: Array.from({ length: random.whole(0, 3) }, () => {
      const domain = random.pick(DOMAINS);
      return { address: `x@${domain}`, outside: domain !== 'own.example' };
    }),
    parts: Array.from({ length: random.whole(0, 3) }, (_unused, index) =>
      random.happens(0.2)
        ? {
            status: 'unreadable' as const,
            role: 'attachment' as const,
            path: [String(index)],
            reason: 'corrupt' as const,
          }
        : {
            status: 'read' as const,
            role: 'body' as const,
            path: [String(index)],
            characters: 1,
            findings: someFindings(random),
          },
    ),
  };
}

function someCondition(random: Chance, depth: number): Condition {
  const kind = random.pick(
    depth > 0
      ? ['findings', 'unreadable', 'recipient', 'domain', 'all', 'any', 'none']
      : ['findings', 'unreadable', 'recipient', 'domain'],
  );
  const quantity = random.pick(['any', 'every'] as const);
  switch (kind) {
    case 'findings':
      return {
        kind,
        pattern: random.pick(PATTERNS),
        atLeast: random.whole(1, 4),
        distinct: random.happens(0.5),
        certainty: random.pick([0, 50, 80, 100]),
      };
    case 'recipient':
      return { kind, quantity, side: random.pick(['inside', 'outside'] as const) };
    case 'domain':
      return { kind, quantity, domains: [random.pick(DOMAINS), random.pick(DOMAINS)] };
    case 'all':
    case 'any':
    case 'none':
      return { kind, of: Array.from({ length: random.whole(1, 3) }, () => someCondition(random, depth - 1)) };
    default:
      return { kind: 'unreadable' };
  }
}

function somePolicies(random: Chance): Policy[] {
  return Array.from({ length: random.whole(1, 3) }, (_unused, policy) => ({
    id: `p${policy}` as PolicyId,
    name: `p${policy}`,
    purpose: '',
    channels: random.happens(0.9) ? (['mail'] as const) : [],
    rules: Array.from({ length: random.whole(1, 4) }, (_rule, rule): Rule => ({
      id: `p${policy}r${rule}` as RuleId,
      when: someCondition(random, 2),
      unless: random.happens(0.3) ? someCondition(random, 1) : null,
      answer: random.pick(ANSWERS),
      severity: random.pick(SEVERITIES),
      notice: '',
      endsPolicy: random.happens(0.3),
    })),
  }));
}

/** Whether a condition holds, said as briefly as the definition in words. */
function plainlyHolds(condition: Condition, { parts, recipients }: InspectedMovement): boolean {
  const among = (test: (address: { address: string; outside: boolean }) => boolean, every: boolean) =>
    every ? recipients.length > 0 && recipients.every(test) : recipients.some(test);
  switch (condition.kind) {
    case 'findings': {
      const values = parts
        .flatMap((part) => (part.status === 'read' ? [...part.findings] : []))
        .filter(
          (finding) => finding.pattern === condition.pattern && finding.certainty >= condition.certainty,
        )
        .map((finding) => finding.canonical);
      return (condition.distinct ? new Set(values).size : values.length) >= condition.atLeast;
    }
    case 'unreadable':
      return parts.some((part) => part.status === 'unreadable');
    case 'recipient':
      return among((each) => each.outside === (condition.side === 'outside'), condition.quantity === 'every');
    case 'domain':
      return among(
        (each) =>
          condition.domains.some((domain) => `.${each.address.split('@')[1] ?? ''}`.endsWith(`.${domain}`)),
        condition.quantity === 'every',
      );
    case 'all':
      return condition.of.every((part) => plainlyHolds(part, { parts, recipients } as InspectedMovement));
    case 'any':
      return condition.of.some((part) => plainlyHolds(part, { parts, recipients } as InspectedMovement));
    case 'none':
      return !condition.of.some((part) => plainlyHolds(part, { parts, recipients } as InspectedMovement));
  }
}

function plainMatches(policies: readonly Policy[], movement: InspectedMovement): string[] {
  const matched: string[] = [];
  for (const policy of policies) {
    if (!policy.channels.includes('mail')) continue;
    for (const rule of policy.rules) {
      const holds =
        plainlyHolds(rule.when, movement) && !(rule.unless && plainlyHolds(rule.unless, movement));
      if (holds) matched.push(rule.id);
      if (holds && rule.endsPolicy) break;
    }
  }
  return matched;
}

const tracesOf = (trace: ConditionTrace): ConditionTrace[] => [trace, ...trace.parts.flatMap(tracesOf)];

describe(`evaluate beside a plain evaluation, seed ${SEED}`, () => {
  const random = chance(SEED);
  const cases = Array.from({ length: 400 }, () => ({
    policies: somePolicies(random),
    movement: someMovement(random),
  }));

  it('finds the same matches in the same order', () => {
    for (const { policies, movement } of cases) {
      expect(evaluate(policies, movement).matches.map((match) => match.rule)).toEqual(
        plainMatches(policies, movement),
      );
    }
  });

  it('gives the strongest answer, decided by a rule that gives it', () => {
    for (const { policies, movement } of cases) {
      const { answer, decidedBy, matches } = evaluate(policies, movement);
      const strongest = [...matches].sort(
        (left, right) => ANSWERS.indexOf(right.answer) - ANSWERS.indexOf(left.answer),
      )[0];
      expect(answer).toBe(strongest?.answer ?? null);
      expect(decidedBy).toEqual(matches.find((match) => match.answer === strongest?.answer) ?? null);
    }
  });

  it('leaves no rule out of the trace, and says of each whether it was read', () => {
    for (const { policies, movement } of cases) {
      const { trace, matches } = evaluate(policies, movement);
      for (const [index, policy] of policies.entries()) {
        const traced = trace[index];
        expect(traced?.rules.map((rule) => rule.rule)).toEqual(
          policy.channels.length > 0 ? policy.rules.map((rule) => rule.id) : [],
        );
        for (const rule of traced?.rules ?? []) {
          if (!rule.read) continue;
          expect(rule.held).toBe(matches.some((match) => match.rule === rule.rule));
          for (const step of tracesOf(rule.when))
            expect(step.held).toBe(plainlyHolds(step.condition, movement));
        }
      }
    }
  });

  it('makes an incident of every movement that matched, with the worst severity, and of no other', () => {
    for (const { policies, movement } of cases) {
      const verdict = evaluate(policies, movement);
      const incident = incidentOf(movement, verdict);
      expect(incident === null).toBe(verdict.matches.length === 0);
      if (!incident) continue;
      const worst = Math.max(...verdict.matches.map((match) => SEVERITIES.indexOf(match.severity)));
      expect(incident.severity).toBe(SEVERITIES[worst]);
      expect(incident.urgency.total).toBeGreaterThan(0);
    }
  });

  it('does not change what it is given', () => {
    for (const { policies, movement } of cases.slice(0, 50)) {
      const before = JSON.stringify({ policies, movement });
      evaluate(policies, movement);
      expect(JSON.stringify({ policies, movement })).toBe(before);
    }
  });
});
