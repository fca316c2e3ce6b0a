import type {
  Band,
  Condition,
  LeafCondition,
  Measure,
  Policy,
  Rule,
  SpotTerm,
  Treatment,
  WayCondition,
  Whereabouts,
  WhereTerm,
} from '@lantern/core/policy';
import { isAboutApplication, isAboutWay, isGroup, isOverTime, whereValue } from '@lantern/core/policy';
import { assertNever } from '@lantern/core/shared';
import { audienceWords } from './audience';
import { besideWords } from './beside';
import { spanWords } from './times';
import { applicationWords, askWhoWords, windowWords } from './applications';
import { EFFECT_WORDS } from './effects';
import {
  CHANNEL_WORDS,
  CONNECTION_WORDS,
  DEVICE_WORDS,
  FILE_KIND_WORDS,
  LINK_WORDS,
  MACHINE_WORDS,
  NETWORK_WORDS,
  PLACE_WORDS,
  UNREADABLE_SHORT,
} from './terms';

/** Names of patterns, texts and entries of the register, by id. */
export type Names = ReadonlyMap<string, string>;

export function patternName(id: string, names: Names): string {
  return names.get(id) ?? 'a pattern that was removed';
}

export function countWords(atLeast: number, distinct: boolean): string {
  return `at least ${atLeast} ${distinct ? `distinct value${atLeast === 1 ? '' : 's'}` : `finding${atLeast === 1 ? '' : 's'}`}`;
}

const or = (words: readonly string[], none: string): string => words.join(' or ') || none;
const quantified = (quantity: 'any' | 'every'): string =>
  quantity === 'any' ? 'any recipient is' : 'all recipients are';

function whereWords({ where }: Pick<Measure, 'where'>): string {
  return where.length === 0
    ? ''
    : ` in the ${or(
        where.map((place) => PLACE_WORDS[place]),
        '',
      )}`;
}

const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];
const RATES = {
  all: 'moves at least',
  outside: 'sends outside at least',
  matched: 'was matched by rules at least',
} as const;

/** One condition as words, without its neighbours. */
export function conditionWords(condition: Condition, names: Names): string {
  if (!isGroup(condition)) return clauseWords(condition, names);
  if (condition.kind === 'any') {
    const alike = anyPatternWords(condition.of, names);
    if (alike) return alike;
  }
  if (condition.kind === 'none') return `none of these: ${joined(condition.of, names, ', ')}`;
  return joined(condition.of, names, condition.kind === 'all' ? ' and ' : ' or ');
}

/** Many patterns looked for in the same way, as one clause; null where they differ in more than the pattern. */
function anyPatternWords(conditions: readonly Condition[], names: Names): string | null {
  const [first] = conditions;
  if (conditions.length < 3 || first?.kind !== 'findings') return null;
  const same = (part: Condition): boolean =>
    JSON.stringify({ ...part, pattern: '' }) === JSON.stringify({ ...first, pattern: '' });
  const patterns = conditions.flatMap((part) => (part.kind === 'findings' ? [part.pattern] : []));
  if (patterns.length !== conditions.length || !conditions.every(same)) return null;
  const named = patterns.map((pattern) => patternName(pattern, names)).join(', ');
  return `it contains ${countWords(first.atLeast, first.distinct)} of any of ${named}${whereWords(first)}, certain to ${first.certainty} or more`;
}

function clauseWords(condition: LeafCondition, names: Names): string {
  if (isAboutWay(condition)) return wayWords(condition, names);
  if (isAboutApplication(condition))
    return applicationWords(condition, (pattern) => patternName(pattern, names));
  if (isOverTime(condition)) return windowWords(condition, (pattern) => patternName(pattern, names));
  switch (condition.kind) {
    case 'findings':
      return `it contains ${countWords(condition.atLeast, condition.distinct)} of ${patternName(condition.pattern, names)}${whereWords(condition)}, certain to ${condition.certainty} or more`;
    case 'unreadable':
      return unreadableWords(condition);
    case 'recipient':
      return `${quantified(condition.quantity)} ${condition.side}`;
    case 'domain':
      return `${quantified(condition.quantity)} at ${or(condition.domains, 'no domain yet')}`;
    case 'country':
      return `${quantified(condition.quantity)} in ${or(condition.countries, 'no country yet')}`;
    case 'receivers':
      return `${quantified(condition.quantity)} among ${audienceWords(condition.people)}`;
    case 'sender':
      return `it comes from ${audienceWords(condition.people)}`;
    case 'reach':
      return `at least ${condition.atLeast} ${condition.side === 'outside' ? 'outside ' : ''}can read it`;
    case 'file':
      return fileWords(condition);
    case 'size':
      return `it is ${sizeWords(condition.atLeastKilobytes)} or larger`;
    case 'time':
      return `it is sent between ${condition.from} and ${condition.to}${condition.days.length > 0 ? ` on ${condition.days.map((day) => DAYS[day - 1] ?? '?').join(', ')}` : ''} (${condition.ofSender ? `the sender's own time, else ${condition.zone}` : condition.zone})`;
    case 'rate':
      return `the sender ${RATES[condition.of]} ${condition.atLeast} times within ${spanWords(condition.minutes)}`;
    case 'tries':
      return `the same content was stopped at least ${condition.atLeast === 1 ? 'once' : `${condition.atLeast} times`} within ${spanWords(condition.minutes)} before`;
    case 'exchange':
      return exchangeWords(condition, names);
    case 'label':
      return labelWords(condition, names);
    case 'rows':
      return `it has at least ${condition.atLeast} row${condition.atLeast === 1 ? '' : 's'}`;
    case 'channel':
      return `it goes by ${or(
        condition.channels.map((channel) => CHANNEL_WORDS[channel]),
        'no channel yet',
      )}`;
    default:
      return assertNever(condition);
  }
}

function unreadableWords({ reasons }: LeafCondition & { kind: 'unreadable' }): string {
  const because = reasons.map((reason) => UNREADABLE_SHORT[reason]);
  return `a part cannot be read${because.length > 0 ? ` because ${or(because, '')}` : ''}`;
}

function exchangeWords({ exchanges }: LeafCondition & { kind: 'exchange' }, names: Names): string {
  if (exchanges.length === 0) return 'an approved exchange covers it';
  const named = exchanges.map((id) => names.get(id) ?? 'an exchange that was removed');
  return `it is covered by an approved exchange: ${or(named, '')}`;
}

function wayWords(condition: WayCondition, names: Names): string {
  switch (condition.kind) {
    case 'taken-from':
      return `it is taken from ${spotListWords(condition.spots, names)}`;
    case 'put-into':
      return `it is put into ${spotListWords(condition.spots, names)}`;
    case 'link':
      return condition.links.length === 0
        ? 'a link is made'
        : `a link is made for ${or(
            condition.links.map((link) => LINK_WORDS[link]),
            '',
          )}`;
    case 'connection':
      return `the connection is ${or(
        condition.states.map((state) => CONNECTION_WORDS[state]),
        'nothing yet',
      )}`;
    case 'machine':
      return `the machine is ${or(
        condition.states.map((state) => MACHINE_WORDS[state]),
        'nothing yet',
      )}`;
    case 'network':
      return `the network is ${or(
        condition.states.map((state) => NETWORK_WORDS[state]),
        'nothing yet',
      )}`;
    default:
      return assertNever(condition);
  }
}

function spotListWords(spots: readonly SpotTerm[], names: Names): string {
  return or(
    spots.map((spot) => spotWords(spot, names)),
    'nothing yet',
  );
}

/** One source or target as words, as "the application Booking system" or "an untrusted removable drive". */
export function spotWords(spot: SpotTerm, names: Names): string {
  switch (spot.kind) {
    case 'application':
      return `the application ${spot.name || '?'}`;
    case 'host':
      return spot.under ? `${spot.host} and all below it` : `the host ${spot.host}`;
    case 'device': {
      const trust = spot.trusted === null ? 'a' : spot.trusted ? 'a trusted' : 'an untrusted';
      const name = spot.name === '' ? '' : ` called ${spot.name}`;
      return `${trust} ${DEVICE_WORDS[spot.device]}${name}`;
    }
    case 'place':
      return `the place ${spot.path} and everything in it`;
    case 'spots':
      return `"${names.get(spot.called) ?? 'a group that was removed'}"`;
    default:
      return assertNever(spot);
  }
}

/** Machines and places as words: "everywhere", "machines of Desks, but not QUAY-7". */
export function whereaboutsWords({ with: there, without }: Whereabouts): string {
  const words = (terms: readonly WhereTerm[]): string => terms.map(whereTermWords).join(', ');
  const where = there.length === 0 ? 'everywhere' : words(there);
  return without.length === 0 ? where : `${where}, but not ${words(without)}`;
}

const isAnywhere = ({ with: there, without }: Whereabouts): boolean =>
  there.length === 0 && without.length === 0;

export function whereTermWords(term: WhereTerm): string {
  const value = whereValue(term);
  if (term.kind === 'machine') return `the machine ${value}`;
  return term.kind === 'machines' ? `machines of ${value}` : `the place ${value}`;
}

function labelWords({ carries, labels }: LeafCondition & { kind: 'label' }, names: Names): string {
  if (carries === 'none') return 'it carries no label';
  return labels.length === 0
    ? 'it carries a label'
    : `it carries ${or(
        labels.map((id) => names.get(id) ?? 'a label that was removed'),
        '',
      )}`;
}

function sizeWords(kilobytes: number): string {
  return kilobytes >= 1_024 && kilobytes % 1_024 === 0 ? `${kilobytes / 1_024} MB` : `${kilobytes} KB`;
}

function fileWords(condition: LeafCondition & { kind: 'file' }): string {
  const { kinds, names, atLeastKilobytes, misnamed } = condition;
  const traits = [
    ...(kinds.length > 0
      ? [
          `is ${or(
            kinds.map((kind) => FILE_KIND_WORDS[kind]),
            '',
          )}`,
        ]
      : []),
    ...(names.length > 0 ? [`is called ${or(names, '')}`] : []),
    ...(atLeastKilobytes === null ? [] : [`is ${sizeWords(atLeastKilobytes)} or larger`]),
    ...(misnamed ? ['has a name that does not match its content'] : []),
  ];
  return traits.length === 0 ? 'a file comes along' : `a file comes along that ${traits.join(' and ')}`;
}

function joined(conditions: readonly Condition[], names: Names, by: string): string {
  if (conditions.length === 0) return 'nothing yet';
  return conditions.map((part) => conditionWords(part, names)).join(by);
}

/** "1 to 4", "25 and more", "7". */
export function rangeWords({ from, to }: Pick<Band, 'from' | 'to'>): string {
  if (to === null) return `${from} and more`;
  return from === to ? `${from}` : `${from} to ${to}`;
}

export function measureWords(measure: Measure, names: Names): string {
  return `${measure.distinct ? 'distinct values' : 'findings'} of ${patternName(measure.pattern, names)}${whereWords(measure)}, certain to ${measure.certainty} or more`;
}

const TREATED = {
  'no-passing-on': 'prevent forwarding',
  'encrypted-connection': 'only over an encrypted connection',
  'encrypt-content': 'only encrypted for its receiver',
} as const;

export function treatmentWords(treatment: Treatment, names: Names): string {
  switch (treatment.kind) {
    case 'mark':
      return `mark it "${treatment.words}"`;
    case 'set-label':
      return `set the label "${names.get(treatment.label) ?? 'that is gone'}"`;
    case 'lower-handling':
      return `let ${audienceWords(treatment.people)} no longer ${or(
        treatment.effects.map((effect) => EFFECT_WORDS[effect]),
        '(not chosen yet)',
      )}`;
    case 'ask-who':
      return askWhoWords(treatment);
    case 'end-access':
      return `let access end after ${treatment.days} ${treatment.days === 1 ? 'day' : 'days'}`;
    default:
      return TREATED[treatment.kind];
  }
}

function bandWords(band: Band, names: Names): string {
  const told =
    band.text === null ? '' : `, tell the sender "${names.get(band.text) ?? 'a message that was removed'}"`;
  const treated = band.treatments.map((treatment) => `, ${treatmentWords(treatment, names)}`).join('');
  return `${band.answer}${told}${treated}, severity ${band.severity}`;
}

/** A whole rule as a sentence, for lists, incidents and the review of changes. */
export function ruleSentence(rule: Rule, names: Names): string {
  const people = rule.people ? `For ${audienceWords(rule.people)}: when` : 'When';
  const unless = rule.unless ? `, unless ${conditionWords(rule.unless, names)}` : '';
  return `${people} ${conditionWords(rule.when, names)}${unless}, then ${outcomeWords(rule, names)}${besideWords(rule)}.`;
}

function outcomeWords(rule: Rule, names: Names): string {
  const [only] = rule.bands;
  if (!rule.measure) return only ? bandWords(only, names) : 'nothing yet';
  const bands = rule.bands.map((band) => `${rangeWords(band)}: ${bandWords(band, names)}`);
  return `by the number of ${measureWords(rule.measure, names)}: ${bands.join('; ')}`;
}

/** Scope and owner of a policy: for whom, under which condition, up to which answer. One sentence each. */
export function policySentences(policy: Policy, names: Names): string[] {
  return [
    `For ${audienceWords(policy.people)}, on ${policy.channels.map((channel) => CHANNEL_WORDS[channel]).join(' and ') || 'no channel yet'}${isAnywhere(policy.where) ? '' : `, ${whereaboutsWords(policy.where)}`}.`,
    ...(policy.shared ? [`Every rule applies only when ${conditionWords(policy.shared, names)}.`] : []),
    ...policy.ceilings.map(
      (ceiling) =>
        `For ${audienceWords(ceiling.people)}: ${ceiling.answer === 'as-written' ? 'as written' : `${ceiling.answer} at most`}${ceiling.until ? ` until ${ceiling.until}` : ''}.`,
    ),
    ...(policy.owner ? [`Owner: ${policy.owner}.`] : []),
  ];
}
