import type { ImprovementView } from '@lantern/contracts/insight';
import type { MachineGapCode } from '@lantern/core/insight';
import { deskPath } from '@lantern/core/incidents';
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

/** What sentences need beside the improvement. */
interface Known {
  readonly nameOf: (id: string) => string;
  /** What a filter finds the rule by. */
  readonly ruleWord: string | null;
  readonly now: Date;
}
type Code = ImprovementView['improvement']['code'];
type Words = {
  readonly [Each in Code]: (
    improvement: Extract<ImprovementView['improvement'], { code: Each }>,
    known: Known,
  ) => ImprovementWords;
};

/** `rule` is what a filter finds it by. */
const preventLink = (rule: string): string =>
  `/insight/prevent?${new URLSearchParams({ filter: `rule eq ${JSON.stringify(rule)}` }).toString()}`;

const GAP_WORDS: Readonly<Record<MachineGapCode, string>> = {
  silent: 'it is silent',
  'older-rules': 'it uses an older revision',
  'older-orders': 'it has not received its list of folders yet',
  'cannot-watch': 'it cannot watch a folder',
  'cannot-stop': 'it cannot move files, so blocking does not work',
};

const WORDS: Words = {
  unguarded: (improvement, { nameOf }) => {
    const shown = improvement.patterns.slice(0, SHOWN_NAMES).map(nameOf).join(', ');
    const rest = improvement.patterns.length - SHOWN_NAMES;
    return {
      what: `${capital(CHANNEL_WORDS[improvement.channel])}: ${things(improvement.patterns.length, 'kind of data is', 'kinds of data are')} not guarded, but guarded on other channels`,
      effect: `${things(improvement.movements, 'movement', 'movements')} in 28 days. ${shown}${rest > 0 ? ` and ${count(rest)} more` : ''}`,
      to: '/policies/coverage',
      action: 'Open coverage',
    };
  },
  'ceiling-over': (improvement, { nameOf }) => ({
    what: `The ceiling of “${nameOf(improvement.policy)}” ended on ${dayOf(improvement.until)}`,
    effect: `${things(improvement.matches, 'match', 'matches')} in 28 days now get the full answer`,
    to: `/policies/${improvement.policy}`,
    action: 'Open policy',
  }),
  'agent-silent': (improvement, { now }) => ({
    what: `The agent “${improvement.name}” is silent`,
    effect:
      improvement.since === null
        ? 'It has never been heard of since it was created'
        : `Last heard of ${ago(new Date(improvement.since).toISOString(), now)}`,
    to: '/doors',
    action: 'Open agents',
  }),
  'machine-gap': (improvement, { now }) => ({
    what: `Rules do not apply fully on the machine “${improvement.name}”`,
    effect: improvement.gaps.includes('silent')
      ? improvement.since === null
        ? 'It was never seen'
        : `Last seen ${ago(new Date(improvement.since).toISOString(), now)}`
      : capital(improvement.gaps.map((code) => GAP_WORDS[code]).join(', ')),
    to: '/discovery/machines',
    action: 'Open machines',
  }),
  'clean-up-overdue': (improvement) => ({
    what: `The clean-up of “${improvement.name}” is overdue since ${dayOf(`${improvement.dueOn}T12:00:00`)}`,
    effect: `${things(improvement.left, 'item is', 'items are')} left`,
    to: `/discovery?place=${improvement.place}`,
    action: 'Open place',
  }),
  'rule-mostly-false': (improvement, { nameOf, ruleWord }) => ({
    what: `“${nameOf(improvement.rule)}” mostly finds what it should not`,
    effect: `${count(improvement.falsePositives)} of ${things(improvement.decided, 'decided incident is a false positive', 'decided incidents are false positives')}, ${things(improvement.people, 'person', 'people')} interrupted in 28 days`,
    to: preventLink(ruleWord ?? improvement.rule),
    action: 'Prevent false positives',
  }),
  'rule-against-work': (improvement, { nameOf }) => ({
    what: `“${nameOf(improvement.rule)}” stops what approvers then let go`,
    effect: `${count(improvement.approved)} of ${things(improvement.asked, 'override request was approved', 'override requests were approved')} in 28 days`,
    to: '/insight/rules',
    action: 'See what people said',
  }),
  'requests-late': (improvement, { now }) => ({
    what: `${things(improvement.count, 'request waits', 'requests wait')} longer than promised`,
    effect: `The oldest was made ${ago(new Date(improvement.oldest).toISOString(), now)}`,
    to: '/incidents/waiting',
    action: 'Open requests',
  }),
  'incidents-overdue': (improvement) => ({
    what: `${things(improvement.count, 'incident is', 'incidents are')} overdue`,
    effect: 'They are older than the time promised for their severity',
    to: deskPath('overdue eq true and test eq false'),
    action: 'Open them',
  }),
  'specimens-failing': (improvement, { nameOf }) => ({
    what: `${things(improvement.count, 'specimen', 'specimens')} of “${nameOf(improvement.pattern)}” no longer give what they should`,
    effect: 'The published pattern finds too much or too little',
    to: `/patterns/${improvement.pattern}`,
    action: 'Open pattern',
  }),
  'decided-differently': (improvement) => ({
    what: `${things(improvement.groups, 'case was', 'cases were')} decided differently by different people`,
    effect: 'Same text, same rules: some called it a false positive, others did not',
    to: deskPath(improvement.numbers.map((number) => `number eq ${number}`).join(' or ')),
    action: 'Compare them',
  }),
  'label-offered-to-nobody': (improvement) => ({
    what: `The label “${improvement.name}” is offered to nobody`,
    effect: 'It is published, and no offer names it',
    to: '/labels/offers',
    action: 'Open offers',
  }),
  'draft-forgotten': (improvement, { now }) => ({
    what: `${things(improvement.changes, 'change lies', 'changes lie')} in the drafts`,
    effect: `Last edited ${ago(new Date(improvement.since).toISOString(), now)}`,
    to: '/publish',
    action: 'Review and publish',
  }),
  'rule-never-fired': (improvement, { nameOf }) => ({
    what: `“${nameOf(improvement.rule)}” matched nothing in 28 days`,
    effect: 'It guards against what does not happen, or it is never reached',
    to: `/policies/${improvement.policy}`,
    action: 'Open policy',
  }),
};

export function improvementWords(
  { improvement, names, ruleWord }: ImprovementView,
  now: Date,
): ImprovementWords {
  const words = WORDS[improvement.code] as (
    improvement: ImprovementView['improvement'],
    known: Known,
  ) => ImprovementWords;
  return words(improvement, { nameOf: (id) => names[id] ?? id, ruleWord, now });
}
