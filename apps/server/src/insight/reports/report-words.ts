import type { CutField, FigureCode, MostField } from '@lantern/contracts/insight';
import type { IncidentStatus, Outcome } from '@lantern/core/incidents';
import type { ComparedLine, LineChange, RuleFigures } from '@lantern/core/insight';

/** Words of reports, which the server writes. */
export const FIGURE_NAMES: Readonly<Record<FigureCode, string>> = {
  incidents: 'Incidents',
  matches: 'Matches',
  movements: 'Movements',
  overrides: 'Overrides requested',
  replies: 'Replies',
  'false-positives': 'False positives',
  harm: 'Harm',
};

export const FIELD_NAMES_IN_REPORTS: Readonly<Record<CutField | MostField, string>> = {
  policy: 'Policy',
  rule: 'Rule',
  channel: 'Channel',
  answer: 'Answer',
  severity: 'Severity',
  outcome: 'Outcome',
  department: 'Department',
  person: 'Person',
  machine: 'Machine',
  network: 'Network',
  domain: 'Destination domain',
  source: 'Source',
  label: 'Label',
  pattern: 'Pattern',
  origin: 'Reporting system',
  reply: 'Reply',
  override: 'Override',
};

export const STATUS_NAMES: Readonly<Record<IncidentStatus | Outcome, string>> = {
  new: 'new',
  taken: 'taken',
  waiting: 'waiting for the person',
  decided: 'decided',
  'false-positive': 'false positive',
  allowed: 'allowed',
  harm: 'harm',
};

export const CHANGE_NAMES: Readonly<Record<LineChange, string>> = {
  new: 'New',
  gone: 'Gone',
  changed: 'Changed',
  same: 'As before',
};

export function ruleDetail({ people, falsePositives, decided, harm }: RuleFigures): string {
  return `${people} people, ${falsePositives} of ${decided} false, ${harm} harm`;
}

/** What a line says beside its name. */
export function valueWords({ value, before, change, detail }: ComparedLine): string {
  const was = change === 'changed' && before !== value ? ` (was ${before ?? 0})` : '';
  return `${value}${was}${detail ? `, ${detail}` : ''}`;
}
