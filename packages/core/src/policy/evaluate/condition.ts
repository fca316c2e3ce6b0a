import { isZone } from '../../shared/zone.js';
import { certaintyFor, type Finding, patternsOf } from '../../detection/model/finding.js';
import { assertNever } from '../../shared/assert-never.js';
import { domainOf, isUnder } from '../../directory/address.js';
import { isMeant } from '../../directory/audience.js';
import {
  type Condition,
  type CountryCondition,
  type DomainCondition,
  type ExchangeCondition,
  type FileCondition,
  type LabelCondition,
  type LeafCondition,
  type LinkCondition,
  type Measure,
  type RateCondition,
  type ReceiversCondition,
  type RecipientCondition,
  type SizeCondition,
  type TimeCondition,
  type TriesCondition,
  type UnreadableCondition,
  isAboutApplication,
  isAboutWay,
  isGroup,
  isOverTime,
  type WayCondition,
} from '../model/conditions.js';
import type {
  InspectedMovement,
  LinkKind,
  MovedFile,
  MovedLabel,
  Recipient,
} from '../../movement/movement.js';
import { isOver } from '../../shared/day.js';
import { type Exchange } from '../model/exchange.js';
import { type SpotGroup } from '../model/spots.js';
import { isLike } from '../model/like.js';
import { isOneOf, type SpotTerm } from '../model/spots.js';
import { type Spot, spotName } from '../../movement/location.js';
import { isPlaced } from '../../movement/movement.js';
import { bytesMoved, KILOBYTE, rowsTaken } from './windows.js';
import { meetApplication, meetWindow } from './application-conditions.js';

/** A condition with the value that was met, so that a verdict can be read. The sentence for it is the web's. */
export interface ConditionTrace {
  readonly condition: Condition;
  readonly held: boolean;
  /** What was compared: findings, recipients, files, kilobytes, movements, minutes since midnight. */
  readonly value: number;
  /** What the value was counted out of, where that says something: recipients, parts. */
  readonly outOf?: number;
  /** Names that made it hold: domains, paths, entries of the register. Never content. */
  readonly names: readonly string[];
  readonly parts: readonly ConditionTrace[];
}

/** What conditions are asked of. */
export interface Scene {
  readonly movement: InspectedMovement;
  readonly exchanges: readonly Exchange[];
  readonly spots: readonly SpotGroup[];
  /** Recipients that clauses about recipients are asked of; left out: all of the movement. */
  readonly recipients?: readonly Recipient[];
}

/** How a clause fared. */
export type Met = Omit<ConditionTrace, 'condition' | 'parts'>;

/** Evaluates a condition; every member of a group is evaluated, so that the trace is whole. */
export function evaluateCondition(condition: Condition, scene: Scene): ConditionTrace {
  if (!isGroup(condition)) return { condition, ...meet(condition, scene), parts: [] };
  const parts = condition.of.map((part) => evaluateCondition(part, scene));
  const holding = parts.filter((part) => part.held).length;
  const wanted = { all: holding === parts.length, any: holding > 0, none: holding === 0 };
  return { condition, held: wanted[condition.kind], value: holding, outOf: parts.length, names: [], parts };
}

/** Evaluates one clause. */
export function meet(condition: LeafCondition, scene: Scene): Met {
  if (isAboutWay(condition)) return meetWay(condition, scene);
  if (isAboutApplication(condition)) return meetApplication(condition, scene.movement);
  if (isOverTime(condition)) return meetWindow(condition, scene.movement);
  const { movement } = scene;
  switch (condition.kind) {
    case 'findings':
      return atLeast(condition.atLeast, measureOf(condition, movement));
    case 'unreadable':
      return meetUnreadable(condition, movement);
    case 'recipient':
    case 'domain':
    case 'country':
    case 'receivers':
      return meetRecipients(condition, scene.recipients ?? movement.recipients);
    case 'sender':
      return { held: isMeant(condition.people, movement.sender), value: 1, names: [movement.sender.address] };
    case 'reach':
      return atLeast(condition.atLeast, readersOf(condition.side, movement));
    case 'file':
      return meetFile(condition, movement.files);
    case 'size':
      return meetSize(condition, movement);
    case 'time':
      return meetTime(condition, movement);
    case 'rate':
      return meetRate(condition, movement);
    case 'tries':
      return meetTries(condition, movement);
    case 'exchange':
      return meetExchange(condition, scene);
    case 'label':
      return meetLabel(condition, movement.labels ?? []);
    case 'rows':
      return atLeast(condition.atLeast, rowsTaken(movement) + (movement.use?.before ?? 0));
    case 'channel':
      return { held: condition.channels.includes(movement.channel), value: 1, names: [movement.channel] };
    default:
      return assertNever(condition);
  }
}

function meetWay(condition: WayCondition, { movement, spots }: Scene): Met {
  switch (condition.kind) {
    case 'taken-from':
      return meetSpots(condition.spots, movement.from ?? [], spots);
    case 'put-into':
      return meetSpots(condition.spots, movement.into ?? [], spots);
    case 'link':
      return meetLink(condition, movement.link);
    case 'connection':
      return oneOf(condition.states, movement.connection ?? 'not-known');
    case 'machine':
      return oneOf(condition.states, movement.machine?.state ?? 'not-known');
    case 'network':
      return oneOf(condition.states, movement.network ?? 'not-known');
    default:
      return assertNever(condition);
  }
}

/** Whoever holds a link may be anybody: no number is too large for that. */
const ANY_NUMBER = 1_000_000_000;

function readersOf(side: 'outside' | 'anywhere', movement: InspectedMovement): number {
  const { recipients, link, readers = 0 } = movement;
  if (link === 'whoever-holds-it') return ANY_NUMBER;
  const named = recipients.filter(({ outside }) => side === 'anywhere' || outside).length;
  return side === 'anywhere' ? named + readers : named;
}

function meetSpots(terms: readonly SpotTerm[], spots: readonly Spot[], groups: readonly SpotGroup[]): Met {
  const meant = spots.filter((spot) => isOneOf(spot, terms, groups));
  return { held: meant.length > 0, value: meant.length, outOf: spots.length, names: meant.map(spotName) };
}

function meetLink({ links }: LinkCondition, link: LinkKind | undefined): Met {
  if (link === undefined) return { held: false, value: 0, names: [] };
  return { held: links.length === 0 || links.includes(link), value: 1, names: [link] };
}

function oneOf<State extends string>(states: readonly State[], state: State): Met {
  return { held: states.includes(state), value: 1, names: [state] };
}

function meetLabel({ carries, labels }: LabelCondition, carried: readonly MovedLabel[]): Met {
  const meant = carried.filter(({ id }) => labels.length === 0 || labels.includes(id));
  const held = carries === 'none' ? carried.length === 0 : meant.length > 0;
  const shown = carries === 'none' ? carried : meant;
  const names = [...new Set(shown.map(({ name }) => name))];
  return { held, value: shown.length, outOf: carried.length, names };
}

const atLeast = (wanted: number, value: number): Met => ({ held: value >= wanted, value, names: [] });

/** Counts what a measure counts, over all parts of an item. */
export function measureOf(measure: Measure, movement: InspectedMovement): number {
  const { pattern, distinct, certainty, where } = measure;
  const values = new Set<string>();
  let count = 0;
  for (const part of movement.parts) {
    if (part.status !== 'read' || !isPlaced(where, part)) continue;
    for (const finding of part.findings) {
      if (certaintyFor(finding, pattern) < Math.max(1, certainty)) continue;
      count += 1;
      if (distinct) values.add(finding.canonical);
    }
  }
  return distinct ? values.size : count;
}

/** All findings of an item, over its parts. */
export function findingsOf(movement: InspectedMovement): Finding[] {
  return movement.parts.flatMap((part) => (part.status === 'read' ? part.findings : []));
}

function meetUnreadable({ reasons }: UnreadableCondition, { parts }: InspectedMovement): Met {
  const unreadable = parts.flatMap((part) =>
    part.status === 'unreadable' && (reasons.length === 0 || reasons.includes(part.reason)) ? [part] : [],
  );
  const names = unreadable.map((part) => part.path.join(' › '));
  return { held: unreadable.length > 0, value: unreadable.length, outOf: parts.length, names };
}

type AboutRecipients = RecipientCondition | DomainCondition | CountryCondition | ReceiversCondition;

function meetRecipients(condition: AboutRecipients, recipients: readonly Recipient[]): Met {
  const meant = recipients.filter((recipient) => fits(condition, recipient));
  const all = recipients.length > 0 && meant.length === recipients.length;
  const names = [...new Set(meant.map((recipient) => domainOf(recipient.address)))];
  const held = condition.quantity === 'any' ? meant.length > 0 : all;
  return { held, value: meant.length, outOf: recipients.length, names };
}

function fits(condition: AboutRecipients, recipient: Recipient): boolean {
  switch (condition.kind) {
    case 'recipient':
      return recipient.outside === (condition.side === 'outside');
    case 'domain':
      return condition.domains.some((domain) => isUnder(domainOf(recipient.address), domain));
    case 'country': {
      const country = recipient.country?.toUpperCase();
      return country !== undefined && condition.countries.some((each) => each.toUpperCase() === country);
    }
    case 'receivers':
      return isMeant(condition.people, recipient);
    default:
      return assertNever(condition);
  }
}

function meetFile(condition: FileCondition, files: readonly MovedFile[]): Met {
  const names = files
    .filter(
      (file) =>
        (condition.kinds.length === 0 || condition.kinds.includes(file.kind)) &&
        (condition.names.length === 0 || condition.names.some((name) => isLike(file.name, name))) &&
        (condition.atLeastKilobytes === null || file.bytes >= condition.atLeastKilobytes * KILOBYTE) &&
        (!condition.misnamed || file.misnamed),
    )
    .map((file) => file.name);
  return { held: names.length > 0, value: names.length, outOf: files.length, names };
}

function meetSize({ atLeastKilobytes }: SizeCondition, movement: InspectedMovement): Met {
  const bytes = bytesMoved(movement);
  return { held: bytes >= atLeastKilobytes * KILOBYTE, value: Math.floor(bytes / KILOBYTE), names: [] };
}

const DAY_MINUTES = 24 * 60;

/** Minutes since midnight and day of the week (1 Monday) of an instant in a zone of the IANA database. */
export function clockIn(zone: string, at: number): { readonly minutes: number; readonly day: number } {
  const shown = formatOf(zone).formatToParts(at);
  const part = (type: string): string => shown.find((each) => each.type === type)?.value ?? '';
  return {
    minutes: Number(part('hour')) * 60 + Number(part('minute')),
    day: WEEK.indexOf(part('weekday')) + 1,
  };
}

const WEEK = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];
const formats = new Map<string, Intl.DateTimeFormat>();

function formatOf(zone: string): Intl.DateTimeFormat {
  const known = formats.get(zone);
  if (known) return known;
  const options = { weekday: 'short', hour: '2-digit', minute: '2-digit', hourCycle: 'h23' } as const;
  const made = new Intl.DateTimeFormat('en-GB', { ...options, timeZone: isZone(zone) ? zone : 'UTC' });
  formats.set(zone, made);
  return made;
}

/** Minutes since midnight of `HH:MM`, or -1 for anything else; `24:00` is the end of a day. */
export function minutesOf(time: string): number {
  const read = /^(\d{2}):(\d{2})$/.exec(time);
  const [hours, minutes] = [Number(read?.[1] ?? 99), Number(read?.[2] ?? 99)];
  if (minutes > 59 || hours > 24 || (hours === 24 && minutes > 0)) return -1;
  return hours * 60 + minutes;
}

function meetTime(condition: TimeCondition, { at, sender }: Pick<InspectedMovement, 'at' | 'sender'>): Met {
  const zone = (condition.ofSender ? sender.zone : undefined) ?? condition.zone;
  const { minutes, day } = clockIn(zone, at);
  const from = minutesOf(condition.from);
  const to = minutesOf(condition.to);
  const crosses = to <= from;
  const within = crosses ? minutes >= from || minutes < to : minutes >= from && minutes < to;
  // Past midnight it is still the night that began the day before.
  const began = crosses && minutes < to ? ((day + 5) % 7) + 1 : day;
  const held = within && (condition.days.length === 0 || condition.days.includes(began));
  return { held, value: minutes % DAY_MINUTES, names: [zone] };
}

const MINUTE_MS = 60_000;

function meetRate({ of, atLeast: wanted, minutes }: RateCondition, movement: InspectedMovement): Met {
  const since = movement.at - minutes * MINUTE_MS;
  const counts = movement.earlier.filter(
    (each) =>
      each.at > since &&
      each.at <= movement.at &&
      (of === 'all' || (of === 'outside' && each.outside) || (of === 'matched' && each.matched)),
  ).length;
  const self = of === 'all' || (of === 'outside' && movement.recipients.some(({ outside }) => outside));
  return atLeast(wanted, counts + (self ? 1 : 0));
}

function meetTries({ atLeast: wanted, minutes }: TriesCondition, movement: InspectedMovement): Met {
  const since = movement.at - minutes * MINUTE_MS;
  const tries = movement.earlier.filter(
    (each) => each.sameStopped && each.at > since && each.at <= movement.at,
  );
  return atLeast(wanted, tries.length);
}

function meetExchange({ exchanges }: ExchangeCondition, scene: Scene): Met {
  const { recipients = scene.movement.recipients } = scene;
  const movement = { ...scene.movement, recipients };
  const asked = scene.exchanges.filter(({ id }) => exchanges.length === 0 || exchanges.includes(id));
  const names = asked.filter((exchange) => covers(exchange, movement)).map(({ name }) => name);
  return { held: names.length > 0, value: names.length, outOf: asked.length, names };
}

/** Whether an entry of the register is for this movement: sender, everybody outside it goes to, content and day. */
export function covers(exchange: Exchange, movement: InspectedMovement): boolean {
  if (exchange.until !== null && isOver(exchange.until, movement.at)) return false;
  if (!isMeant(exchange.from, movement.sender)) return false;
  const outside = movement.recipients.filter((recipient) => recipient.outside);
  if (outside.length === 0) return false;
  if (!outside.every(({ address }) => exchange.to.some((to) => isTo(address, to)))) return false;
  return (
    exchange.patterns.length === 0 ||
    findingsOf(movement).every((finding) =>
      patternsOf(finding).every(
        (pattern) => certaintyFor(finding, pattern) < CERTAIN_ENOUGH || exchange.patterns.includes(pattern),
      ),
    )
  );
}

/** From here on a finding counts against an exchange that is for other content. Common practice, no source. */
const CERTAIN_ENOUGH = 80;

function isTo(address: string, to: string): boolean {
  return to.includes('@') ? address.toLowerCase() === to.toLowerCase() : isUnder(domainOf(address), to);
}
