import { type Listed, LISTED, MAX_FILTER_LENGTH } from '@lantern/core/incidents';
import type { ComparedLine, LineChange } from '@lantern/core/insight';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayUnique,
  IsArray,
  IsBoolean,
  IsEmail,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  IsTimeZone,
  Matches,
  Max,
  MaxLength,
  Min,
  MinLength,
  ValidateNested,
} from 'class-validator';
import { CUT_FIELDS, type CutField } from './insight.js';

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
