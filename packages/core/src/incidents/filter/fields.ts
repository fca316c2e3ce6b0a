import { CHANNELS, CONNECTIONS, LINK_KINDS } from '../../movement/movement.js';
import { CUTS } from '../../policy/evaluate/verdict.js';
import { ANSWERS, SEVERITIES } from '../../policy/model/answers.js';
import { HARM_CAUSES, STATUSES } from '../decision.js';

/** What is listed: one row an incident, one a match, or one a movement. */
export const LISTED = ['incidents', 'matches', 'movements'] as const;
export type Listed = (typeof LISTED)[number];

/** `choice` has a closed list of values, the least first where it is ordered. */
export type FieldKind = 'words' | 'number' | 'time' | 'yes-no' | 'choice';

export interface FilterField {
  readonly kind: FieldKind;
  readonly choices?: readonly string[];
  /** Its choices can be compared by `gt`, `ge`, `lt` and `le`. */
  readonly ordered?: true;
  /** Stored by id: people write the name, the caller finds the ids. */
  readonly named?: 'policy' | 'rule' | 'pattern' | 'label';
  /** One row may have several values. */
  readonly several?: true;
  /** Searches by what it contains alone: a sealed text, or several fields at once. */
  readonly onlyContains?: true;
}

/** The fields that the filters of a list can name. */
export type FieldTable<Name extends string> = Readonly<Record<Name, FilterField>>;

const words: FilterField = { kind: 'words' };
const several: FilterField = { kind: 'words', several: true };
const number: FilterField = { kind: 'number' };
const yesNo: FilterField = { kind: 'yes-no' };
const choice = (choices: readonly string[], ordered?: true): FilterField => ({
  kind: 'choice',
  choices,
  ...(ordered && { ordered }),
});

/** What a person replied to an ask. */
export const REPLIES = ['work', 'mistake', 'no-reply', 'proved', 'not-proved'] as const;
/** How an override was asked for and ended. */
export const OVERRIDES = ['requested', 'approved', 'refused', 'judged-wrong'] as const;

/** Every field that a filter can name, grouped by the question it answers: what, who, from where to where, how it stands. */
export const FIELD_NAMES = [
  'number',
  'time',
  'title',
  'policy',
  'rule',
  'pattern',
  'label',
  'severity',
  'firstSeverity',
  'answer',
  'reducedBy',
  'revision',
  'person',
  'name',
  'department',
  'group',
  'manager',
  'machine',
  'managed',
  'network',
  'channel',
  'activity',
  'destination',
  'domain',
  'source',
  'window',
  'file',
  'fileKind',
  'link',
  'connection',
  'origin',
  'status',
  'outcome',
  'cause',
  'assignee',
  'urgency',
  'overdue',
  'due',
  'reply',
  'override',
  'reported',
  'test',
  'silent',
  'case',
  'decided',
  'any',
] as const;
export type FieldName = (typeof FIELD_NAMES)[number];

/** What each field holds. */
export const FILTER_FIELDS: Readonly<Record<FieldName, FilterField>> = {
  number,
  time: { kind: 'time' },
  /** Found by whole words: titles are sealed. */
  title: { ...several, onlyContains: true },
  policy: { kind: 'words', named: 'policy', several: true },
  rule: { kind: 'words', named: 'rule', several: true },
  pattern: { kind: 'words', named: 'pattern', several: true },
  label: { kind: 'words', named: 'label', several: true },
  severity: choice(SEVERITIES, true),
  firstSeverity: choice(SEVERITIES, true),
  answer: choice(ANSWERS, true),
  reducedBy: { kind: 'choice', choices: CUTS, several: true },
  revision: number,
  person: words,
  name: words,
  department: words,
  group: several,
  manager: words,
  machine: words,
  managed: yesNo,
  network: choice(['trusted', 'foreign', 'not-known']),
  channel: choice(CHANNELS),
  activity: words,
  destination: several,
  domain: several,
  source: several,
  /** Title of the window in which it was done, long numbers masked. */
  window: several,
  file: several,
  fileKind: several,
  link: choice(LINK_KINDS),
  connection: choice(CONNECTIONS),
  /** The other system that reported it; none for what our rules found. */
  origin: words,
  status: choice(STATUSES),
  outcome: choice(['false-positive', 'allowed', 'harm']),
  cause: choice(HARM_CAUSES),
  assignee: words,
  urgency: number,
  overdue: yesNo,
  due: { kind: 'time' },
  reply: { kind: 'choice', choices: REPLIES, several: true },
  override: { kind: 'choice', choices: OVERRIDES, several: true },
  reported: yesNo,
  test: yesNo,
  silent: yesNo,
  case: number,
  decided: { kind: 'time' },
  any: { ...words, onlyContains: true },
};

export function fieldOf(name: FieldName): FilterField {
  return FILTER_FIELDS[name];
}

/** Attribute operators of RFC 7644, table 3. */
export const OPERATORS = ['eq', 'ne', 'co', 'sw', 'ew', 'gt', 'ge', 'lt', 'le', 'pr'] as const;
export type Operator = (typeof OPERATORS)[number];

/** Operators that make sense for a field of the desk. */
export const operatorsOf = (name: FieldName): readonly Operator[] => operatorsFor(fieldOf(name));

/** Operators that make sense for a field. */
export function operatorsFor(field: FilterField): readonly Operator[] {
  if (field.onlyContains) return ['co'];
  switch (field.kind) {
    case 'words':
      return ['eq', 'ne', 'co', 'sw', 'ew', 'pr'];
    case 'choice':
      return field.ordered ? ['eq', 'ne', 'gt', 'ge', 'lt', 'le', 'pr'] : ['eq', 'ne', 'pr'];
    case 'yes-no':
      return ['eq', 'ne'];
    case 'number':
    case 'time':
      return ['eq', 'ne', 'gt', 'ge', 'lt', 'le', 'pr'];
  }
}
