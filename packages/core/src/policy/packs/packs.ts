import type { PatternKind, ReadyPattern } from '../../detection/model/pattern.js';
import { READY_PATTERNS } from '../../detection/library/index.js';
import type { PolicyId, RuleId } from '../../shared/brand.js';
import type { Answer, Severity, Treatment } from '../model/answers.js';
import type { Condition } from '../model/conditions.js';
import type { Channel } from '../../movement/movement.js';
import { newRule } from '../model/new-rule.js';
import { tellsPerson } from '../model/tells-person.js';
import { EVERYWHERE } from '../model/whereabouts.js';
import type { AnswerText, Band, Policy, Rule, TextId } from '../model/rule.js';

/** What a pack looks for: kinds of the library, or single patterns, with where one rule becomes stricter. */
export interface PackRule {
  readonly name: string;
  readonly kinds: readonly PatternKind[];
  /** Single patterns beside the kinds. */
  readonly patterns: readonly string[];
  /** From so many distinct values of one pattern it is bulk. */
  readonly bulk: number;
  readonly single: Answer;
  readonly inBulk: Answer;
  readonly severity: Severity;
}

/** A rule of a pack as it stands. */
export interface WrittenRule {
  readonly name: string;
  readonly when: Condition;
  readonly answer: Answer;
  readonly severity: Severity;
  readonly treatments?: readonly Treatment[];
  /** It is read before rules below it, which are then left out. */
  readonly endsPolicy?: boolean;
}

/** A first policy for a regulation or a standard, to be adapted. What it asks for is the trade's usual reading. */
export interface Pack {
  readonly id: string;
  readonly name: string;
  readonly about: string;
  /** The public law or standard it is made for. */
  readonly source: string;
  /** Whether its patterns depend on countries that are chosen. */
  readonly byCountry: boolean;
  readonly rules: readonly PackRule[];
  readonly text: string;
  /** Rules that ask for no pattern, on channels of their own; left out for packs that look for patterns. */
  readonly written?: { readonly channels: readonly Channel[]; readonly rules: readonly WrittenRule[] };
  /** A label for what it is about, with when to choose it; null for a pack without one. */
  readonly label: { readonly name: string; readonly when: string } | null;
}

export const PACKS: readonly Pack[] = [
  {
    id: 'first-day',
    name: 'First day: nothing is guarded yet',
    about: 'Notes what leaves in bulk, and stops keys and secrets. Nobody is interrupted but for those.',
    source: 'Common practice, no source.',
    byCountry: true,
    rules: [
      packRule('Keys and secrets', {
        kinds: ['secrets'],
        single: 'block',
        inBulk: 'block',
        severity: 'high',
      }),
      packRule('Payment and bank data', { kinds: ['payment', 'bank'], bulk: 10 }),
      packRule('Identity and tax numbers', { kinds: ['identity', 'tax'], bulk: 10 }),
    ],
    text: 'This holds a key or a password ({found}). Send it over the vault, and change it if it was sent before.',
    label: null,
  },
  {
    id: 'gdpr',
    name: 'Personal data (GDPR)',
    about: 'Identity, tax, health and travel numbers of the chosen countries that leave the organisation.',
    source: 'Regulation (EU) 2016/679, articles 4 (1), 9 and 32.',
    byCountry: true,
    rules: [
      packRule('Health data', {
        kinds: ['health'],
        single: 'ask',
        inBulk: 'block',
        severity: 'high',
        bulk: 5,
      }),
      packRule('Identity and tax numbers', { kinds: ['identity', 'tax'], inBulk: 'ask', bulk: 10 }),
      packRule('Passports and travel documents', { kinds: ['travel'], inBulk: 'ask', bulk: 5 }),
    ],
    text: 'This takes personal data to the outside ({found}, to {to}). Is there an agreement with the receiver? Questions: {contact}.',
    label: {
      name: 'Personal data',
      when: 'It names people with a number, a document or their health, and is not meant for everybody.',
    },
  },
  {
    id: 'pci-dss',
    name: 'Payment cards (PCI DSS)',
    about: 'Card numbers that leave over channels meant for people.',
    source: 'PCI DSS 4.0.1, requirement 4.2.2: no unprotected card numbers by end-user messaging.',
    byCountry: false,
    rules: [
      packRule('Card numbers', {
        patterns: ['payment-card'],
        single: 'ask',
        inBulk: 'block',
        severity: 'high',
        bulk: 5,
      }),
    ],
    text: 'Card numbers do not leave by mail or chat ({found}). Use the payment portal. Questions: {contact}.',
    label: { name: 'Payment data', when: 'It holds card numbers, whole or in part.' },
  },
  {
    id: 'hipaa',
    name: 'Health information (HIPAA)',
    about: 'Health codes and the numbers by which patients are known.',
    source: '45 CFR 164.312 (e) and 164.514 (b) (2), United States.',
    byCountry: false,
    rules: [
      packRule('Health codes and numbers', {
        kinds: ['health'],
        single: 'ask',
        inBulk: 'block',
        severity: 'high',
        bulk: 10,
      }),
    ],
    text: 'This holds health information ({found}). Send it over the protected way to {to}, or take it out. Questions: {contact}.',
    label: { name: 'Health data', when: 'It says something about the health of a person.' },
  },
  {
    id: 'applications',
    name: 'Exports and sign-ins',
    about:
      'Large exports from business applications need a second factor, on the screen and over the interface. Many small exports count together. Applications that request wide rights wait for an approver.',
    source: 'NIST SP 800-53 revision 5, AC-6 and IA-11 (re-authentication).',
    byCountry: false,
    rules: [],
    written: {
      channels: ['business'],
      rules: [
        {
          name: 'Very much at once',
          when: { kind: 'rows', atLeast: 50_000 },
          answer: 'hold',
          severity: 'high',
          endsPolicy: true,
        },
        {
          name: 'Much at once',
          when: { kind: 'rows', atLeast: 5_001 },
          answer: 'note',
          severity: 'medium',
          treatments: [{ kind: 'ask-who', minutes: 15, trusts: 'same-application' }],
          endsPolicy: true,
        },
        {
          name: 'Much within a day, in small pieces',
          when: {
            kind: 'all',
            of: [
              { kind: 'use', deeds: ['export', 'read'], by: null, objects: [], reports: [] },
              { kind: 'sum', of: 'rows', over: 'this-channel', atLeast: 5_001, hours: 24 },
            ],
          },
          answer: 'advise',
          severity: 'medium',
          treatments: [{ kind: 'ask-who', minutes: 15, trusts: 'same-application' }],
        },
        {
          name: 'Far more than usual',
          when: { kind: 'usual', of: 'rows', over: 'this-channel', times: 10, atLeast: 500, hours: 1 },
          answer: 'note',
          severity: 'medium',
        },
        {
          name: 'Another application asks for wide rights',
          when: {
            kind: 'all',
            of: [
              { kind: 'use', deeds: ['connect'], by: null, objects: [], reports: [] },
              { kind: 'rights', rights: ['*all*', '*export*', '*offline*'] },
            ],
          },
          answer: 'hold',
          severity: 'high',
        },
        {
          name: 'A sign-in with a password, from a machine that nobody looks after',
          when: {
            kind: 'all',
            of: [
              { kind: 'use', deeds: ['sign-in'], by: null, objects: [], reports: [] },
              {
                kind: 'sign-in',
                countries: [],
                elsewhere: false,
                proofs: ['password'],
                olderThanMinutes: null,
              },
              { kind: 'machine', states: ['strange', 'not-known'] },
            ],
          },
          answer: 'note',
          severity: 'medium',
          treatments: [{ kind: 'ask-who', minutes: 0, trusts: 'same-application' }],
        },
      ],
    },
    text: 'This is more than most people export from this application at once. To go on, confirm your identity. Otherwise export fewer records. Questions: {contact}.',
    label: null,
  },
];

function packRule(name: string, over: Partial<PackRule>): PackRule {
  return {
    name,
    kinds: [],
    patterns: [],
    bulk: 5,
    single: 'note',
    inBulk: 'note',
    severity: 'medium',
    ...over,
  };
}

/** What somebody chose for a pack. */
export interface PackChoices {
  /** ISO 3166-1 alpha-2; patterns of no country count always. */
  readonly countries: readonly string[];
  readonly channels: readonly Channel[];
  /** Begin with a ceiling of note for everybody, so that nobody is interrupted before somebody has looked. */
  readonly noteFirst: boolean;
  /** Makes an id for each new thing. */
  readonly newId: () => string;
}

/** A pack as a draft: one policy and the text its answers show. */
export function packDraft(
  pack: Pack,
  choices: PackChoices,
): { readonly policy: Policy; readonly text: AnswerText } {
  const text: AnswerText = {
    id: choices.newId() as TextId,
    name: `${pack.name}: what people read`,
    words: [{ language: 'en', text: pack.text }],
    guidance: '',
    contact: '',
  };
  const rules = pack.rules.flatMap((rule) => {
    const patterns = patternsFor(rule, pack, choices);
    return patterns.length === 0 ? [] : rulesFor(rule, patterns, { text: text.id, newId: choices.newId });
  });
  for (const rule of pack.written?.rules ?? []) rules.push(writtenRule(rule, text.id, choices.newId()));
  const everybody = { with: [], without: [] };
  const policy: Policy = {
    id: choices.newId() as PolicyId,
    name: pack.name,
    purpose: `${pack.about} ${pack.source}`,
    owner: '',
    channels: pack.written?.channels ?? choices.channels,
    people: everybody,
    where: EVERYWHERE,
    shared: pack.written ? null : { kind: 'recipient', quantity: 'any', side: 'outside' },
    rules,
    ceilings: choices.noteFirst ? [{ people: everybody, answer: 'note', until: null }] : [],
  };
  return { policy, text };
}

/** Ready patterns that a rule of a pack looks for. */
export function patternsFor(
  { kinds, patterns }: PackRule,
  { byCountry }: Pack,
  { countries }: Pick<PackChoices, 'countries'>,
): ReadyPattern[] {
  const chosen = new Set(countries);
  return READY_PATTERNS.filter(
    (pattern) =>
      patterns.includes(pattern.id) ||
      (kinds.includes(pattern.kind) &&
        (!byCountry ||
          pattern.countries.length === 0 ||
          pattern.countries.some((country) => chosen.has(country)))),
  );
}

function writtenRule({ name, when, answer, severity, ...rest }: WrittenRule, text: TextId, id: string): Rule {
  const band = { ...outcome(answer, severity, text), treatments: rest.treatments ?? [] };
  return {
    ...newRule(id, ''),
    ...{ name, when, endsPolicy: rest.endsPolicy ?? false },
    bands: [tellsPerson(band) ? { ...band, text } : band],
  };
}

/** Certainty that packs ask for: above it findings are right nearly always (docs/decisions/0002-certainty.md). */
const CERTAINTY = 80;

/** In bulk first, then single ones; the first ends the policy only where it says more than the second. */
function rulesFor(
  rule: PackRule,
  patterns: readonly ReadyPattern[],
  { text, newId }: { readonly text: TextId; readonly newId: () => string },
): Rule[] {
  const made = (name: string, atLeast: number, answer: Answer): Rule => ({
    id: newId() as RuleId,
    name,
    people: null,
    when: anyOf(patterns, atLeast),
    unless: null,
    measure: null,
    bands: [outcome(answer, rule.severity, text)],
    ask:
      answer === 'ask'
        ? {
            reasons: [
              { words: 'The receiver may have it', leads: 'goes-on' },
              { words: 'The data is made up', leads: 'goes-on' },
              { words: 'I did not mean to send this', leads: 'stays' },
            ],
            minutes: 240,
            otherwise: 'stays',
          }
        : null,
    override: null,
    keep: 'excerpts',
    tell: [],
    silence: null,
    bindsFrom: null,
    perRecipient: false,
    endsPolicy: false,
  });
  if (rule.single === rule.inBulk) return [made(rule.name, 1, rule.single)];
  return [made(`${rule.name}, in bulk`, rule.bulk, rule.inBulk), made(rule.name, 1, rule.single)];
}

function outcome(answer: Answer, severity: Severity, text: TextId): Band {
  return { from: 1, to: null, answer, severity, treatments: [], text: answer === 'note' ? null : text };
}

function anyOf(patterns: readonly ReadyPattern[], atLeast: number): Condition {
  const clauses = patterns.map((pattern): Condition => ({
    kind: 'findings',
    pattern: pattern.id,
    atLeast,
    distinct: true,
    certainty: CERTAINTY,
    where: [],
  }));
  const [only] = clauses;
  return clauses.length === 1 && only ? only : { kind: 'any', of: clauses };
}
