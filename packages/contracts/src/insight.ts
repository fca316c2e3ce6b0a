import { type FieldName, type Listed, LISTED, MAX_FILTER_LENGTH } from '@lantern/core/incidents';
import type {
  ChangeEffect,
  ComparedLine,
  Few,
  Grain,
  Improvement,
  LearnedWeights,
  LineChange,
  PreventingChange,
  PromiseState,
  RuleFigures,
  RuleRemark,
  Spike,
  Trend,
} from '@lantern/core/insight';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayUnique,
  IsArray,
  IsBoolean,
  IsEmail,
  IsIn,
  IsInt,
  IsISO8601,
  IsOptional,
  IsString,
  IsTimeZone,
  IsUUID,
  Matches,
  Max,
  MaxLength,
  Min,
  MinLength,
  ValidateNested,
} from 'class-validator';
import type { LabelledHow, LabelShift } from '@lantern/core/labels';
import type { Channel } from '@lantern/core/movement';
import type { IncidentRow } from './incidents.js';
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

/** A bucket that stands out; the place is its index. */
export interface SpikeView extends Spike {
  readonly bucket: number;
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
  readonly spikes: readonly SpikeView[];
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

/** What to prevent: an incident that was decided as false positive, or all such under a filter. */
export class PreventRequest {
  @IsOptional()
  @Type(() => Number)
  @IsInt()
  @Min(1)
  incident?: number;

  @IsOptional()
  @IsString()
  @MaxLength(MAX_FILTER_LENGTH)
  filter?: string;
}

/** One change with what it would have done. */
export interface PreventOption {
  readonly change: PreventingChange;
  readonly effect: ChangeEffect;
  /** Incidents it was asked about that would not have come. */
  readonly targets: { readonly gone: number; readonly of: number };
  /** Incidents that would get through and that nobody called false; 200 at most. */
  readonly letThrough: readonly IncidentRow[];
  /** Specimens that would no longer give what they should; null for a change that reads no specimen. */
  readonly brokenSpecimens: number | null;
}

export interface PreventView {
  /** Names this computation; it is kept for a while, so that a change can be taken from it. */
  readonly computed: string;
  readonly rule: { readonly id: string; readonly name: string };
  readonly policy: { readonly id: string; readonly name: string };
  /** Days that were looked back. */
  readonly days: number;
  /** Matches of the rule in them; judged again are those whose movement the journal keeps. */
  readonly matches: number;
  readonly judged: number;
  readonly options: readonly PreventOption[];
  /** The rule differs in the drafts, and the changes start from there. */
  readonly drafted: boolean;
}

/** Takes one of the computed changes into the draft. */
export class TakeChangeRequest {
  /** The computation it was read from. */
  @IsUUID()
  computed: string;

  /** Its place in the list. */
  @IsInt()
  @Min(0)
  @Max(100)
  option: number;
}

/** A change that was made to prevent false positives, and what came of it. */
export interface PreventionView {
  readonly id: string;
  readonly at: string;
  readonly by: string;
  readonly incident: number | null;
  readonly rule: string;
  readonly change: PreventingChange;
  readonly effect: ChangeEffect;
  /** The first revision that has it; null while it is not published. */
  readonly revision: { readonly number: number; readonly at: string } | null;
  readonly state: PromiseState;
  /** Incidents of the rule in the 28 days before, and since it was published. */
  readonly before: PreventionFigures;
  readonly since: PreventionFigures | null;
}

export interface PreventionFigures {
  readonly days: number;
  readonly incidents: number;
  readonly falsePositives: number;
  readonly harm: number;
  readonly filter: string;
}

/** Something that could be better, and where to do it. */
export interface ImprovementView {
  readonly improvement: Improvement;
  /** Names of the rule, policy or patterns that it is about, by id. */
  readonly names: Readonly<Record<string, string>>;
  /** Since when it is known. */
  readonly since: string;
}

/** What to do next, and what was done. */
export interface ImprovementsView {
  readonly open: readonly ImprovementView[];
  /** What was open and is no longer, week by week, the present week last. */
  readonly weeks: readonly { readonly from: string; readonly done: number; readonly open: number }[];
}

/** What a report shows: figures over time, rules, people and places, or a list of incidents. */
export const REPORT_VIEWS = ['changes', 'rules', 'most', 'incidents'] as const;
export type ReportView = (typeof REPORT_VIEWS)[number];
/** Days that a report looks back at most. */
export const MAX_REPORT_DAYS = 366;
/** People who get a report at most. */
export const MAX_REPORT_RECEIVERS = 50;

/** When a report runs: a calendar rule of RFC 5545 by the clock of a zone. */
export class ScheduleRequest {
  /** Value of an RRULE, such as FREQ=WEEKLY;BYDAY=MO. Days, weeks, months or years. */
  @IsString()
  @MinLength(9)
  @MaxLength(300)
  rule: string;

  /** `HH:MM`. */
  @Matches(/^([01]\d|2[0-3]):[0-5]\d$/u, { message: 'must be a time such as 08:00' })
  time: string;

  @IsTimeZone()
  @MaxLength(64)
  zone: string;
}

export class ScheduledReportRequest {
  @IsString()
  @MinLength(1)
  @MaxLength(120)
  name: string;

  @IsIn([...REPORT_VIEWS])
  view: ReportView;

  /** Days before the run that it is about. */
  @IsInt()
  @Min(1)
  @Max(MAX_REPORT_DAYS)
  days: number;

  @IsIn([...LISTED])
  listed: Listed;

  @IsOptional()
  @IsIn([...CUT_FIELDS])
  by?: CutField | null;

  @IsString()
  @MaxLength(MAX_FILTER_LENGTH)
  filter: string;

  @ValidateNested()
  @Type(() => ScheduleRequest)
  schedule: ScheduleRequest;

  /** Addresses of the organisation: people, or a mailbox that makes tickets. */
  @IsArray()
  @ArrayMaxSize(MAX_REPORT_RECEIVERS)
  @ArrayUnique()
  @IsEmail({ require_tld: false }, { each: true })
  @MaxLength(254, { each: true })
  to: string[];

  @IsBoolean()
  active: boolean;
}

export class SaveReportRequest extends ScheduledReportRequest {
  /** The version that was edited; a newer one on the server refuses the save. */
  @IsInt()
  @Min(1)
  version: number;
}

export interface ReportRunView {
  readonly id: string;
  readonly report: string;
  /** When it was planned for, and when it ran. */
  readonly planned: string;
  readonly at: string;
  readonly from: string;
  readonly to: string;
  /** Planned runs before it that were missed: the server was not running. */
  readonly missed: number;
  /** There was no run to compare it with. */
  readonly first: boolean;
  readonly counts: Readonly<Record<LineChange, number>>;
  readonly deliveries: readonly {
    readonly address: string;
    readonly state: 'queued' | 'delivered' | 'stuck';
    readonly reason: string;
  }[];
}

export interface ReportRunDetail extends ReportRunView {
  readonly name: string;
  readonly lines: readonly ComparedLine[];
}

export interface ReportSummary extends Omit<ScheduledReportRequest, 'by'> {
  readonly id: string;
  readonly by: CutField | null;
  readonly owner: string;
  /** Its owner can no longer sign in: it rests until somebody takes it over by saving it. */
  readonly resting: boolean;
  readonly version: number;
  readonly next: string | null;
  readonly runs: readonly ReportRunView[];
}

/** The next runs of a schedule. */
export interface ScheduleView {
  readonly next: readonly string[];
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

/** Weights of a pattern as decisions would have them, beside the present ones. */
export interface WeightsLearnedView {
  /** Names this computation; it is kept for a while, so that the weights can be taken from it. */
  readonly computed: string;
  readonly pattern: { readonly id: string; readonly name: string };
  /** Decided incidents with the pattern in the last 90 days whose texts the journal keeps, and all of them. */
  readonly read: number;
  readonly decided: number;
  /** Null where too few are decided, or all of them alike. */
  readonly learned: LearnedWeights | null;
  /** Decisions that are needed. */
  readonly needed: number;
}

export class TakeWeightsRequest {
  @IsUUID()
  computed: string;
}
