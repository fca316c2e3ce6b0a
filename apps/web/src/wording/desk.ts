import type { FieldValue, ListOrder, OrderField, ResponseKind, ResponseResult } from '@lantern/contracts';
import type { FieldName, Filter, FilterFault, Listed, Operator, Remark } from '@lantern/core/incidents';
import { chipOf } from '@lantern/core/incidents';
import { assertNever } from '@lantern/core/shared';
import { FILE_KIND_WORDS } from './terms';
import {
  ANSWER_DONE,
  CAUSE_WORDS,
  CHANNEL_WORDS,
  CONNECTION_WORDS,
  CUT_WORDS,
  LINK_WORDS,
  NETWORK_WORDS,
  OUTCOME_WORDS,
  SEVERITY_WORDS,
  STATUS_WORDS,
} from './terms';

export const LISTED_WORDS: Readonly<Record<Listed, string>> = {
  incidents: 'Incidents',
  matches: 'Matches',
  movements: 'Movements',
};
/** What one row of each list is. */
export const LISTED_MEANING: Readonly<Record<Listed, string>> = {
  incidents: 'One row per movement that a rule matched',
  matches: 'One row per rule that matched',
  movements: 'One row per movement, matched or not',
};

export const FIELD_WORDS: Readonly<Record<FieldName, string>> = {
  number: 'Incident number',
  time: 'Time',
  title: 'Words in the title',
  policy: 'Policy',
  rule: 'Rule',
  pattern: 'Pattern',
  label: 'Label',
  severity: 'Severity',
  firstSeverity: 'Severity at first',
  answer: 'Answer',
  reducedBy: 'Answer reduced by',
  revision: 'Revision',
  person: 'Person',
  name: 'Name',
  department: 'Department',
  group: 'Group',
  manager: 'Manager',
  machine: 'Machine',
  managed: 'Machine managed',
  network: 'Network',
  channel: 'Channel',
  activity: 'Activity',
  destination: 'Destination',
  domain: 'Destination domain',
  source: 'Source',
  window: 'Window',
  file: 'File name',
  fileKind: 'File kind',
  link: 'Link',
  connection: 'Connection',
  origin: 'Reporting system',
  status: 'Status',
  outcome: 'Outcome',
  cause: 'Cause',
  assignee: 'Assigned to',
  urgency: 'Urgency',
  overdue: 'Overdue',
  due: 'Due',
  reply: 'Person’s reply',
  override: 'Override',
  reported: 'Reported as false',
  test: 'Our own test',
  silent: 'Silent',
  case: 'Case',
  decided: 'Decided on',
  any: 'Search',
};

/** Fields of the filter menu, by the question they answer. */
export const FIELD_GROUPS: readonly { readonly title: string; readonly fields: readonly FieldName[] }[] = [
  {
    title: 'What was found',
    fields: ['policy', 'rule', 'pattern', 'label', 'severity', 'answer', 'reducedBy', 'origin'],
  },
  {
    title: 'Who moved it',
    fields: ['person', 'department', 'group', 'manager', 'machine', 'managed', 'network'],
  },
  {
    title: 'From where to where',
    fields: [
      ...(['channel', 'activity', 'domain', 'destination', 'source', 'window'] as const),
      ...(['file', 'fileKind', 'link', 'connection'] as const),
    ],
  },
  {
    title: 'How it stands',
    fields: [
      ...(['status', 'outcome', 'cause', 'assignee', 'overdue', 'urgency', 'case'] as const),
      ...(['reply', 'override', 'reported', 'test', 'silent', 'firstSeverity'] as const),
    ],
  },
  { title: 'When', fields: ['time', 'due', 'decided', 'revision'] },
];

/** Fields that lists can be grouped by. */
export const GROUP_FIELDS: readonly FieldName[] = [
  ...(['policy', 'rule', 'person', 'department', 'domain', 'machine', 'channel', 'pattern'] as const),
  ...([
    'severity',
    'answer',
    'status',
    'outcome',
    'assignee',
    'case',
    'file',
    'label',
    'manager',
    'time',
  ] as const),
];

const ORDER_WORDS: Readonly<Record<OrderField, readonly [string, string]>> = {
  urgency: ['Least urgent first', 'Most urgent first'],
  time: ['Oldest first', 'Newest first'],
  severity: ['Least severe first', 'Most severe first'],
  number: ['Lowest number first', 'Highest number first'],
  person: ['Person, A to Z', 'Person, Z to A'],
  department: ['Department, A to Z', 'Department, Z to A'],
  channel: ['Channel, A to Z', 'Channel, Z to A'],
  answer: ['Weakest answer first', 'Strongest answer first'],
  status: ['Status, A to Z', 'Status, Z to A'],
  assignee: ['Assigned to, A to Z', 'Assigned to, Z to A'],
  due: ['Due first', 'Due last'],
  matches: ['Fewest matches first', 'Most matches first'],
};

export function orderWords(order: ListOrder): string {
  const down = order.startsWith('-');
  return ORDER_WORDS[order.replace('-', '') as OrderField][down ? 1 : 0];
}

const CHOICES: Partial<Record<FieldName, Readonly<Record<string, string>>>> = {
  severity: SEVERITY_WORDS,
  firstSeverity: SEVERITY_WORDS,
  answer: ANSWER_DONE,
  channel: CHANNEL_WORDS,
  status: STATUS_WORDS,
  outcome: OUTCOME_WORDS,
  cause: CAUSE_WORDS,
  network: NETWORK_WORDS,
  link: LINK_WORDS,
  connection: CONNECTION_WORDS,
  reducedBy: CUT_WORDS,
  fileKind: FILE_KIND_WORDS,
  reply: {
    work: 'confirmed for work',
    mistake: 'took it back',
    'no-reply': 'no reply in time',
    proved: 'confirmed their identity',
    'not-proved': 'did not confirm their identity',
  },
  override: {
    requested: 'requested',
    approved: 'approved',
    refused: 'refused',
    'judged-wrong': 'approval judged wrong',
  },
};

/** How people read a value of a field. */
export function valueWords(field: FieldName, value: FieldValue['value'], label = ''): string {
  if (value === null) return 'none';
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (field === 'case') return `case of incident ${value}`;
  return CHOICES[field]?.[String(value)] ?? (label || String(value));
}

const OPERATOR_WORDS: Readonly<Record<Operator, string>> = {
  eq: 'is',
  ne: 'is not',
  co: 'contains',
  sw: 'starts with',
  ew: 'ends with',
  gt: 'is more than',
  ge: 'is at least',
  lt: 'is less than',
  le: 'is at most',
  pr: 'is given',
};
const TIME_WORDS: Partial<Record<Operator, string>> = {
  ge: 'since',
  gt: 'after',
  lt: 'before',
  le: 'until',
};

/** One part of a filter as a chip: what it is about, and what it asks. */
export function partWords(part: Filter): { readonly about: string; readonly asks: string } {
  const chip = chipOf(part);
  if (chip) {
    const values = chip.values.map((value) => valueWords(chip.field, value)).join(', ');
    return { about: FIELD_WORDS[chip.field], asks: chip.excluded ? `not ${values}` : values };
  }
  if (part.kind === 'present') return { about: FIELD_WORDS[part.field], asks: 'any' };
  if (part.kind === 'not' && part.part.kind === 'present')
    return { about: FIELD_WORDS[part.part.field], asks: 'none' };
  if (part.kind === 'compare') {
    const isTime = part.field === 'time' || part.field === 'due' || part.field === 'decided';
    const operator = (isTime ? TIME_WORDS[part.operator] : undefined) ?? OPERATOR_WORDS[part.operator];
    return { about: FIELD_WORDS[part.field], asks: `${operator} ${valueWords(part.field, part.value)}` };
  }
  return { about: 'Condition', asks: 'as text' };
}

/** What is wrong with a filter line, and what would be right. */
export function faultWords({
  code,
  word,
  expected,
}: Pick<FilterFault, 'code' | 'word' | 'expected'>): string {
  const right = expected.length > 0 ? ` Possible here: ${expected.slice(0, 10).join(', ')}.` : '';
  switch (code) {
    case 'too-long':
      return 'The line is too long. Remove some values.';
    case 'too-deep':
      return 'Parentheses are nested too deeply.';
    case 'too-many-terms':
      return 'The line has too many conditions. Remove some.';
    case 'field-expected':
      return `A field belongs here${word ? `, not ${word}` : ''}.`;
    case 'unknown-field':
      return `No field is called ${word}.${right}`;
    case 'operator-expected':
      return `An operator belongs here${word ? `, not ${word}` : ''}.${right}`;
    case 'operator-not-for-field':
      return `This field cannot be compared with ${word}.${right}`;
    case 'value-expected':
      return `A value belongs here${word ? `: write ${word} in quotation marks` : ''}.${right}`;
    case 'unclosed-text':
      return 'The closing quotation mark is missing.';
    case 'bad-escape':
      return 'A backslash must be followed by a quotation mark or another backslash.';
    case 'wrong-kind':
      return `${word} is not the right kind of value.${right}`;
    case 'unknown-choice':
      return `${word} is not a value of this field.${right}`;
    case 'bad-time':
      return `${word} is not a time. Write a date such as "2026-11-30", or "10 days ago".`;
    case 'unclosed-parenthesis':
      return 'The closing parenthesis is missing.';
    case 'parenthesis-expected':
      return 'A parenthesis must follow "not".';
    case 'joiner-expected':
      return `"and" or "or" belongs here, not ${word}.`;
    default:
      return assertNever(code);
  }
}

const once = (count: number): string =>
  count === 2
    ? 'second'
    : count === 3
      ? 'third'
      : `${count}${count % 10 === 1 && count % 100 !== 11 ? 'st' : count % 10 === 2 && count % 100 !== 12 ? 'nd' : count % 10 === 3 && count % 100 !== 13 ? 'rd' : 'th'}`;

/** A rate as people say it: per week where it is one or more, else once in so many weeks. */
export function usualWords(perWeek: number): string {
  if (perWeek <= 0.02) return 'usually none';
  if (perWeek >= 1) return `usually ${Math.round(perWeek * 10) / 10} a week`;
  return `usually one in ${Math.round(1 / perWeek)} weeks`;
}

/** One remark as a sentence. */
export function remarkWords(remark: Remark, nameOf: (rule: string) => string): string {
  switch (remark.code) {
    case 'incidents-lately':
      return `${capital(once(remark.count))} incident of this person within ${remark.days} days; ${usualWords(remark.usual)}.`;
    case 'same-rule-lately':
      return `${capital(once(remark.count))} match of "${nameOf(remark.rule)}" within ${remark.days} days; ${usualWords(remark.usual)}.`;
    case 'more-movements':
      return `${remark.count} movements within ${remark.days} days; ${usualWords(remark.usual)}.`;
    case 'first-to-domain':
      return `First movement of this person to ${remark.domain} in ${remark.days} days.`;
    case 'first-by-channel':
      return `First movement of this person by ${CHANNEL_WORDS[remark.channel as keyof typeof CHANNEL_WORDS]} in ${remark.days} days.`;
    case 'times-usual-values':
      return `${remark.values} distinct values: ${remark.factor} times this person’s usual ${remark.usual}.`;
    case 'short-history':
      return `Too little is known to say what is usual: ${remark.days} ${remark.days === 1 ? 'day' : 'days'} of history, 35 are needed.`;
    default:
      return assertNever(remark);
  }
}

const capital = (text: string): string => text.slice(0, 1).toUpperCase() + text.slice(1);

/** Why an incident was left alone by a decision in bulk. */
export const LEFT_WORDS: Readonly<Record<string, string>> = {
  'own-incident': 'about your own movement',
  'already-decided': 'already decided',
  'already-open': 'already open',
  'already-so': 'already as wanted',
  'not-harm': 'not harm, so there is no cause',
  'changed-since': 'changed since by someone',
  gone: 'no longer there',
};

export const RESPONSE_WORDS: Readonly<Record<ResponseKind, string>> = {
  'ask-person': 'Ask the person',
  'tell-person': 'Tell the person',
  'tell-manager': 'Tell their manager',
  'tell-address': 'Tell someone else',
  ticket: 'Open a ticket',
  'take-back': 'Withdraw access or export',
  'sign-out': 'Sign the person out',
};

/** Why a response did not go. */
export const RESPONSE_REASONS: Readonly<Record<NonNullable<ResponseResult['reason']>, string>> = {
  'no-manager': 'the directory names no manager',
  'not-in-directory': 'the person is not in the directory',
  'not-found': 'the incident is no longer there',
  'already-asked': 'a question is open already',
  undeliverable: 'the mail cannot be delivered',
  'nothing-to-take-back': 'nothing is left to take back, or this channel cannot take it back',
  'signed-in-nowhere': 'the person is signed in nowhere',
};

/** How a call to a web hook ended where it got no answer. */
export const CALL_WORDS: Readonly<Record<string, string>> = {
  'own-address': 'the address belongs to this machine or a private network',
  'timed-out': 'no answer within 10 seconds',
  'not-reached': 'not reached',
};
