import {
  EXPOSURE_PARTS,
  type Exposure,
  type ExposurePartCode,
  type ItemReach,
  type LeftOut,
  MAX_SCOPE_LINE,
  MAX_SCOPE_LINES,
  type Scope,
} from '@lantern/core/discovery';
import type { PlaceTerms } from '@lantern/core/labels';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  ArrayUnique,
  IsArray,
  IsBoolean,
  IsEmail,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  IsUUID,
  Max,
  MaxLength,
  Min,
  MinLength,
  ValidateNested,
} from 'class-validator';
import type { CleanUpView } from './found-follow-up.js';
import { ScheduleRequest } from './reports.js';

/** Kinds of store that a reader can open. */
export const STORES = ['folder', 'webdav', 'objects', 'mailbox', 'tables'] as const;
export type Store = (typeof STORES)[number];

/** Places of one job at most. */
export const MAX_JOB_PLACES = 200;

/** Where a store is. Which fields count depends on its kind; secrets come beside it. */
export class StoreAddress {
  /** Folder of the reader's machine, address of a server, or host of a mailbox or database. */
  @IsString()
  @MinLength(1)
  @MaxLength(1_000)
  at: string;

  /** Bucket, mail folder, or database. */
  @IsOptional()
  @IsString()
  @MaxLength(255)
  part?: string;

  @IsOptional()
  @IsString()
  @MaxLength(255)
  user?: string;
}

export class PlaceRequest {
  @IsString()
  @MinLength(1)
  @MaxLength(120)
  name: string;

  @IsIn([...STORES])
  store: Store;

  @ValidateNested()
  @Type(() => StoreAddress)
  address: StoreAddress;

  /** Password or secret key; left out keeps the one that is known. */
  @IsOptional()
  @IsString()
  @MaxLength(4_000)
  secret?: string;

  @IsString()
  @MinLength(1)
  @MaxLength(60)
  group: string;

  /** Who answers for it. */
  @IsOptional()
  @IsEmail({ require_tld: false })
  @MaxLength(254)
  owner?: string;

  @IsIn(['few', 'organisation', 'outside', 'anybody-with-link'])
  reach: ItemReach;

  @IsBoolean()
  unmanaged: boolean;

  @IsOptional()
  @IsUUID()
  label?: string | null;

  /** Endings of files that should not lie there at all. */
  @IsArray()
  @ArrayMaxSize(MAX_SCOPE_LINES)
  @IsString({ each: true })
  @MaxLength(20, { each: true })
  unwanted: string[];

  /** The version that was edited; left out for a new place. */
  @IsOptional()
  @IsInt()
  version?: number;
}

export interface DiscoveryPlaceView {
  readonly id: string;
  readonly name: string;
  readonly store: Store;
  readonly address: StoreAddress;
  readonly hasSecret: boolean;
  readonly group: string;
  readonly owner: string;
  readonly reach: ItemReach;
  readonly unmanaged: boolean;
  readonly label: { readonly id: string; readonly name: string; readonly rank: number } | null;
  readonly unwanted: readonly string[];
  readonly sharedOutside: readonly string[];
  readonly version: number;
  readonly check: PlaceCheck;
  /** A reader of its group was seen lately. */
  readonly hasReader: boolean;
  readonly figures: {
    readonly items: number;
    readonly bytes: number;
    readonly read: number;
    readonly unreadable: number;
    readonly leftOut: number;
    readonly sensitive: number;
    readonly quarantined: number;
  };
  readonly exposure: Exposure;
  /** Requests to clean up, the newest first. */
  readonly cleanUps: readonly CleanUpView[];
  readonly readAt: string | null;
}

/** What a label on a place would end, before anybody sets it. */
export interface PlaceLabelPreview {
  /** Links and shares of single items that would stop working. */
  readonly links: number;
  /** People outside who would no longer come in, by address. */
  readonly people: readonly string[];
  /** Everybody inside who was not added would no longer come in. */
  readonly closesInside: boolean;
  /** People who took copies within 30 days and could no longer. */
  readonly takers: readonly string[];
  /** What the label asks of places; null for nothing. */
  readonly terms: PlaceTerms | null;
  /** A drive of this house opens the place and enforces the terms; others are told by its label only. */
  readonly isEnforced: boolean;
}

/** The label of a place; null takes it off. */
export class PlaceLabelRequest {
  @IsOptional()
  @IsUUID()
  label: string | null;
}

/** What a reader said when it was asked whether it can open a place. */
export interface PlaceCheck {
  readonly state: 'not-yet' | 'checking' | 'well' | 'empty' | 'failed';
  readonly at: string | null;
  /** Code of what is wrong. */
  readonly problem: StoreProblem | null;
  readonly items: number | null;
  readonly bytes: number | null;
  /** Not everything was counted within the time a check has. */
  readonly atLeast: boolean;
}

export const STORE_PROBLEMS = [
  'no-such-place',
  'not-allowed',
  'not-reachable',
  'wrong-secret',
  'wrong-answer',
  'took-too-long',
  'no-secret',
  'wrong-address',
  'failed',
] as const;
export type StoreProblem = (typeof STORE_PROBLEMS)[number];

export class ScopeRequest implements Scope {
  @IsArray()
  @ArrayMaxSize(MAX_SCOPE_LINES)
  @IsString({ each: true })
  @MaxLength(MAX_SCOPE_LINE, { each: true })
  only: string[];

  @IsArray()
  @ArrayMaxSize(MAX_SCOPE_LINES)
  @IsString({ each: true })
  @MaxLength(MAX_SCOPE_LINE, { each: true })
  leaveOut: string[];

  @IsArray()
  @ArrayMaxSize(MAX_SCOPE_LINES)
  @IsString({ each: true })
  @MaxLength(20, { each: true })
  endings: string[];

  @IsOptional()
  @IsInt()
  @Min(1)
  mostBytes: number | null;

  @IsOptional()
  @IsInt()
  @Min(1)
  @Max(36_500)
  changedWithinDays: number | null;
}

/** What a job does, in this order; each step is turned on by itself. */
export const STEPS = ['find', 'label', 'protect'] as const;
export type Step = (typeof STEPS)[number];

/** Items that one run puts into quarantine at most, whatever a job says. */
export const MAX_PROTECTED = 10_000;

/** What the step that protects puts into quarantine. */
export class ProtectRequest {
  /** Parts of the sum by which items outrun the guard of their place. */
  @IsArray()
  @ArrayMinSize(1)
  @ArrayUnique()
  @IsIn([...EXPOSURE_PARTS], { each: true })
  parts: ExposurePartCode[];

  /** With more than so many nothing is done: it is no longer what somebody looked at. */
  @IsInt()
  @Min(1)
  @Max(MAX_PROTECTED)
  most: number;
}

export class JobRequest {
  @IsString()
  @MinLength(1)
  @MaxLength(120)
  name: string;

  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(MAX_JOB_PLACES)
  @ArrayUnique()
  @IsUUID(undefined, { each: true })
  places: string[];

  @ValidateNested()
  @Type(() => ScopeRequest)
  scope: ScopeRequest;

  /** `find` looks only; `label` also sets the labels that automatic rules of the published revision call for; `protect` then puts into quarantine what outruns the guard of its place. */
  @IsIn([...STEPS])
  step: Step;

  /** For the step `protect`; left out for the others. */
  @IsOptional()
  @ValidateNested()
  @Type(() => ProtectRequest)
  protect?: ProtectRequest | null;

  /** Reads every item again, also those that did not change. */
  @IsBoolean()
  everything: boolean;

  @IsOptional()
  @ValidateNested()
  @Type(() => ScheduleRequest)
  schedule?: ScheduleRequest | null;

  @IsBoolean()
  active: boolean;

  @IsOptional()
  @IsInt()
  version?: number;
}

export interface JobView {
  readonly id: string;
  readonly name: string;
  readonly definition: Omit<JobRequest, 'name' | 'active' | 'version'>;
  readonly placeNames: readonly string[];
  readonly active: boolean;
  readonly nextAt: string | null;
  readonly version: number;
  readonly runs: readonly RunView[];
}

export const RUN_STATES = ['running', 'paused', 'done', 'stopped'] as const;
export type RunState = (typeof RUN_STATES)[number];

export interface RunView {
  readonly id: string;
  readonly jobId: string;
  readonly jobName: string;
  readonly step: Step;
  readonly state: RunState;
  readonly startedAt: string;
  readonly endedAt: string | null;
  readonly startedBy: string;
  readonly revision: number | null;
  readonly places: readonly RunPlaceView[];
  /** Items it is about, as far as they are listed. */
  readonly items: number;
  readonly isListed: boolean;
  /** Read, taken over because nothing changed, or left out. */
  readonly done: number;
  readonly readItems: number;
  readonly unchanged: number;
  readonly leftOut: Readonly<Partial<Record<LeftOut, number>>>;
  readonly unreadable: number;
  readonly sensitive: number;
  readonly labelled: number;
  /** Put into quarantine by its last step; null for runs that do not protect. */
  readonly toProtect: number | null;
  /** There were more than the job allows, so that nothing was put into quarantine. */
  readonly tooMany: boolean;
  readonly bytes: number;
  /** Items a second over the last minute; null where nothing was read. */
  readonly pace: number | null;
  readonly secondsLeft: number | null;
}

export interface RunPlaceView {
  readonly id: string;
  readonly name: string;
  readonly state: 'waiting' | 'listing' | 'reading' | 'done' | 'failed' | 'stopped';
  readonly problem: StoreProblem | null;
  /** No reader of its group was seen lately, so that nobody takes it up. */
  readonly withoutReader: boolean;
}

/** What a job would take, by what was known of its places last. */
export interface JobEstimate {
  readonly items: number;
  readonly bytes: number;
  readonly seconds: number;
  readonly isGuess: boolean;
  /** Places of which nothing is known, or that hold nothing. */
  readonly unknown: readonly string[];
  readonly empty: readonly string[];
  readonly withoutReader: readonly string[];
}
