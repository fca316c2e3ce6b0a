import type { FoundPattern, ItemReach, Rest, Scope } from '@lantern/core/discovery';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsISO8601,
  IsNumber,
  IsObject,
  IsOptional,
  IsString,
  IsUUID,
  Matches,
  Max,
  MaxLength,
  Min,
  MinLength,
  ValidateNested,
} from 'class-validator';
import type { ItemAct } from './found-items.js';
import type { ReaderCost } from './reader-cost.js';
import type { ReaderRight } from './readers.js';
import { WatchingTold } from './watching.js';
import { type Step, type Store, type StoreAddress, STORE_PROBLEMS, type StoreProblem } from './discovery.js';

/** Seconds that a reader waits for work in one request, at most. */
export const LONGEST_WAIT_SECONDS = 25;
/** Items of one report of a listing. */
export const MAX_LISTED_AT_ONCE = 500;
/** Results of one report. */
export const MAX_RESULTS_AT_ONCE = 100;
/** Seconds for which a part of a run belongs to a reader that says nothing. */
export const LEASE_SECONDS = 120;

/** A public key of a reader: Ed25519 to sign with, X25519 to be written to (RFC 8037). */
export class ReaderKeys {
  @IsString()
  @Matches(/^[\w-]{43}$/u)
  signing: string;

  @IsString()
  @Matches(/^[\w-]{43}$/u)
  sealing: string;
}

export class EnrolRequest {
  @IsString()
  @MinLength(8)
  @MaxLength(60)
  code: string;

  @IsString()
  @MinLength(1)
  @MaxLength(120)
  name: string;

  @IsString()
  @MaxLength(120)
  platform: string;

  @IsString()
  @MaxLength(40)
  version: string;

  @ValidateNested()
  @Type(() => ReaderKeys)
  keys: ReaderKeys;

  @IsArray()
  @ArrayMaxSize(50)
  @IsObject({ each: true })
  rights: ReaderRight[];
}

export interface Enrolled {
  readonly id: string;
  readonly name: string;
  readonly group: string;
  readonly keyEndsAt: string;
}

export class RenewRequest {
  @ValidateNested()
  @Type(() => ReaderKeys)
  keys: ReaderKeys;
}

/** What a reader knows of its machine and of the way to the workbench. */
export class ReaderTold {
  @IsOptional()
  @IsIn(['hours', 'battery'])
  resting: Rest | null;

  @IsOptional()
  @IsNumber()
  @Min(0)
  @Max(100)
  battery: number | null;

  @IsOptional()
  @IsNumber()
  @Min(0)
  roundTripMs: number | null;

  @IsOptional()
  @IsNumber()
  clockAheadMs: number | null;

  @IsOptional()
  @IsInt()
  @Min(0)
  serves: number | null;
}

/** What a reader says of itself each time it asks for work. */
export class WorkRequest {
  @IsInt()
  @Min(0)
  @Max(LONGEST_WAIT_SECONDS)
  wait: number;

  /** The first request of a program that just started: what it had in hand before is nobody's now. */
  @IsOptional()
  @IsBoolean()
  isFresh?: boolean;

  /** Made anew with every start of the program: two programs with one identity are told apart by it. */
  @IsOptional()
  @IsUUID()
  instance?: string;

  @IsOptional()
  @IsInt()
  revision: number | null;

  @IsString()
  @MaxLength(40)
  version: string;

  @IsOptional()
  @IsObject()
  used: {
    readonly processor: number;
    readonly bytesPerSecond: number;
    readonly itemsPerSecond: number;
    readonly residentMegabytes: number;
  } | null;

  @IsOptional()
  @IsString()
  @MaxLength(300)
  trouble: string | null;

  @IsArray()
  @ArrayMaxSize(1_000)
  @IsString({ each: true })
  @MaxLength(60, { each: true })
  notLookedFor: string[];

  /** Left out by readers of earlier versions. */
  @IsOptional()
  @ValidateNested()
  @Type(() => ReaderTold)
  told?: ReaderTold;

  /** What it watches; left out by readers that were told to watch nothing. */
  @IsOptional()
  @ValidateNested()
  @Type(() => WatchingTold)
  watching?: WatchingTold;
}

/** A place as a reader opens it. The secret is sealed for this reader alone (JWE, RFC 7516), as JSON `{ "secret": … }`. */
export interface WorkPlace {
  readonly id: string;
  readonly name: string;
  readonly store: Store;
  readonly address: StoreAddress;
  readonly secret: string | null;
  readonly owner: string;
  readonly reach: ItemReach;
}

interface PartOfWork {
  readonly id: string;
  readonly place: WorkPlace;
}

export type Work =
  | (PartOfWork & { readonly kind: 'check' })
  | (PartOfWork & { readonly kind: 'list'; readonly runId: string; readonly scope: Scope })
  | (PartOfWork & {
      readonly kind: 'read';
      readonly runId: string;
      readonly step: Step;
      readonly items: readonly { readonly id: string; readonly path: string; readonly bytes: number }[];
      /** Names own records and documents that it may fetch for this part; null for none. */
      readonly knowledge: string | null;
    })
  | (PartOfWork & {
      readonly kind: 'act';
      readonly act: ItemAct;
      readonly label: { readonly id: string; readonly name: string; readonly rank: number } | null;
      /** For `move`: the folder that it goes to. */
      readonly to: StoreAddress | null;
      readonly by: string;
      readonly items: readonly { readonly id: string; readonly path: string }[];
    })
  | (PartOfWork & {
      readonly kind: 'fetch';
      readonly item: { readonly id: string; readonly path: string };
    });

export interface WorkAnswer {
  /** Null where there was none within the time. */
  readonly work: Work | null;
  /** Published revision; a reader that holds another fetches its patterns first. */
  readonly revision: number | null;
  readonly cost: ReaderCost;
  readonly keyEndsAt: string;
  /** Of what it is told to watch; a reader that holds another fetches it anew. 0 for nothing. */
  readonly watchVersion: number;
}

export class ListedItemReport {
  @IsString()
  @MinLength(1)
  @MaxLength(2_000)
  path: string;

  @IsInt()
  @Min(0)
  bytes: number;

  @IsOptional()
  @IsISO8601()
  changedAt: string | null;

  /** The store's own sign of a version: an entity tag, or time and size. */
  @IsString()
  @MaxLength(200)
  marker: string;

  @IsOptional()
  @IsString()
  @MaxLength(254)
  owner?: string;
}

export class ListedReport {
  @IsArray()
  @ArrayMaxSize(MAX_LISTED_AT_ONCE)
  @ValidateNested({ each: true })
  @Type(() => ListedItemReport)
  items: ListedItemReport[];

  /** Everything of the place is listed with this. */
  @IsBoolean()
  isLast: boolean;
}

export class ReadReport {
  @IsArray()
  @ArrayMaxSize(MAX_RESULTS_AT_ONCE)
  @IsObject({ each: true })
  results: ReadResult[];

  @IsBoolean()
  isLast: boolean;
}

/** What a reader found in one item: masked excerpts and counts, never the content. */
export interface ReadResult {
  readonly id: string;
  readonly status: 'read' | 'unreadable' | 'gone';
  readonly reason: string | null;
  readonly digest: string | null;
  readonly bytes: number;
  readonly characters: number;
  readonly found: readonly FoundPattern[];
  readonly excerpts: readonly ReadExcerpt[];
  readonly unreadableParts: readonly { readonly path: string; readonly reason: string }[];
  readonly label: { readonly id: string; readonly name: string; readonly rank: number } | null;
  /** What automatic rules make of it. */
  readonly suggested: string | null;
  readonly labelled: boolean;
  readonly refusal: string | null;
}

export interface ReadExcerpt {
  readonly part: string;
  readonly line: number;
  readonly text: string;
  readonly marks: readonly {
    readonly start: number;
    readonly end: number;
    readonly pattern: string;
    readonly certainty: number;
  }[];
}

export class ActedReport {
  @IsArray()
  @ArrayMaxSize(500)
  @IsObject({ each: true })
  results: ActedResult[];
}

export interface ActedResult {
  readonly id: string;
  readonly done: boolean;
  readonly reason: string | null;
}

/** An item that somebody asked for whole, in base 64; or why it cannot be handed in. */
export interface FetchedReport {
  readonly base64: string | null;
  /** Code of what came in the way; null where nothing did. */
  readonly problem: string | null;
}

export class FailedReport {
  @IsIn([...STORE_PROBLEMS])
  problem: StoreProblem;
}

export class CheckedReport {
  @IsInt()
  @Min(0)
  items: number;

  @IsNumber()
  @Min(0)
  bytes: number;

  @IsBoolean()
  atLeast: boolean;
}
