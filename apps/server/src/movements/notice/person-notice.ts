import type { PersonNotice } from '@lantern/contracts';
import { certaintyFor, mask, type OwnPattern, patternsOf, READY_PATTERNS } from '@lantern/core/detection';
import { isMeant, type PersonFacts } from '@lantern/core/directory';
import { type Automatic } from '@lantern/core/labels';
import { type InspectedMovement } from '@lantern/core/movement';
import {
  type AnswerText,
  askEnds,
  type Band,
  CHANNEL_ABILITIES,
  clausesOf,
  findingsOf,
  type LabelMatch,
  type Measure,
  type Policy,
  type PolicySet,
  proofAsked,
  renderText,
  type Rule,
  type Verdict,
} from '@lantern/core/policy';
import { labelRefusal } from './label-refusal.js';

/** Recipients and parts named in a notice; more would bury the point. */
const NAMED_AT_MOST = 5;

interface Told {
  readonly policy: Policy;
  readonly number: number;
  readonly rule: Rule;
  readonly band: Band;
}

/** The rule that decides a verdict, with the band that answers; null where none does. */
export function decidingRule({ decidedBy }: Verdict, { policies }: PolicySet): Told | null {
  const policy = policies.find((candidate) => candidate.id === decidedBy?.policy);
  const index = policy?.rules.findIndex((rule) => rule.id === decidedBy?.rule) ?? -1;
  const rule = policy?.rules[index];
  const band = rule?.bands[decidedBy?.band ?? 0];
  return policy && rule && band ? { policy, number: index + 1, rule, band } : null;
}

/** Who is told, and in which language. */
export interface Reader extends PersonFacts {
  readonly language: string;
  /** What the automatic rule asked for that labelled it; left out where none did. */
  readonly labelledFor?: Automatic['content'];
}

/**
 * What the sender is told: which rule, what was found and where, who is outside, in the author's words. No value of any
 * finding, but for those the author's text asks for, masked.
 */
export function personNotice(
  movement: InspectedMovement,
  verdict: Verdict,
  set: PolicySet & { readonly patterns: readonly OwnPattern[] },
  reader: Reader,
): PersonNotice | null {
  if (verdict.forbidden) return labelNotice(movement, verdict.forbidden, reader);
  const told = decidingRule(verdict, set);
  if (!told || !verdict.decidedBy) return verdict.unfinished ? unfinishedNotice(movement, verdict) : null;
  const { policy, number, rule } = told;
  const { answer, text } = verdict.decidedBy;
  const names = new Map<string, string>(
    [...READY_PATTERNS, ...set.patterns].map((pattern) => [pattern.id, pattern.name]),
  );
  const found = foundBy(measuresOf(rule, reader.labelledFor ?? []), movement, names);
  const words = set.texts.find(({ id }) => id === text);
  const asksUntil =
    answer === 'ask' && rule.ask ? new Date(askEnds(rule.ask, movement.channel, movement.at)) : null;
  const proof = proofNotice(verdict, asksUntil ?? new Date(movement.at + PROOF_MS));
  return {
    answer,
    state:
      answer === 'block' ? 'refused' : answer === 'ask' || answer === 'hold' || proof ? 'waiting' : 'told',
    ...(proof ? { proof } : {}),
    ask:
      answer === 'ask' && rule.ask && asksUntil
        ? {
            reasons: rule.ask.reasons,
            until: asksUntil.toISOString(),
            otherwise: rule.ask.otherwise,
            whileOpen: CHANNEL_ABILITIES[movement.channel].question === 'while-open',
          }
        : null,
    override:
      answer === 'block' && rule.override && isMeant(rule.override.mayAsk, reader)
        ? rule.override.decides
        : null,
    ...(rule.override?.approvers ? { twoApprovers: true as const } : {}),
    incident: 0,
    decision: null,
    policyName: policy.name,
    ruleNumber: number,
    text: words ? filledIn(words, movement, { policy, rule, found, reader }) : '',
    ...(words?.guidance ? { guidance: words.guidance } : {}),
    ...(words?.contact ? { contact: words.contact } : {}),
    found,
    outside: outsideOf(movement),
    unreadable: unreadableOf(movement),
  };
}

/** Wrong codes before what waited ends. Common practice, no source. */
export const MOST_TRIES = 3;
/** Time to find the second factor and type its code. */
const PROOF_MS = 10 * 60_000;

function proofNotice(verdict: Verdict, until: Date): PersonNotice['proof'] | null {
  const asked = proofAsked(verdict);
  return asked && { ...asked, until: until.toISOString(), triesLeft: MOST_TRIES, isDone: false };
}

/** What is told where a label does not grant what somebody does: which label, and whom to ask. */
function labelNotice(
  movement: InspectedMovement,
  forbidden: readonly LabelMatch[],
  { language }: Reader,
): PersonNotice {
  return {
    answer: 'block',
    state: 'refused',
    ask: null,
    override: null,
    incident: 0,
    decision: null,
    policyName: '',
    ruleNumber: 0,
    label: forbidden[0]?.label.name ?? '',
    text: forbidden.map((match) => labelRefusal(match, language)).join(' '),
    found: [],
    outside: outsideOf(movement),
    unreadable: [],
  };
}

/** What is told where reading did not finish and what is stated for the channel decides. */
function unfinishedNotice(movement: InspectedMovement, { answer }: Verdict): PersonNotice | null {
  if (answer !== 'hold' && answer !== 'block') return null;
  return {
    answer,
    state: answer === 'hold' ? 'waiting' : 'refused',
    ask: null,
    override: null,
    incident: 0,
    decision: null,
    policyName: '',
    ruleNumber: 0,
    unfinished: true,
    text: '',
    found: [],
    outside: outsideOf(movement),
    unreadable: unreadableOf(movement),
  };
}

function outsideOf({ recipients }: InspectedMovement): string[] {
  return recipients
    .filter((recipient) => recipient.outside)
    .map((recipient) => recipient.address)
    .slice(0, NAMED_AT_MOST);
}

function unreadableOf({ parts }: InspectedMovement): PersonNotice['unreadable'] {
  return parts
    .flatMap((part) =>
      part.status === 'unreadable' ? [{ name: part.path.join(' › '), reason: part.reason }] : [],
    )
    .slice(0, NAMED_AT_MOST);
}

interface Filling {
  readonly policy: Policy;
  readonly rule: Rule;
  readonly found: PersonNotice['found'];
  readonly reader: Reader;
}

function filledIn(
  text: AnswerText,
  movement: InspectedMovement,
  { policy, rule, found, reader }: Filling,
): string {
  const measures = measuresOf(rule, reader.labelledFor ?? []);
  const asked = new Map<string, number>(measures.map(({ pattern, certainty }) => [pattern, certainty]));
  const values = findingsOf(movement)
    .filter((finding) =>
      patternsOf(finding).some(
        (pattern) => certaintyFor(finding, pattern) >= (asked.get(pattern) ?? Infinity),
      ),
    )
    .map(({ canonical }) => mask(canonical));
  const outside = movement.recipients.filter((recipient) => recipient.outside).map(({ address }) => address);
  return renderText(text, reader.language, {
    item: movement.files[0]?.name ?? movement.channel,
    rule: policy.name,
    found: found.map(({ distinct, patternName }) => `${distinct} × ${patternName}`).join(', '),
    values: [...new Set(values)].slice(0, NAMED_AT_MOST).join(', '),
    to: outside.slice(0, NAMED_AT_MOST).join(', '),
  });
}

/** What somebody is told was found: of which pattern, and from which certainty on. */
type ToldFinding = Pick<Measure, 'pattern' | 'certainty'>;

/** What a rule counts and asks for, each pattern once; for a rule about labels also what the label was set for. */
function measuresOf(rule: Rule, labelledFor: Automatic['content']): ToldFinding[] {
  const all = clausesOf(rule.when);
  const clauses = all.filter((clause) => clause.kind === 'findings');
  const labels = all.some(({ kind }) => kind === 'label') ? labelledFor : [];
  const measures = new Map<string, ToldFinding>();
  for (const measure of [...(rule.measure ? [rule.measure] : []), ...clauses, ...labels]) {
    if (!measures.has(measure.pattern)) measures.set(measure.pattern, measure);
  }
  return [...measures.values()];
}

/** What a rule asked for and the item holds. */
function foundBy(
  measures: readonly ToldFinding[],
  movement: InspectedMovement,
  names: ReadonlyMap<string, string>,
): PersonNotice['found'] {
  return measures.flatMap((measure) => {
    const values = new Set<string>();
    const where = movement.parts.flatMap((part) => {
      if (part.status !== 'read') return [];
      const mine = part.findings.filter(
        (finding) => certaintyFor(finding, measure.pattern) >= Math.max(1, measure.certainty),
      );
      for (const { canonical } of mine) values.add(canonical);
      return mine.length > 0 ? [part.path.join(' › ')] : [];
    });
    if (values.size === 0) return [];
    const { pattern } = measure;
    return [
      {
        pattern,
        patternName: names.get(pattern) ?? pattern,
        distinct: values.size,
        where: where.slice(0, NAMED_AT_MOST),
      },
    ];
  });
}
