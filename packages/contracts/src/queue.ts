import {
  FIELD_NAMES,
  type FieldName,
  type FilterFault,
  LISTED,
  type Listed,
  MAX_FILTER_LENGTH,
} from '@lantern/core/incidents';
import type { Channel } from '@lantern/core/movement';
import type { Answer, Cut, Severity } from '@lantern/core/policy';
import { Transform, Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  ArrayUnique,
  IsArray,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  Max,
  MaxLength,
  Min,
} from 'class-validator';
import type { IncidentRow } from './incidents.js';

/** Columns that lists can be ordered by; a minus before one turns it round. */
export const ORDER_FIELDS = [
  'urgency',
  'time',
  'severity',
  'number',
  'person',
  'department',
  'channel',
  'answer',
  'status',
  'assignee',
  'due',
  'matches',
] as const;
export type OrderField = (typeof ORDER_FIELDS)[number];
export type ListOrder = OrderField | `-${OrderField}`;
export const LIST_ORDERS: readonly ListOrder[] = ORDER_FIELDS.flatMap((field) => [
  field,
  `-${field}` as const,
]);

/** Rows of one page at most. */
export const MAX_PAGE = 500;
/** Values that are listed beside a filter at most; the rest is found by typing. */
export const MAX_LISTED_VALUES = 200;
/** Groups of one list at most. */
export const MAX_GROUPS = 1_000;

/** What is listed: a filter line (RFC 7644, section 3.4.2.2), empty for everything. */
export class FilterQuery {
  @IsOptional()
  @IsString()
  @MaxLength(MAX_FILTER_LENGTH)
  filter?: string;
}

export class ListQuery extends FilterQuery {
  @IsOptional()
  @IsIn([...LIST_ORDERS])
  order?: ListOrder;

  /** Where the last page ended: its `next`. */
  @IsOptional()
  @IsString()
  @MaxLength(1_000)
  after?: string;

  @IsOptional()
  @Type(() => Number)
  @IsInt()
  @Min(1)
  @Max(MAX_PAGE)
  limit?: number;
}

export class ListedQuery extends FilterQuery {
  @IsOptional()
  @IsIn([...LISTED])
  listed?: Listed;
}

export class ValuesQuery extends ListedQuery {
  @IsIn([...FIELD_NAMES])
  field: FieldName;

  /** Only values that contain this. */
  @IsOptional()
  @IsString()
  @MaxLength(200)
  search?: string;
}

export class GroupsQuery extends ListedQuery {
  @Transform(({ value }: { value: unknown }) => (typeof value === 'string' ? value.split(',') : value))
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(2)
  @ArrayUnique()
  @IsIn([...FIELD_NAMES], { each: true })
  by: FieldName[];
}

/** Rows in their order, and where the next page begins; null at the end. */
export interface ListPage<Row> {
  readonly rows: readonly Row[];
  readonly next: string | null;
}
export type IncidentPage = ListPage<IncidentRow>;

/** One rule that held, or one label that forbade it, with the movement it is about. */
export interface MatchRow {
  readonly id: string;
  readonly incident: number;
  readonly at: string;
  readonly policy: string | null;
  readonly rule: string | null;
  readonly label: string | null;
  readonly answer: Answer;
  readonly written: Answer | null;
  readonly cut: Cut | null;
  readonly severity: Severity;
  readonly silent: boolean;
  readonly channel: Channel;
  readonly person: IncidentRow['person'];
  readonly destinations: readonly string[];
  readonly title: string | null;
  readonly status: IncidentRow['status'];
  readonly outcome: IncidentRow['outcome'];
}

/** One movement, whether or not a rule held. */
export interface MovementRow {
  readonly id: string;
  readonly at: string;
  readonly channel: Channel;
  readonly activity: string | null;
  readonly person: IncidentRow['person'];
  readonly destinations: readonly string[];
  readonly title: string | null;
  readonly machine: string | null;
  /** Null where no rule held. */
  readonly answer: Answer | null;
  readonly incident: number | null;
  readonly test: boolean;
}

export type MatchPage = ListPage<MatchRow>;
export type MovementPage = ListPage<MovementRow>;

/** How many rows a filter leaves of each kind. Matches and movements are those of its incidents where it is about incidents. */
export interface ListCounts {
  readonly incidents: number;
  readonly matches: number;
  readonly movements: number;
}

/** A value of a field, how people read it, and how many rows have it. */
export interface FieldValue {
  /** As the filter line takes it; null for rows without one. */
  readonly value: string | number | boolean | null;
  readonly label: string;
  readonly count: number;
}

export interface GroupRow {
  readonly values: readonly FieldValue[];
  readonly incidents: number;
  readonly open: number;
  readonly overdue: number;
  readonly decided: { readonly falsePositive: number; readonly allowed: number; readonly harm: number };
  readonly newest: string;
  readonly worst: Severity;
  readonly urgency: number;
}

export interface GroupPage {
  readonly groups: readonly GroupRow[];
  /** There are more than {@link MAX_GROUPS}. */
  readonly cut: boolean;
}

/** What all rows under a filter share, and what most of them do. */
export interface CommonValue {
  readonly field: FieldName;
  readonly value: FieldValue;
  /** 0 to 1. */
  readonly share: number;
}

/** Details of the error `bad-filter`. */
export interface FilterErrorDetails {
  readonly fault: FilterFault;
}
