import { type FieldName, type Listed, LISTED, MAX_FILTER_LENGTH } from '@lantern/core/incidents';
import type {
  Few,
  Grain,
  Improvement,
  PlacedSpike,
  RuleFigures,
  RuleRemark,
  Trend,
} from '@lantern/core/insight';
import type { LabelledHow, LabelShift } from '@lantern/core/labels';
import type { Channel } from '@lantern/core/movement';
import { IsIn, IsISO8601, IsOptional, IsString, IsTimeZone, MaxLength } from 'class-validator';
import type { FieldValue } from './queue.js';

/** Fields that a figure can be divided by. */
export const CUT_FIELDS = [
  'policy',
  'rule',
  'channel',
  'answer',
  'severity',
  'outcome',
  'department',
  'person',
  'machine',
  'network',
  'domain',
  'source',
  'label',
  'pattern',
  'origin',
  'reply',
  'override',
] as const satisfies readonly FieldName[];
export type CutField = (typeof CUT_FIELDS)[number];

/** A period by the clock of a zone, and what is counted in it. */
export class PeriodQuery {
  @IsISO8601({ strict: true, strictSeparator: true })
  @MaxLength(40)
  from: string;

  /** The first instant after it. */
  @IsISO8601({ strict: true, strictSeparator: true })
  @MaxLength(40)
  to: string;

  /** Days begin at midnight of this zone (IANA). */
  @IsTimeZone()
  @MaxLength(64)
  zone: string;

  /** A filter line (RFC 7644, section 3.4.2.2), empty for everything. */
  @IsOptional()
  @IsString()
  @MaxLength(MAX_FILTER_LENGTH)
  filter?: string;
}

export class ChangesQuery extends PeriodQuery {
  @IsIn([...LISTED])
  listed: Listed;

  @IsOptional()
  @IsIn([...CUT_FIELDS])
  by?: CutField;
}

export class ListedPeriodQuery extends PeriodQuery {
  @IsIn([...LISTED])
  listed: Listed;
}

/** Figures of a period, each with the list that shows what it counts. */
export const FIGURES = [
  'incidents',
  'matches',
  'movements',
  'overrides',
  'replies',
  'false-positives',
  'harm',
] as const;
export type FigureCode = (typeof FIGURES)[number];

export interface FigureView {
  readonly code: FigureCode;
  readonly listed: Listed;
  /** Shows what is counted. */
  readonly filter: string;
  readonly count: number;
  /** In the period of the same length before. */
  readonly before: number;
  readonly filterBefore: string;
}

export interface BucketView {
  readonly from: string;
  readonly to: string;
}

/** Counts of one value, or of everything, bucket by bucket. */
export interface SeriesView {
  /** Null for everything. */
  readonly value: FieldValue | null;
  readonly count: number;
  readonly before: number;
  readonly counts: readonly number[];
}

export interface ChangesView {
  /** What is counted, without the period: the filter of the request, and our own tests kept out. */
  readonly filter: string;
  readonly grain: Grain;
  readonly buckets: readonly BucketView[];
  readonly figures: readonly FigureView[];
  /** Everything first, then the values with the largest counts: {@link MAX_SERIES} with counts a bucket. */
  readonly series: readonly SeriesView[];
  /** More values than are listed. */
  readonly more: boolean;
  readonly spikes: readonly PlacedSpike[];
  readonly trend: Trend | null;
  /** When the first movement was recorded; null where there is none. */
  readonly since: string | null;
}

/** Values with counts a bucket: as many rows as a person compares. */
export const MAX_SERIES = 12;
/** Values of a field that are listed. */
export const MAX_CUT_VALUES = 50;

/** What makes up the difference of one stretch to the same stretch of earlier weeks. */
export interface WhyView {
  readonly count: number;
  readonly usual: number;
  /** Weeks that say what is usual. */
  readonly weeks: number;
  readonly parts: readonly {
    readonly field: FieldName;
    readonly value: FieldValue;
    readonly count: number;
    readonly usual: number;
    readonly share: number;
    readonly filter: string;
  }[];
  readonly published: readonly {
    readonly revision: number;
    readonly at: string;
    readonly by: string;
    readonly name: string;
  }[];
  readonly filter: string;
}

export interface RuleCostView {
  readonly policy: { readonly id: string; readonly name: string };
  readonly rule: { readonly id: string; readonly name: string };
  /** In force now. */
  readonly published: boolean;
  readonly figures: RuleFigures;
  readonly remarks: readonly RuleRemark[];
  /** Median time from the movement to the decision; null where nothing is decided. */
  readonly minutesToDecide: number | null;
  /** Shows its matches of the period. */
  readonly filter: string;
}

/** Words that people gave when they asked for an override or replied, the most frequent first. */
export interface ReasonView {
  /** What became of it, and the words themselves. */
  readonly about: string;
  readonly words: string;
  readonly kind: 'reply' | 'override';
  readonly count: number;
  /** An incident where they stand. */
  readonly incident: number;
}

export class RuleReasonsQuery extends PeriodQuery {
  @IsString()
  @MaxLength(60)
  rule: string;
}

/** Fields whose few largest values are looked for, by the question: who, with what, where to, how. */
export const MOST_FIELDS = [
  'person',
  'department',
  'machine',
  'domain',
  'source',
  'network',
  'channel',
] as const satisfies readonly FieldName[];
export type MostField = (typeof MOST_FIELDS)[number];

export interface MostView {
  /** What is counted, without the period. */
  readonly filter: string;
  readonly total: number;
  readonly fields: readonly {
    readonly field: MostField;
    readonly few: Few;
    readonly values: readonly {
      readonly value: FieldValue;
      readonly share: number;
      /** Usual count in a period as long; null where too little is known. */
      readonly usual: number | null;
      /** Chance of as many or more if nothing had changed; null where too little is known. */
      readonly chance: number | null;
      readonly filter: string;
    }[];
  }[];
  /** Counts by weekday (0 Monday) and hour of the zone's clock. */
  readonly hours: readonly { readonly weekday: number; readonly hour: number; readonly count: number }[];
  /** Days that the usual is taken from. */
  readonly usualDays: number;
}

/** Something that could be better, and where to do it. */
export interface ImprovementView {
  readonly improvement: Improvement;
  /** Names of the rule, policy or patterns that it is about, by id. */
  readonly names: Readonly<Record<string, string>>;
  /** What a filter finds the rule by that it is about; null for none. */
  readonly ruleWord: string | null;
  /** Since when it is known. */
  readonly since: string;
}

/** What to do next, and what was done. */
export interface ImprovementsView {
  readonly open: readonly ImprovementView[];
  /** What was open and is no longer, week by week, the present week last. */
  readonly weeks: readonly { readonly from: string; readonly done: number; readonly open: number }[];
}

/** How well what is sensitive is guarded. */
export interface GuardView {
  readonly grain: Grain;
  readonly buckets: readonly BucketView[];
  /** Changes of labels by how and what. */
  readonly labelChanges: readonly {
    readonly how: LabelledHow;
    readonly shift: Exclude<LabelShift, 'same'>;
    readonly counts: readonly number[];
  }[];
  /** Incidents with sensitive content, and those of them that carried a label. */
  readonly sensitive: { readonly count: number; readonly filter: string; readonly counts: readonly number[] };
  readonly labelled: { readonly count: number; readonly filter: string; readonly counts: readonly number[] };
  /** Of the kinds of data that some rule asks for: how many are guarded on a channel for anybody, and for everybody. */
  readonly channels: readonly {
    readonly channel: Channel;
    readonly kinds: number;
    readonly guarded: number;
    readonly guardedForAll: number;
    readonly movements: number;
    readonly filter: string;
  }[];
  /** People of the directory, and those whom a rule guards on some channel. */
  readonly people: { readonly all: number; readonly guarded: number };
  /** Machines of the directory, and those from which something was reported in the period. */
  readonly machines: { readonly all: number; readonly heard: number; readonly silent: readonly string[] };
  /** One row a day since it is recorded. */
  readonly days: readonly GuardDay[];
}

export interface GuardDay {
  /** ISO 8601. */
  readonly day: string;
  readonly kinds: number;
  /** Kinds of data guarded for everybody, summed over the channels, of kinds times channels. */
  readonly guarded: number;
  readonly of: number;
  readonly people: number;
  readonly machines: number;
}
