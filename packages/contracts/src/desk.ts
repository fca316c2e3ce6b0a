import {
  type DeskAct,
  FIELD_NAMES,
  type FieldName,
  LISTED,
  type Listed,
  MAX_FILTER_LENGTH,
  type Promises,
  type Remark,
  type WorkingHours,
} from '@lantern/core/incidents';
import type { Channel } from '@lantern/core/movement';
import type { Answer, Severity } from '@lantern/core/policy';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  ArrayUnique,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsISO8601,
  IsOptional,
  IsString,
  Matches,
  Max,
  MaxLength,
  Min,
  MinLength,
  ValidateIf,
  ValidateNested,
} from 'class-validator';
import { ROLE_IDS, type Role } from './accounts.js';
import { DeskActRequest, type IncidentRow } from './incidents.js';
import { LIST_ORDERS, type ListOrder } from './queue.js';

/** Incidents that one decision may be about: a flood of a day. */
export const MAX_BULK = 50_000;
/** Incidents that can be picked one by one. */
export const MAX_PICKED = 2_000;

/** A decision about many incidents: all under a filter but for exceptions, or those that are named. */
export class BulkRequest extends DeskActRequest {
  @ValidateIf(({ numbers }: BulkRequest) => numbers === undefined)
  @IsString()
  @MaxLength(MAX_FILTER_LENGTH)
  filter?: string;

  @IsOptional()
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(MAX_PICKED)
  @ArrayUnique()
  @IsInt({ each: true })
  numbers?: number[];

  @IsOptional()
  @IsArray()
  @ArrayMaxSize(MAX_PICKED)
  @IsInt({ each: true })
  except?: number[];

  /** How many incidents the person saw it would be; refused where it is more by now. */
  @Type(() => Number)
  @IsInt()
  @Min(1)
  @Max(MAX_BULK)
  expected: number;
}

export const BULK_STATES = ['running', 'done', 'stopped', 'undoing', 'undone', 'cut-off'] as const;
export type BulkState = (typeof BULK_STATES)[number];

/** A decision in bulk, how far it is, and what it left alone. */
export interface BulkView {
  readonly id: string;
  readonly at: string;
  readonly by: string;
  readonly act: DeskAct;
  readonly state: BulkState;
  readonly total: number;
  readonly done: number;
  readonly skipped: number;
  readonly undone: number;
  /** Why incidents were left alone, with how many. */
  readonly reasons: readonly { readonly reason: string; readonly count: number }[];
}

/** Incidents that are the same case in other hands. */
export interface AlikeView {
  readonly total: number;
  readonly open: number;
  /** 0 to 1 for each field that all or most share with this one. */
  readonly shared: readonly { readonly field: FieldName; readonly label: string; readonly share: number }[];
  /** The likest first, 200 at most. */
  readonly rows: readonly (IncidentRow & { readonly likeness: number })[];
  /** The rows and the incident itself, as a decision takes them: 2,000 at most. */
  readonly numbers: readonly number[];
}

/** Attempts of one person with the same content, in their order. */
export interface CaseView {
  readonly number: number;
  readonly attempts: readonly {
    readonly row: IncidentRow;
    /** Distinct values it held, of all patterns. */
    readonly values: number;
    /** How many of these the attempt before held as well; null for the first. */
    readonly sharedBefore: number | null;
    readonly channelChanged: boolean;
    readonly destinationChanged: boolean;
  }[];
}

/** About whom or what a time line is. */
export const AROUND = ['person', 'machine', 'destination', 'content'] as const;
export type Around = (typeof AROUND)[number];

/** Longest time line: a year and a day. */
export const MAX_AROUND_DAYS = 366;

export class AroundQuery {
  @IsIn([...AROUND])
  about: Around;

  @Type(() => Number)
  @IsInt()
  @Min(1)
  incident: number;

  @IsISO8601({ strict: true })
  from: string;

  @IsISO8601({ strict: true })
  to: string;
}

export type AroundMark = {
  readonly at: string;
} & (
  | {
      readonly kind: 'movement';
      readonly id: string;
      readonly channel: Channel;
      readonly answer: Answer | null;
      readonly incident: number | null;
      readonly severity: Severity | null;
      readonly person: string;
      readonly title: string | null;
      readonly destination: string | null;
    }
  | {
      readonly kind: 'label';
      readonly item: string;
      readonly before: string | null;
      readonly after: string | null;
    }
  | {
      /** A picture of the screen, kept with an incident. */
      readonly kind: 'picture';
      readonly incident: number;
    }
  | {
      readonly kind: 'reply' | 'override';
      readonly incident: number;
      readonly by: string;
      readonly text: string;
    }
);

export interface AroundView {
  /** What it is about, as people read it; null where this incident has none. */
  readonly value: string | null;
  readonly from: string;
  readonly to: string;
  /** Movements in that time; the marks may be fewer. */
  readonly movements: number;
  readonly incidents: number;
  /** In the order of time. Of more than 1,500 movements only those with incidents are marked one by one. */
  readonly marks: readonly AroundMark[];
  /** Counts over equal stretches of the time line. */
  readonly counts: readonly { readonly at: string; readonly movements: number; readonly incidents: number }[];
  /** The filter line of everything it shows, for the list of movements. */
  readonly filter: string;
}

export interface RemarksView {
  readonly remarks: readonly Remark[];
  /** First movement that is known of this person, within the time looked at. */
  readonly since: string;
}

/** A saved state of the desk. */
export class ViewState {
  @IsString()
  @MaxLength(MAX_FILTER_LENGTH)
  filter: string;

  @IsIn([...LISTED])
  listed: Listed;

  @IsIn([...LIST_ORDERS])
  order: ListOrder;

  @IsArray()
  @ArrayMaxSize(2)
  @IsIn([...FIELD_NAMES], { each: true })
  group: FieldName[];

  @IsIn(['compact', 'detailed'])
  density: 'compact' | 'detailed';
}

export class ViewRequest {
  @IsString()
  @MinLength(1)
  @MaxLength(120)
  name: string;

  @IsBoolean()
  shared: boolean;

  /** The role whose desk opens with it; only for shared views. */
  @IsOptional()
  @IsIn([...ROLE_IDS])
  role?: Role;

  @ValidateNested()
  @Type(() => ViewState)
  state: ViewState;

  /** The version that was read; left out for a new view. */
  @IsOptional()
  @IsInt()
  version?: number;
}

export interface DeskViewView {
  readonly id: string;
  readonly name: string;
  readonly shared: boolean;
  readonly role: Role | null;
  readonly state: ViewState;
  readonly owner: string;
  /** Whether the caller may change it. */
  readonly own: boolean;
  /** Opens first for the caller. */
  readonly first: boolean;
  readonly version: number;
}

class HoursRequest implements WorkingHours {
  @IsString()
  @MaxLength(60)
  zone: string;

  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(7)
  @ArrayUnique()
  @IsInt({ each: true })
  @Min(1, { each: true })
  @Max(7, { each: true })
  days: number[];

  @Matches(/^([01]\d|2[0-3]):[0-5]\d$/)
  from: string;

  @Matches(/^([01]\d|2[0-3]):[0-5]\d$/)
  to: string;

  @IsArray()
  @ArrayMaxSize(400)
  @Matches(/^\d{4}-\d{2}-\d{2}$/, { each: true })
  closed: string[];
}

class PromisesRequest implements Promises {
  @IsInt()
  @Min(1)
  @Max(2_000)
  low: number;

  @IsInt()
  @Min(1)
  @Max(2_000)
  medium: number;

  @IsInt()
  @Min(1)
  @Max(2_000)
  high: number;

  @IsInt()
  @Min(1)
  @Max(2_000)
  critical: number;
}

export class DeskSettingRequest {
  @ValidateNested()
  @Type(() => HoursRequest)
  hours: HoursRequest;

  @ValidateNested()
  @Type(() => PromisesRequest)
  promises: PromisesRequest;
}

export interface DeskSettingView {
  readonly hours: WorkingHours;
  readonly promises: Promises;
}

/** Somebody who can take incidents. */
export interface AssigneeView {
  readonly name: string;
  readonly email: string;
}

/** Who else has an incident open at this moment. */
export interface PresenceView {
  readonly others: readonly string[];
}

/** Ways to write a list into a file. */
export const EXPORT_FORMATS = ['csv', 'jsonl', 'ocsf'] as const;
export type ExportFormat = (typeof EXPORT_FORMATS)[number];

export class ExportQuery {
  @IsOptional()
  @IsString()
  @MaxLength(MAX_FILTER_LENGTH)
  filter?: string;

  @IsIn([...LISTED])
  listed: Listed;

  @IsOptional()
  @IsIn([...LIST_ORDERS])
  order?: ListOrder;

  @IsIn([...EXPORT_FORMATS])
  format: ExportFormat;
}
