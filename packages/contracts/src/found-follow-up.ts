import { SEVERITIES, type Severity } from '@lantern/core/policy';
import { ITEM_GROUPS, type ItemGroup, type ItemReach } from '@lantern/core/discovery';
import { MAX_FILTER_LENGTH } from '@lantern/core/incidents';
import {
  ArrayMaxSize,
  ArrayMinSize,
  ArrayUnique,
  IsArray,
  IsBoolean,
  IsIn,
  IsISO8601,
  IsOptional,
  IsString,
  IsUUID,
  Matches,
  MaxLength,
  MinLength,
} from 'class-validator';
import type { EvidencePart } from './incidents.js';
import { ITEM_ORDERS, type ItemOrder } from './found-items.js';

/** Largest item that is fetched whole, in bytes: what every other door opens. */
export const MAX_FETCH_BYTES = 25 * 1024 * 1024;
/** Hours for which a fetched item is kept: a day's work, not an archive. */
export const FETCHED_KEPT_HOURS = 24;
/** Items that are moved into another place at once, at most. */
export const MAX_MOVED_ITEMS = 50_000;
/** Items that one request to clean up is about, at most: what somebody can go through in weeks. */
export const MAX_CLEAN_UP_ITEMS = 10_000;
/** Groups of one answer. */
export const MAX_ITEM_GROUPS = 200;
/** Saved queries that one account keeps. */
export const MAX_ITEM_QUERIES = 100;

/** Why somebody needs an item whole. */
export class FetchRequest {
  @IsString()
  @MinLength(3)
  @MaxLength(300)
  reason: string;
}

export const FETCH_STATES = ['waiting', 'here', 'failed', 'deleted'] as const;
export type FetchState = (typeof FETCH_STATES)[number];

/** An item that somebody asked for whole. */
export interface FetchView {
  readonly id: string;
  readonly state: FetchState;
  readonly at: string;
  readonly by: string;
  readonly reason: string;
  /** Only whoever asked for it opens it. */
  readonly isOwn: boolean;
  readonly bytes: number | null;
  /** Code of what came in the way. */
  readonly problem: string | null;
  /** When its content is deleted; null while there is none. */
  readonly endsAt: string | null;
}

/** A fetched item, read again here, its values whole. */
export interface FetchedView {
  readonly parts: readonly EvidencePart[];
  readonly bytes: number;
  /** It is no longer what was read when its findings were listed. */
  readonly changedSince: boolean;
}

/** Severity of the incident that an item becomes, and what whoever triages it should know. */
export class ItemIncidentRequest {
  @IsIn([...SEVERITIES])
  severity: Severity;

  @IsString()
  @MaxLength(2_000)
  note: string;
}

/** Asks whoever answers for a place to clean it up. */
export class CleanUpRequest {
  /** The last day, as YYYY-MM-DD. */
  @IsISO8601()
  @Matches(/^\d{4}-\d{2}-\d{2}$/u)
  dueOn: string;

  @IsString()
  @MaxLength(2_000)
  note: string;
}

/** What a request to clean up would ask for, before it is sent. */
export interface CleanUpPreview {
  readonly to: string;
  /** Items that outrun the guard of the place now. */
  readonly items: number;
  /** Paths of the first of them. */
  readonly paths: readonly string[];
}

/** What was asked for, and what was done since. */
export interface CleanUpView {
  readonly id: string;
  readonly at: string;
  readonly by: string;
  readonly to: string;
  readonly dueOn: string;
  readonly note: string;
  readonly items: number;
  /** Items that still outrun the guard of their place as they did. */
  readonly left: number;
  /** Of the others: what became of them, as the last reading found it. */
  readonly gone: number;
  readonly quarantined: number;
  readonly harmless: number;
  readonly guarded: number;
  readonly isOverdue: boolean;
  readonly endedAt: string | null;
}

/** Moves everything of a place into another one. */
export class PlaceMoveRequest {
  @IsUUID()
  to: string;

  /** Lets people in there who could open it here, as far as that place may be opened. */
  @IsBoolean()
  people: boolean;

  @IsString()
  @MinLength(3)
  @MaxLength(300)
  reason: string;
}

/** What moving a place would change, before anything is moved. */
export interface PlaceMovePreview {
  readonly items: number;
  readonly bytes: number;
  /** Items that stay, because something of the same path is known there. */
  readonly standing: number;
  /** Items that stay, because they are in quarantine. */
  readonly quarantined: number;
  /** Who was let in here and not there, and whether that place may be opened for them. */
  readonly people: readonly { readonly address: string; readonly mayComeIn: boolean }[];
  /** Everybody inside opens it here, and would no longer. */
  readonly closesInside: boolean;
}

export class ItemGroupsQuery {
  @IsOptional()
  @IsString()
  @MaxLength(MAX_FILTER_LENGTH)
  filter?: string;

  /** One or two, divided by a comma. */
  @IsString()
  @MaxLength(60)
  by: string;
}

/** Items that have something in common. */
export interface ItemGroupRow {
  /** One value for each field that was asked for, with its name and the filter that lists it. */
  readonly values: readonly { readonly name: string; readonly line: string }[];
  readonly items: number;
  readonly sensitive: number;
  readonly bytes: number;
  /** The furthest that any of them opens. */
  readonly reach: ItemReach;
  readonly newest: string | null;
}

export interface ItemGroups {
  readonly rows: readonly ItemGroupRow[];
  /** There are more groups than are listed. */
  readonly more: boolean;
}

/** A question about results under a name. */
export class ItemQueryRequest {
  @IsString()
  @MinLength(1)
  @MaxLength(80)
  name: string;

  @IsString()
  @MaxLength(MAX_FILTER_LENGTH)
  filter: string;

  @IsIn([...ITEM_ORDERS])
  order: ItemOrder;

  @IsArray()
  @ArrayMinSize(0)
  @ArrayMaxSize(2)
  @ArrayUnique()
  @IsIn([...ITEM_GROUPS], { each: true })
  by: ItemGroup[];

  /** Everybody who may read results sees it. */
  @IsBoolean()
  shared: boolean;
}

export interface ItemQueryView {
  readonly id: string;
  readonly name: string;
  readonly filter: string;
  readonly order: ItemOrder;
  readonly by: readonly ItemGroup[];
  readonly shared: boolean;
  readonly owner: string;
  readonly isOwn: boolean;
}
