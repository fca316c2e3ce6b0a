import { isEverywhere } from '../detection/scan/own-patterns.js';
import { type ConditionTrace, findingsOf } from '../policy/evaluate/condition.js';
import type { InspectedMovement } from '../movement/movement.js';
import type { Match, RuleTrace, Verdict } from '../policy/evaluate/verdict.js';
import type { LabelMatch } from '../policy/evaluate/verdict.js';
import { type Answer, type Severity, SEVERITIES } from '../policy/model/answers.js';
import { patternAsked } from '../policy/model/conditions.js';
import { type Urgency, urgencyOf } from './urgency.js';

/** Findings of one pattern in an incident, for its headline and its filters. */
export interface IncidentCount {
  readonly pattern: string;
  readonly findings: number;
  readonly distinct: number;
  /** Highest certainty among them, 0 to 100. */
  readonly certainty: number;
}

/** All matches of one movement, as one thing to triage. */
export interface IncidentSummary {
  readonly answer: Answer;
  readonly severity: Severity;
  readonly urgency: Urgency;
  readonly matches: readonly Match[];
  /** What labels forbade: matches that name a label and an effect instead of a rule. */
  readonly forbidden: readonly LabelMatch[];
  /** Most distinct values first. */
  readonly counts: readonly IncidentCount[];
  readonly outsideRecipients: number;
  readonly unreadableParts: number;
}

/** Findings below this certainty are not worth a place in a headline. */
export const WORTH_SHOWING = 40;

/** The incident a verdict leads to, or null where no rule held. One movement is one incident. */
export function incidentOf(movement: InspectedMovement, verdict: Verdict): IncidentSummary | null {
  if (!verdict.answer) return null;
  const forbidden = verdict.forbidden ?? [];
  const severity = [...verdict.matches, ...forbidden].reduce<Severity>(
    (worst, match) =>
      SEVERITIES.indexOf(match.severity) > SEVERITIES.indexOf(worst) ? match.severity : worst,
    'low',
  );
  const asked = new Set(verdict.trace.flatMap((policy) => policy.rules.flatMap(patternsAsked)));
  const counts = countByPattern(movement, asked);
  const facts = {
    severity,
    answer: verdict.answer,
    distinctValues: counts.reduce((sum, count) => sum + count.distinct, 0),
    outsideRecipients: movement.recipients.filter((recipient) => recipient.outside).length,
    unreadableParts: movement.parts.filter((part) => part.status === 'unreadable').length,
  };
  return { ...facts, urgency: urgencyOf(facts), matches: verdict.matches, forbidden, counts };
}

/** The incident that another system reports: its severity, and what our patterns find in what it says. No rule of ours held. */
export function reportedIncident(movement: InspectedMovement, severity: Severity): IncidentSummary {
  const counts = countByPattern(movement, new Set());
  const facts = {
    ...{ severity, answer: null },
    distinctValues: counts.reduce((sum, count) => sum + count.distinct, 0),
    ...{ outsideRecipients: 0, unreadableParts: 0 },
  };
  return { ...facts, answer: 'note', urgency: urgencyOf(facts), matches: [], forbidden: [], counts };
}

/** Patterns whose findings a rule that held was about. */
function patternsAsked(rule: RuleTrace): string[] {
  if (!rule.read || !rule.held) return [];
  return [...conditionPatterns(rule.when), ...(rule.measure ? [rule.measure.pattern] : [])];
}

function conditionPatterns(trace: ConditionTrace): string[] {
  const own = patternAsked(trace.condition);
  return [...own, ...trace.parts.flatMap(conditionPatterns)];
}

/** Addresses and telephone numbers stand in every mail: they count where a rule asked for them. */
function countByPattern(movement: InspectedMovement, asked: ReadonlySet<string>): IncidentCount[] {
  const counts = new Map<string, { values: Set<string>; findings: number; certainty: number }>();
  for (const finding of findingsOf(movement)) {
    if (finding.certainty < WORTH_SHOWING || (isEverywhere(finding.pattern) && !asked.has(finding.pattern)))
      continue;
    const count = counts.get(finding.pattern) ?? { values: new Set<string>(), findings: 0, certainty: 0 };
    count.values.add(finding.canonical);
    count.findings += 1;
    count.certainty = Math.max(count.certainty, finding.certainty);
    counts.set(finding.pattern, count);
  }
  return [...counts]
    .map(([pattern, { values, findings, certainty }]) => ({
      pattern,
      findings,
      distinct: values.size,
      certainty,
    }))
    .sort((left, right) => right.distinct - left.distinct || left.pattern.localeCompare(right.pattern));
}
