import { assertNever } from '../../shared/assert-never.js';
import { isDomain } from '../../directory/address.js';
import { audienceFaults } from '../../directory/audience-faults.js';
import { isZone } from '../../shared/zone.js';
import { minutesOf } from '../evaluate/condition.js';
import {
  type Condition,
  type CountryCondition,
  type DomainCondition,
  type ApplicationCondition,
  isAboutApplication,
  isAboutWay,
  isGroup,
  isOverTime,
  type LeafCondition,
  type Measure,
  type SignInCondition,
  type TimeCondition,
  type WayCondition,
  type WindowCondition,
} from '../model/conditions.js';
import type { SpotTerm } from '../model/spots.js';
import { LONGEST_LOOK_BACK_MINUTES } from '../../movement/movement.js';
import { LONGEST_WINDOW_HOURS } from '../../movement/use.js';
import {
  MAX_COUNT,
  MAX_NESTING,
  type Problem,
  type ProblemCode,
  type ProblemContext,
  type Path,
} from './problem.js';

/** Everything that is wrong inside a condition, in the order in which it is read. */
export function conditionProblems(condition: Condition, context: ProblemContext, path: Path): Problem[] {
  if (!isGroup(condition)) return leafProblems(condition, context, path);
  if (condition.of.length === 0) return [{ code: 'empty-group', path }];
  if (path.filter((step) => step === 'of').length >= MAX_NESTING) return [{ code: 'nested-too-deep', path }];
  return condition.of.flatMap((part, index) => conditionProblems(part, context, [...path, 'of', index]));
}

function leafProblems(condition: LeafCondition, context: ProblemContext, path: Path): Problem[] {
  if (isAboutWay(condition)) return wayProblems(condition, context, path);
  if (isAboutApplication(condition)) return applicationProblems(condition, context, path);
  if (isOverTime(condition)) return windowProblems(condition, context, path);
  return itemProblems(condition, context, path);
}

type ItemCondition = Exclude<LeafCondition, WayCondition | ApplicationCondition | WindowCondition>;

function itemProblems(condition: ItemCondition, context: ProblemContext, path: Path): Problem[] {
  const at = (field: string, code: ProblemCode, value: unknown): Problem[] => [
    { code, path: [...path, field], value: String(value) },
  ];
  const way = (field: string): Path => [...path, field];
  const count = (value: number): Problem[] =>
    isWhole(value, 1, MAX_COUNT) ? [] : at('atLeast', 'count-out-of-range', value);
  const rows = (value: number): Problem[] =>
    isWhole(value, 1, MAX_ROWS) ? [] : at('atLeast', 'count-out-of-range', value);
  const kilobytes = (value: number): Problem[] =>
    isWhole(value, 1, MAX_KILOBYTES) ? [] : at('atLeastKilobytes', 'count-out-of-range', value);
  const minutes = (value: number): Problem[] =>
    isWhole(value, 1, LONGEST_LOOK_BACK_MINUTES) ? [] : at('minutes', 'minutes-out-of-range', value);
  switch (condition.kind) {
    case 'findings':
      return [...measureProblems(condition, context, path), ...count(condition.atLeast)];
    case 'domain':
      return domainProblems(condition, path);
    case 'country':
      return countryProblems(condition, path);
    case 'receivers':
    case 'sender':
      return audienceFaults(condition.people, context.people, way('people'));
    case 'reach':
      return count(condition.atLeast);
    case 'file':
      return condition.atLeastKilobytes === null ? [] : kilobytes(condition.atLeastKilobytes);
    case 'size':
      return kilobytes(condition.atLeastKilobytes);
    case 'time':
      return timeProblems(condition, path);
    case 'rate':
    case 'tries':
      return [...count(condition.atLeast), ...minutes(condition.minutes)];
    case 'exchange':
      return unknownProblems(condition.exchanges, context.exchanges, 'unknown-exchange', way('exchanges'));
    case 'label':
      return unknownProblems(condition.labels, context.labels, 'unknown-label', way('labels'));
    case 'rows':
      return rows(condition.atLeast);
    case 'channel':
      return condition.channels.length === 0 ? [{ code: 'empty-list', path: [...path, 'channels'] }] : [];
    case 'unreadable':
    case 'recipient':
      return [];
    default:
      return assertNever(condition);
  }
}

function wayProblems(condition: WayCondition, context: ProblemContext, path: Path): Problem[] {
  switch (condition.kind) {
    case 'taken-from':
    case 'put-into':
      return spotProblems(condition.spots, context, [...path, 'spots']);
    case 'connection':
    case 'machine':
    case 'network':
      return condition.states.length === 0 ? [{ code: 'empty-list', path: [...path, 'states'] }] : [];
    case 'link':
      return [];
    default:
      return assertNever(condition);
  }
}

function applicationProblems(
  condition: ApplicationCondition,
  context: ProblemContext,
  path: Path,
): Problem[] {
  const countOf = (value: number): Problem[] =>
    isWhole(value, 1, MAX_COUNT)
      ? []
      : [{ code: 'count-out-of-range', path: [...path, 'atLeast'], value: String(value) }];
  switch (condition.kind) {
    case 'use':
      return [];
    case 'columns':
      return countOf(condition.atLeast);
    case 'fields':
      return [...measureProblems(condition, context, path), ...countOf(condition.atLeast)];
    case 'rights':
      return condition.rights.length === 0 ? [{ code: 'empty-list', path: [...path, 'rights'] }] : [];
    case 'sign-in':
      return signInProblems(condition, path);
    default:
      return assertNever(condition);
  }
}

/** Nothing asked of a sign-in holds for each: that is no condition. */
function signInProblems({ countries, proofs, olderThanMinutes }: SignInCondition, path: Path): Problem[] {
  if (countries.length === 0 && proofs.length === 0 && olderThanMinutes === null)
    return [{ code: 'empty-list', path: [...path, 'countries'] }];
  const age: Problem[] =
    olderThanMinutes === null || isWhole(olderThanMinutes, 1, LONGEST_WINDOW_HOURS * 60)
      ? []
      : [
          {
            code: 'minutes-out-of-range',
            path: [...path, 'olderThanMinutes'],
            value: String(olderThanMinutes),
          },
        ];
  return [...(countries.length === 0 ? [] : countryProblems({ countries }, path)), ...age];
}

function windowProblems(condition: WindowCondition, context: ProblemContext, path: Path): Problem[] {
  const problems: Problem[] =
    condition.kind === 'values' ? [...measureProblems(condition, context, path)] : [];
  const most = condition.kind === 'values' ? MAX_COUNT : MAX_ROWS;
  if (!isWhole(condition.atLeast, 1, most))
    problems.push({
      code: 'count-out-of-range',
      path: [...path, 'atLeast'],
      value: String(condition.atLeast),
    });
  if (!isWhole(condition.hours, 1, LONGEST_WINDOW_HOURS))
    problems.push({ code: 'hours-out-of-range', path: [...path, 'hours'], value: String(condition.hours) });
  if (condition.kind === 'usual' && !(condition.times > 1 && condition.times <= MAX_TIMES))
    problems.push({ code: 'count-out-of-range', path: [...path, 'times'], value: String(condition.times) });
  return problems;
}

/** More times the usual than this is any amount at all. */
const MAX_TIMES = 1_000;

/** What is wrong with a list of spots; `known` groups are those of the set. */
export function spotProblems(
  spots: readonly SpotTerm[],
  context: Pick<ProblemContext, 'spots'>,
  path: Path,
): Problem[] {
  if (spots.length === 0) return [{ code: 'empty-list', path }];
  return spots.flatMap((term, index): Problem[] => {
    const at = [...path, index];
    if (term.kind === 'host' && !isDomain(term.host) && !isAddress(term.host))
      return [{ code: 'not-a-domain', path: [...at, 'host'], value: term.host }];
    if (term.kind === 'application' && term.name.trim() === '')
      return [{ code: 'no-name', path: [...at, 'name'] }];
    if (term.kind === 'place' && term.path.split('/').every((step) => step === ''))
      return [{ code: 'no-name', path: [...at, 'path'] }];
    if (term.kind === 'spots' && !context.spots.has(term.called))
      return [{ code: 'unknown-spots', path: [...at, 'called'], value: term.called }];
    return [];
  });
}

/** A host written as digits (RFC 4632) or in brackets. */
const isAddress = (host: string): boolean => /^(\d{1,3}(\.\d{1,3}){3}|\[[0-9a-f:.]+\])$/i.test(host);

/** Ids that are not known; where nothing is known of any, none is wrong. */
function unknownProblems(
  ids: readonly string[],
  known: ReadonlySet<string> | undefined,
  code: ProblemCode,
  path: Path,
): Problem[] {
  return ids.flatMap((id, index) =>
    !known || known.has(id) ? [] : [{ code, path: [...path, index], value: id }],
  );
}

/** Most rows a condition may ask for: those of the largest sheet an office program keeps (ISO/IEC 29500 programs: 1,048,576), a thousand times. */
const MAX_ROWS = 1_048_576_000;

/** Largest size a condition may ask for: a terabyte. */
const MAX_KILOBYTES = 1_073_741_824;

export function measureProblems(
  measure: Pick<Measure, 'pattern' | 'certainty'>,
  context: ProblemContext,
  path: Path,
): Problem[] {
  const problems: Problem[] = [];
  if (!context.patterns.has(measure.pattern))
    problems.push({ code: 'unknown-pattern', path: [...path, 'pattern'], value: measure.pattern });
  if (!isWhole(measure.certainty, 0, 100))
    problems.push({
      code: 'certainty-out-of-range',
      path: [...path, 'certainty'],
      value: String(measure.certainty),
    });
  return problems;
}

function domainProblems({ domains }: DomainCondition, path: Path): Problem[] {
  if (domains.length === 0) return [{ code: 'no-domains', path: [...path, 'domains'] }];
  return domains.flatMap((domain, index): Problem[] =>
    isDomain(domain) ? [] : [{ code: 'not-a-domain', path: [...path, 'domains', index], value: domain }],
  );
}

function countryProblems({ countries }: Pick<CountryCondition, 'countries'>, path: Path): Problem[] {
  if (countries.length === 0) return [{ code: 'empty-list', path: [...path, 'countries'] }];
  return countries.flatMap((country, index): Problem[] =>
    /^[A-Za-z]{2}$/.test(country)
      ? []
      : [{ code: 'not-a-country', path: [...path, 'countries', index], value: country }],
  );
}

function timeProblems({ from, to, days, zone }: TimeCondition, path: Path): Problem[] {
  const problems: Problem[] = [];
  for (const [field, time] of [
    ['from', from],
    ['to', to],
  ] as const) {
    if (minutesOf(time) === -1) problems.push({ code: 'not-a-time', path: [...path, field], value: time });
  }
  if (!isZone(zone)) problems.push({ code: 'not-a-zone', path: [...path, 'zone'], value: zone });
  days.forEach((day, index) => {
    if (!isWhole(day, 1, 7))
      problems.push({ code: 'not-a-day', path: [...path, 'days', index], value: String(day) });
  });
  return problems;
}

function isWhole(value: number, least: number, most: number): boolean {
  return Number.isInteger(value) && value >= least && value <= most;
}
