import { type Answer, answersOf, CHANNEL_ABILITIES, type Treatment } from '../model/answers.js';
import type { Audience } from '../../directory/audience.js';
import { audienceFaults } from '../../directory/audience-faults.js';
import { isDay } from '../../shared/day.js';
import { MAX_TRUST_MINUTES } from '../evaluate/proof.js';
import { bandProblems } from './bands.js';
import { conditionProblems, measureProblems } from './condition-problems.js';
import { isZone } from '../../shared/zone.js';
import { minutesOf } from '../evaluate/condition.js';
import type { Condition } from '../model/conditions.js';
import { implies, isCertain, isImpossible } from './implies.js';
import { MAX_ASK_MINUTES, type Path, type Problem, type ProblemContext } from './problem.js';
import { type Policy, type Rule } from '../model/rule.js';
import { isOver } from '../../shared/day.js';
import { isWithin } from '../../movement/location.js';
import { tellsPerson } from '../model/tells-person.js';
import { whereValue } from '../model/whereabouts.js';

/** Everything worth saying about one policy, in the order in which it is read. */
export function policyProblems(policy: Policy, context: ProblemContext): Problem[] {
  const problems: Problem[] = [];
  const name = policy.name.trim();
  if (name === '') problems.push({ code: 'no-name', path: ['name'] });
  else if (context.otherNames.includes(name))
    problems.push({ code: 'duplicate-name', path: ['name'], value: name });
  if (policy.owner.trim() === '') problems.push({ code: 'no-owner', path: ['owner'] });
  if (policy.channels.length === 0) problems.push({ code: 'no-channel', path: ['channels'] });
  problems.push(...audienceFaults(policy.people, context.people, ['people']));
  problems.push(...whereProblems(policy, context));
  policy.ceilings.forEach((ceiling, index) => {
    const path = ['ceilings', index];
    problems.push(...audienceFaults(ceiling.people, context.people, [...path, 'people']));
    if (ceiling.until !== null && !isDay(ceiling.until))
      problems.push({ code: 'not-a-day', path: [...path, 'until'], value: ceiling.until });
    else if (ceiling.until !== null && isOver(ceiling.until, context.at))
      problems.push({ code: 'ceiling-over', path: [...path, 'until'], value: ceiling.until });
  });
  if (policy.shared) problems.push(...conditionProblems(policy.shared, context, ['shared']));
  if (policy.rules.length === 0) problems.push({ code: 'no-rules', path: ['rules'] });
  policy.rules.forEach((rule, index) => {
    problems.push(...ruleProblems(rule, policy, context, ['rules', index]));
  });
  return [...problems, ...reachProblems(policy)];
}

function whereProblems({ where }: Policy, { machines }: ProblemContext): Problem[] {
  if (!machines) return [];
  return (['with', 'without'] as const).flatMap((side) =>
    where[side].flatMap((term, index): Problem[] => {
      const value = whereValue(term);
      const path = ['where', side, index];
      const has = (known: ReadonlySet<string>): boolean => known.has(value.toLowerCase());
      if (term.kind === 'place')
        return [...machines.places].some((place) => isWithin(place, value) || isWithin(value, place))
          ? []
          : [{ code: 'unknown-place', path, value }];
      return has(term.kind === 'machine' ? machines.machines : machines.groups)
        ? []
        : [{ code: 'unknown-machine', path, value }];
    }),
  );
}

function ruleProblems(rule: Rule, policy: Policy, context: ProblemContext, path: Path): Problem[] {
  const problems: Problem[] = [];
  if (rule.people) problems.push(...audienceFaults(rule.people, context.people, [...path, 'people']));
  problems.push(...conditionProblems(rule.when, context, [...path, 'when']));
  if (rule.unless) problems.push(...conditionProblems(rule.unless, context, [...path, 'unless']));
  if (rule.measure) problems.push(...measureProblems(rule.measure, context, [...path, 'measure']));
  problems.push(...bandProblems(rule, path));
  rule.bands.forEach((band, index) => {
    const at = [...path, 'bands', index];
    problems.push(...answerProblems(band.answer, policy, at));
    problems.push(...treatmentProblems(band.treatments, context, at));
    for (const { kind } of band.treatments) {
      const cannot = policy.channels.find((channel) => CHANNEL_ABILITIES[channel].treatments[kind] !== true);
      if (cannot)
        problems.push({
          code: 'treatment-not-on-channel',
          path: [...at, 'treatments'],
          value: `${kind}, ${cannot}`,
        });
    }
    if (band.text !== null && !context.texts.some(({ id }) => id === band.text))
      problems.push({ code: 'unknown-text', path: [...at, 'text'], value: band.text });
    else if (tellsPerson(band) && (band.text === null || isWordless(band.text, context)))
      problems.push({ code: 'answer-without-text', path: [...at, 'text'] });
  });
  return [...problems, ...termProblems(rule, context, path)];
}

function treatmentProblems(
  treatments: readonly Treatment[],
  { labels, people }: ProblemContext,
  path: Path,
): Problem[] {
  return treatments.flatMap((treatment, index): Problem[] => {
    const at = [...path, 'treatments', index];
    if (treatment.kind === 'set-label' && labels && !labels.has(treatment.label))
      return [{ code: 'unknown-label', path: [...at, 'label'], value: treatment.label }];
    if (treatment.kind === 'lower-handling')
      return [
        ...(treatment.effects.length === 0
          ? [{ code: 'empty-list' as const, path: [...at, 'effects'] }]
          : []),
        ...audienceFaults(treatment.people, people, [...at, 'people']),
      ];
    if (
      treatment.kind === 'ask-who' &&
      !(
        Number.isInteger(treatment.minutes) &&
        treatment.minutes >= 0 &&
        treatment.minutes <= MAX_TRUST_MINUTES
      )
    )
      return [{ code: 'minutes-out-of-range', path: [...at, 'minutes'], value: String(treatment.minutes) }];
    if (
      treatment.kind === 'end-access' &&
      !(Number.isInteger(treatment.days) && treatment.days >= 1 && treatment.days <= MAX_ACCESS_DAYS)
    )
      return [{ code: 'count-out-of-range', path: [...at, 'days'], value: String(treatment.days) }];
    return [];
  });
}

/** Longest access that ends by itself: ten years. What is longer has no end that anybody will see. */
const MAX_ACCESS_DAYS = 3_650;

function isWordless(text: string, { texts }: ProblemContext): boolean {
  return texts.find(({ id }) => id === text)?.words.every((words) => words.text.trim() === '') ?? true;
}

function answerProblems(answer: Answer, policy: Policy, path: Path): Problem[] {
  if (answersOf(policy.channels).includes(answer)) return [];
  const channel = policy.channels.find((each) => CHANNEL_ABILITIES[each].answers[answer] !== true);
  return [{ code: 'answer-not-on-channel', path: [...path, 'answer'], value: `${answer}, ${channel ?? ''}` }];
}

/** Minutes that somebody may be waited for. */
const isWaitOf = (minutes: number): boolean =>
  Number.isInteger(minutes) && minutes >= 1 && minutes <= MAX_ASK_MINUTES;

/** What goes with answers: questions, silence, days. */
function termProblems(rule: Rule, context: ProblemContext, path: Path): Problem[] {
  const problems: Problem[] = [];
  const asks = rule.bands.some(({ answer }) => answer === 'ask');
  if (asks && !rule.ask) problems.push({ code: 'ask-without-terms', path: [...path, 'ask'] });
  if (asks && rule.ask) {
    const { minutes, reasons, closes } = rule.ask;
    const closing = [...path, 'ask', 'closes'];
    if (closes && minutesOf(closes.time) === -1)
      problems.push({ code: 'not-a-time', path: [...closing, 'time'], value: closes.time });
    if (closes && !isZone(closes.zone))
      problems.push({ code: 'not-a-zone', path: [...closing, 'zone'], value: closes.zone });
    if (!isWaitOf(minutes))
      problems.push({
        code: 'minutes-out-of-range',
        path: [...path, 'ask', 'minutes'],
        value: String(minutes),
      });
    if (!reasons.some(({ leads }) => leads === 'stays'))
      problems.push({ code: 'ask-without-way-back', path: [...path, 'ask', 'reasons'] });
  }
  if (rule.hold && !isWaitOf(rule.hold.minutes))
    problems.push({
      code: 'minutes-out-of-range',
      path: [...path, 'hold', 'minutes'],
      value: String(rule.hold.minutes),
    });
  if (rule.silence) {
    const told = rule.bands.findIndex(tellsPerson);
    if (told !== -1) problems.push({ code: 'silent-but-told', path: [...path, 'bands', told, 'answer'] });
    if (!isDay(rule.silence.until))
      problems.push({ code: 'not-a-day', path: [...path, 'silence', 'until'], value: rule.silence.until });
    else if (isOver(rule.silence.until, context.at))
      problems.push({ code: 'silence-over', path: [...path, 'silence', 'until'], value: rule.silence.until });
  }
  if (rule.bindsFrom !== null && !isDay(rule.bindsFrom))
    problems.push({ code: 'not-a-day', path: [...path, 'bindsFrom'], value: rule.bindsFrom });
  return problems;
}

/** Rules that nothing can reach, and rules that never decide. */
function reachProblems({ rules }: Policy): Problem[] {
  return rules.flatMap((rule, index): Problem[] => {
    const path = ['rules', index];
    if (isImpossible(rule.when) || (rule.unless && implies(rule.when, rule.unless)))
      return [{ code: 'never-holds', path: [...path, 'when'] }];
    const blocking = rules
      .slice(0, index)
      .findIndex((earlier) => earlier.endsPolicy && catches(earlier, rule));
    if (blocking !== -1) return [{ code: 'never-reached', path, value: String(blocking + 1) }];
    return [];
  });
}

/** Whether an earlier rule surely holds whenever a later one would. */
export function catches(earlier: Rule, later: Rule): boolean {
  if (earlier.silence && !later.silence) return false;
  if (earlier.perRecipient && !later.perRecipient) return false;
  if (earlier.people && !(later.people && sameAudience(earlier.people, later.people))) return false;
  if (earlier.measure && !measureCovered(earlier, later)) return false;
  if (earlier.unless && !(later.unless && implies(earlier.unless, later.unless))) return false;
  const asks = later.measure ? withMeasure(later) : later.when;
  return isCertain(earlier.when) || implies(asks, earlier.when);
}

const sameAudience = (one: Audience, other: Audience): boolean =>
  JSON.stringify(one) === JSON.stringify(other);

/** What a rule with bands asks, its measure counted in. */
function withMeasure(rule: Rule): Condition {
  const least = Math.min(...rule.bands.map(({ from }) => from));
  return rule.measure && Number.isFinite(least)
    ? { kind: 'all', of: [rule.when, { kind: 'findings', ...rule.measure, atLeast: Math.max(1, least) }] }
    : rule.when;
}

/** Bands that catch all the later rule needs: open at the top, and no higher at the bottom. */
function measureCovered(earlier: Rule, later: Rule): boolean {
  const { measure } = earlier;
  if (!measure || !earlier.bands.some(({ to }) => to === null)) return false;
  const least = Math.min(...earlier.bands.map(({ from }) => from));
  return implies(withMeasure(later), { kind: 'findings', ...measure, atLeast: Math.max(1, least) });
}
