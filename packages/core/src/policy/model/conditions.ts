import type { Audience } from '../../directory/audience.js';
import type {
  Channel,
  Connection,
  FileKind,
  LinkKind,
  MachineState,
  NetworkState,
  PlaceInItem,
  UnreadableReason,
} from '../../movement/movement.js';
import type { SignInProof, UseDeed, UseWay } from '../../movement/use.js';
import type { ExchangeId } from './exchange.js';
import type { SpotTerm } from './spots.js';

/** What is counted of a pattern in an item. */
export interface Measure {
  readonly pattern: string;
  /** Count a value that appears twice once. */
  readonly distinct: boolean;
  /** 0 to 100. */
  readonly certainty: number;
  /** Places of the item that count; empty for all. */
  readonly where: readonly PlaceInItem[];
}

/** Content holds at least so many findings of a pattern at a certainty. */
export interface FindingsCondition extends Measure {
  readonly kind: 'findings';
  readonly atLeast: number;
}

/** Some part of the item could not be read, for one of these reasons, or for any where none is named. */
export interface UnreadableCondition {
  readonly kind: 'unreadable';
  readonly reasons: readonly UnreadableReason[];
}

/** Where the recipients are; `any` holds for one, `every` for all. An item without recipients goes nowhere. */
export interface RecipientCondition {
  readonly kind: 'recipient';
  readonly quantity: 'any' | 'every';
  readonly side: 'outside' | 'inside';
}

/** A recipient under one of these domains or their sub-domains. */
export interface DomainCondition {
  readonly kind: 'domain';
  readonly quantity: 'any' | 'every';
  readonly domains: readonly string[];
}

/** Recipients in one of these countries (ISO 3166-1 alpha-2), where the directory knows theirs. */
export interface CountryCondition {
  readonly kind: 'country';
  readonly quantity: 'any' | 'every';
  readonly countries: readonly string[];
}

/** Recipients among some people of the directory. */
export interface ReceiversCondition {
  readonly kind: 'receivers';
  readonly quantity: 'any' | 'every';
  readonly people: Audience;
}

/** The sender is among some people of the directory. */
export interface SenderCondition {
  readonly kind: 'sender';
  readonly people: Audience;
}

/** So many can read it afterwards. */
export interface ReachCondition {
  readonly kind: 'reach';
  readonly side: 'outside' | 'anywhere';
  readonly atLeast: number;
}

/** A file came along that meets everything named here; what is left empty is not asked. */
export interface FileCondition {
  readonly kind: 'file';
  readonly kinds: readonly FileKind[];
  /** Names with `*` for any characters; capitals do not matter. */
  readonly names: readonly string[];
  readonly atLeastKilobytes: number | null;
  /** Only files whose name claims another kind than their bytes show. */
  readonly misnamed: boolean;
}

/** All files and texts together are at least so large. */
export interface SizeCondition {
  readonly kind: 'size';
  readonly atLeastKilobytes: number;
}

/** A time of day on some days of the week, in a zone of the IANA database; a span may cross midnight. */
export interface TimeCondition {
  readonly kind: 'time';
  /** `HH:MM`, from inclusive, to exclusive. */
  readonly from: string;
  readonly to: string;
  /** 1 Monday to 7 Sunday (ISO 8601) of the day it begins; empty for every day. */
  readonly days: readonly number[];
  readonly zone: string;
  /** By the sender's own clock where the directory knows their zone; else by that of `zone`. */
  readonly ofSender?: boolean;
}

/** So many movements of the sender within some minutes, this one counted. */
export interface RateCondition {
  readonly kind: 'rate';
  readonly of: 'all' | 'outside' | 'matched';
  readonly atLeast: number;
  readonly minutes: number;
}

/** The same content was stopped or asked about so often within some minutes before: somebody tries again. */
export interface TriesCondition {
  readonly kind: 'tries';
  readonly atLeast: number;
  readonly minutes: number;
}

/** It stands in the register of exchanges: one of these, or any where none is named. */
export interface ExchangeCondition {
  readonly kind: 'exchange';
  readonly exchanges: readonly ExchangeId[];
}

/** Labels of the item and of its files: one of these, any where none is named; or none at all. */
export interface LabelCondition {
  readonly kind: 'label';
  readonly carries: 'one-of' | 'none';
  /** Ids of labels. */
  readonly labels: readonly string[];
}

/** It was taken from one of these. */
export interface TakenFromCondition {
  readonly kind: 'taken-from';
  readonly spots: readonly SpotTerm[];
}

/** It is put into one of these. */
export interface PutIntoCondition {
  readonly kind: 'put-into';
  readonly spots: readonly SpotTerm[];
}

/** A link is made, of one of these kinds, or of any where none is named. */
export interface LinkCondition {
  readonly kind: 'link';
  readonly links: readonly LinkKind[];
}

/** The way to the target is so; a channel that cannot tell says `not-known`. */
export interface ConnectionCondition {
  readonly kind: 'connection';
  readonly states: readonly Connection[];
}

/** The machine it is moved with is so. */
export interface MachineCondition {
  readonly kind: 'machine';
  readonly states: readonly MachineState[];
}

/** The network the machine is in is so. */
export interface NetworkCondition {
  readonly kind: 'network';
  readonly states: readonly NetworkState[];
}

/** Its tables have so many rows together, headings counted. */
export interface RowsCondition {
  readonly kind: 'rows';
  readonly atLeast: number;
}

/** What is done in a business application meets everything named here; what is left empty is not asked. */
export interface UseCondition {
  readonly kind: 'use';
  readonly deeds: readonly UseDeed[];
  readonly by: UseWay | null;
  /** Kinds of record, with `*` for any characters; one of those it is made of is enough. */
  readonly objects: readonly string[];
  /** Names of reports, with `*` for any characters. */
  readonly reports: readonly string[];
}

/** Each record that is taken has so many fields. */
export interface ColumnsCondition {
  readonly kind: 'columns';
  readonly atLeast: number;
}

/** So many columns of its tables hold a pattern at a certainty. */
export interface FieldsCondition {
  readonly kind: 'fields';
  readonly pattern: string;
  /** 0 to 100. */
  readonly certainty: number;
  readonly atLeast: number;
}

/** Another application that is being connected asks for one of these rights, with `*` for any characters. */
export interface RightsCondition {
  readonly kind: 'rights';
  readonly rights: readonly string[];
}

/** The sign-in under which it is done meets everything named here; what is left empty is not asked. */
export interface SignInCondition {
  readonly kind: 'sign-in';
  /** Countries (ISO 3166-1 alpha-2). */
  readonly countries: readonly string[];
  /** It was made anywhere but there: a sign-in of which the country is not known is elsewhere. */
  readonly elsewhere: boolean;
  readonly proofs: readonly SignInProof[];
  readonly olderThanMinutes: number | null;
}

/** What is added up over a stretch of time. */
export const AMOUNTS = ['movements', 'kilobytes', 'rows'] as const;
export type Amount = (typeof AMOUNTS)[number];

/** Which movements are added up: those of the same channel, those of every channel, or those to somebody outside. */
export const SUM_SCOPES = ['this-channel', 'every-channel', 'outside'] as const;
export type SumScope = (typeof SUM_SCOPES)[number];

/** So much within some hours, this movement counted: of what went on before, by the same sender. */
export interface SumCondition {
  readonly kind: 'sum';
  readonly of: Amount;
  readonly over: SumScope;
  readonly atLeast: number;
  readonly hours: number;
}

/** So many different values of a pattern within some hours, those of this movement counted. */
export interface ValuesCondition {
  readonly kind: 'values';
  readonly pattern: string;
  /** 0 to 100. */
  readonly certainty: number;
  readonly over: SumScope;
  readonly atLeast: number;
  readonly hours: number;
}

/** So many times what the sender usually moves in as many hours, and at least so much; this movement counted. */
export interface UsualCondition {
  readonly kind: 'usual';
  readonly of: Amount;
  readonly over: SumScope;
  readonly times: number;
  readonly atLeast: number;
  readonly hours: number;
}

/** What needs the past counted before it can be asked. */
export type WindowCondition = SumCondition | ValuesCondition | UsualCondition;

export function isOverTime(condition: Condition): condition is WindowCondition {
  return condition.kind === 'sum' || condition.kind === 'values' || condition.kind === 'usual';
}

export interface ChannelCondition {
  readonly kind: 'channel';
  readonly channels: readonly Channel[];
}

export interface GroupCondition {
  readonly kind: 'all' | 'any' | 'none';
  readonly of: readonly Condition[];
}

/** Out of what, into what, over what. */
export type WayCondition =
  | TakenFromCondition
  | PutIntoCondition
  | LinkCondition
  | ConnectionCondition
  | MachineCondition
  | NetworkCondition;
const WAY_KINDS: readonly string[] = [
  'taken-from',
  'put-into',
  'link',
  'connection',
  'machine',
  'network',
] satisfies readonly WayCondition['kind'][];

export function isAboutWay(condition: Condition): condition is WayCondition {
  return WAY_KINDS.includes(condition.kind);
}

/** What is done in a business application, and with which records. */
export type ApplicationCondition =
  UseCondition | ColumnsCondition | FieldsCondition | RightsCondition | SignInCondition;
const APPLICATION_KINDS: readonly string[] = [
  'use',
  'columns',
  'fields',
  'rights',
  'sign-in',
] satisfies readonly ApplicationCondition['kind'][];

export function isAboutApplication(condition: Condition): condition is ApplicationCondition {
  return APPLICATION_KINDS.includes(condition.kind);
}

export type LeafCondition =
  | FindingsCondition
  | UnreadableCondition
  | RecipientCondition
  | DomainCondition
  | CountryCondition
  | ReceiversCondition
  | SenderCondition
  | ReachCondition
  | FileCondition
  | SizeCondition
  | TimeCondition
  | RateCondition
  | TriesCondition
  | ExchangeCondition
  | LabelCondition
  | WayCondition
  | ApplicationCondition
  | WindowCondition
  | RowsCondition
  | ChannelCondition;
export type Condition = LeafCondition | GroupCondition;

export function isGroup(condition: Condition): condition is GroupCondition {
  return condition.kind === 'all' || condition.kind === 'any' || condition.kind === 'none';
}

/** The pattern that a clause asks for, whatever it asks of it; none for other clauses. */
export function patternAsked(condition: Condition): string[] {
  return condition.kind === 'findings' || condition.kind === 'fields' || condition.kind === 'values'
    ? [condition.pattern]
    : [];
}

/** A condition and everything inside it, outermost first. */
export function clausesOf(condition: Condition): Condition[] {
  return isGroup(condition) ? [condition, ...condition.of.flatMap(clausesOf)] : [condition];
}
