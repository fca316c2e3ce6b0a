import type { ImprovementView } from '@lantern/contracts';
import { assertNever } from '@lantern/core/shared';
import { count } from './insight';
import { CHANNEL_WORDS } from './terms';
import { ago, dayOf } from './times';

/** What could be better, what it costs today, and where to do it. */
export interface ImprovementWords {
  readonly what: string;
  readonly effect: string;
  readonly to: string;
  readonly action: string;
}

const capital = (text: string): string => text.slice(0, 1).toUpperCase() + text.slice(1);
const SHOWN_NAMES = 4;
const things = (number: number, one: string, many: string): string =>
  `${count(number)} ${number === 1 ? one : many}`;

export function improvementWords({ improvement, names }: ImprovementView, now: Date): ImprovementWords {
  const nameOf = (id: string): string => names[id] ?? id;
  const ruleLink = (rule: string, more = ''): string =>
    `/insight/prevent?${new URLSearchParams({ filter: `rule eq ${JSON.stringify(nameOf(rule))}${more}` }).toString()}`;
  switch (improvement.code) {
    case 'unguarded': {
      const shown = improvement.patterns.slice(0, SHOWN_NAMES).map(nameOf).join(', ');
      const rest = improvement.patterns.length - SHOWN_NAMES;
      return {
        what: `${capital(CHANNEL_WORDS[improvement.channel])}: ${things(improvement.patterns.length, 'kind of data that other channels guard leaves', 'kinds of data that other channels guard leave')} unguarded`,
        effect: `${things(improvement.movements, 'movement', 'movements')} in 28 days. ${shown}${rest > 0 ? ` and ${count(rest)} more` : ''}`,
        to: '/policies/coverage',
        action: 'Open coverage',
      };
    }
    case 'ceiling-over':
      return {
        what: `The ceiling of “${nameOf(improvement.policy)}” ended on ${dayOf(improvement.until)}`,
        effect: `${things(improvement.matches, 'match', 'matches')} in 28 days now get the full answer`,
        to: `/policies/${improvement.policy}`,
        action: 'Open policy',
      };
    case 'agent-silent':
      return {
        what: `The agent “${improvement.name}” is silent`,
        effect:
          improvement.since === null
            ? 'It has never been heard of since it was created'
            : `Last heard of ${ago(new Date(improvement.since).toISOString(), now)}`,
        to: '/doors',
        action: 'Open agents',
      };
    case 'rule-mostly-false':
      return {
        what: `“${nameOf(improvement.rule)}” mostly finds what it should not`,
        effect: `${count(improvement.falsePositives)} of ${things(improvement.decided, 'decided incident is a false positive', 'decided incidents are false positives')}, ${things(improvement.people, 'person', 'people')} interrupted in 28 days`,
        to: ruleLink(improvement.rule),
        action: 'Prevent false positives',
      };
    case 'rule-against-work':
      return {
        what: `“${nameOf(improvement.rule)}” stops what approvers then let go`,
        effect: `${count(improvement.approved)} of ${things(improvement.asked, 'override request was approved', 'override requests were approved')} in 28 days`,
        to: '/insight/rules',
        action: 'See what people said',
      };
    case 'requests-late':
      return {
        what: `${things(improvement.count, 'request waits', 'requests wait')} longer than promised`,
        effect: `The oldest was made ${ago(new Date(improvement.oldest).toISOString(), now)}`,
        to: '/incidents/waiting',
        action: 'Open requests',
      };
    case 'incidents-overdue':
      return {
        what: `${things(improvement.count, 'incident is', 'incidents are')} overdue`,
        effect: 'They are older than the time promised for their severity',
        to: `/incidents?${new URLSearchParams({ filter: 'overdue eq true and test eq false' }).toString()}`,
        action: 'Open them',
      };
    case 'specimens-failing':
      return {
        what: `${things(improvement.count, 'specimen', 'specimens')} of “${nameOf(improvement.pattern)}” no longer give what they should`,
        effect: 'The published pattern finds too much or too little',
        to: `/patterns/${improvement.pattern}`,
        action: 'Open pattern',
      };
    case 'decided-differently':
      return {
        what: `${things(improvement.groups, 'case was', 'cases were')} decided differently by different people`,
        effect: 'Same text, same rules: some called it a false positive, others did not',
        to: `/incidents?${new URLSearchParams({ filter: improvement.numbers.map((number) => `number eq ${number}`).join(' or ') }).toString()}`,
        action: 'Compare them',
      };
    case 'label-offered-to-nobody':
      return {
        what: `The label “${improvement.name}” is offered to nobody`,
        effect: 'It is published, and no offer names it',
        to: '/labels/offers',
        action: 'Open offers',
      };
    case 'draft-forgotten':
      return {
        what: `${things(improvement.changes, 'change lies', 'changes lie')} in the drafts`,
        effect: `Last edited ${ago(new Date(improvement.since).toISOString(), now)}`,
        to: '/publish',
        action: 'Review and publish',
      };
    case 'rule-never-fired':
      return {
        what: `“${nameOf(improvement.rule)}” matched nothing in 28 days`,
        effect: 'It guards against what does not happen, or it is never reached',
        to: `/policies/${improvement.policy}`,
        action: 'Open policy',
      };
    default:
      return assertNever(improvement);
  }
}
