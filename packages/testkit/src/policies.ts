import type { Finding } from '@lantern/core/detection';
import type { InspectedMovement } from '@lantern/core/movement';
import type {
  Answer,
  AnswerText,
  Band,
  Condition,
  FindingsCondition,
  Policy,
  PolicySet,
  Rule,
  Severity,
  TextId,
} from '@lantern/core/policy';
import type { PatternId, PolicyId, RawOffset, RuleId } from '@lantern/core/shared';

/** A text that rules of tests refer to. */
export const SOME_TEXT: AnswerText = {
  id: '7c0e5f5e-0000-4000-8000-000000000001' as TextId,
  name: 'Use the portal',
  words: [{ language: 'en', text: 'Use the portal.' }],
  guidance: '',
  contact: '',
};

export function findingOf(canonical: string, over: Partial<Finding> = {}): Finding {
  return {
    pattern: 'payment-card' as PatternId,
    start: 0 as RawOffset,
    end: 16 as RawOffset,
    certainty: 95,
    evidence: [],
    canonical,
    rivals: [],
    ...over,
  };
}

/** `count` different findings of payment cards. */
export function cardsFound(count: number, over: Partial<Finding> = {}): Finding[] {
  return Array.from({ length: count }, (_unused, index) => findingOf(String(index), over));
}

/** Ten in the morning of a Wednesday, UTC. */
export const SOME_TIME = Date.parse('2026-03-04T10:00:00Z');

/** A mail from inside to these addresses, whatever is found standing in its body. */
export function mailOf(
  findings: readonly Finding[],
  to: readonly string[],
  over: Partial<InspectedMovement> = {},
): InspectedMovement {
  return {
    channel: 'mail',
    at: SOME_TIME,
    sender: { address: 'a@merrowstrait.example' },
    recipients: to.map((address) => ({ address, outside: !address.endsWith('@merrowstrait.example') })),
    parts: [{ status: 'read', role: 'body', path: ['body'], characters: 100, findings }],
    files: [],
    earlier: [],
    ...over,
  };
}

export function findingsAsked(atLeast: number, over: Partial<FindingsCondition> = {}): FindingsCondition {
  return {
    kind: 'findings',
    pattern: 'payment-card',
    atLeast,
    distinct: true,
    certainty: 80,
    where: [],
    ...over,
  };
}

export const TO_OUTSIDE: Condition = { kind: 'recipient', quantity: 'any', side: 'outside' };

export function bandOf(answer: Answer, over: Partial<Band> = {}): Band {
  const text = answer === 'note' ? null : SOME_TEXT.id;
  return { from: 1, to: null, answer, severity: 'high', treatments: [], text, ...over };
}

/** A rule with one outcome: cards that go outside are blocked, unless told otherwise. */
export function ruleOf(
  id: string,
  over: Partial<Rule> & { readonly answer?: Answer; readonly severity?: Severity } = {},
): Rule {
  const { answer = 'block', severity = 'high', ...rest } = over;
  return {
    id: id as RuleId,
    name: '',
    people: null,
    when: { kind: 'all', of: [findingsAsked(1), TO_OUTSIDE] },
    unless: null,
    measure: null,
    bands: [bandOf(answer, { severity })],
    ask:
      answer === 'ask'
        ? { reasons: [{ words: 'Wrong file', leads: 'stays' }], minutes: 60, otherwise: 'stays' }
        : null,
    override: null,
    keep: 'excerpts',
    tell: [],
    silence: null,
    bindsFrom: null,
    perRecipient: false,
    endsPolicy: false,
    ...rest,
  };
}

export function policyOf(id: string, rules: readonly Rule[], over: Partial<Policy> = {}): Policy {
  return {
    id: id as PolicyId,
    name: id,
    purpose: '',
    owner: 'Data care desk',
    channels: ['mail'],
    people: { with: [], without: [] },
    where: { with: [], without: [] },
    shared: null,
    rules,
    ceilings: [],
    ...over,
  };
}

export function setOf(policies: readonly Policy[], over: Partial<PolicySet> = {}): PolicySet {
  return { policies, texts: [SOME_TEXT], exchanges: [], spots: [], ...over };
}
