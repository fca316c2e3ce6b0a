import type { PersonFacts } from '@lantern/core/directory';
import type { PolicySet } from '@lantern/core/policy';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsEmail,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  IsUUID,
  MaxLength,
  Min,
  MinLength,
  ValidateNested,
} from 'class-validator';
import { Type } from 'class-transformer';
import type { UnfinishedChoice } from './intake.js';
import { ReaderCost } from './reader-cost.js';

/** What lies behind a watched folder: where a file goes that arrives there. */
export const WATCHED_AS = ['device', 'place', 'service'] as const;
export type WatchedAs = (typeof WATCHED_AS)[number];

/** Folders that one group of machines watches at most. */
export const MAX_WATCHED = 20;

export class WatchedFolder {
  /** Folder of the machine; it must be one that its own owner allowed. */
  @IsString()
  @MinLength(1)
  @MaxLength(1_000)
  path: string;

  /** A thing that is plugged in, a share, or a service outside that a program carries it to. */
  @IsIn([...WATCHED_AS])
  as: WatchedAs;

  /** Name of the device, path of the share, or host of the service. */
  @IsString()
  @MinLength(1)
  @MaxLength(200)
  name: string;

  /** A device that the organisation handed out. */
  @IsBoolean()
  trusted: boolean;
}

/** What the machines of a group watch and may cost, as a draft: nothing changes for them until it is put in force. */
export class WatchRequest {
  @IsArray()
  @ArrayMaxSize(MAX_WATCHED)
  @ValidateNested({ each: true })
  @Type(() => WatchedFolder)
  folders: WatchedFolder[];

  /** Whose movements they are on machines that the directory gives to nobody; left out for none. */
  @IsOptional()
  @IsEmail({ require_tld: false })
  @MaxLength(254)
  person?: string;

  /** What each of its machines may cost; left out for no limit. A machine can have limits of its own. */
  @IsOptional()
  @ValidateNested()
  @Type(() => ReaderCost)
  cost?: ReaderCost | null;

  /** Id of the draft that this one takes the place of; left out where there was none. */
  @IsOptional()
  @IsUUID()
  draft?: string | null;
}

/** Says which draft: somebody may have saved another one meanwhile. */
export class UseWatchDraft {
  @IsUUID()
  draft: string;
}

/** What a group of machines watches and may cost. */
export interface WatchSettings {
  readonly folders: readonly WatchedFolder[];
  readonly person: string;
  readonly cost: ReaderCost | null;
}

export interface WatchGroupView extends WatchSettings {
  readonly group: string;
  /** Machines that these settings are for; those with limits of their own keep them. */
  readonly machines: number;
  readonly ownCosts: number;
  readonly version: number;
  readonly changedAt: string | null;
  readonly changedBy: string;
  readonly draft: WatchDraftView | null;
  readonly history: readonly WatchChangeView[];
}

export interface WatchDraftView extends WatchSettings {
  readonly id: string;
  readonly at: string;
  readonly by: string;
  /** Who put it in force first, where that takes two people; null for nobody yet. */
  readonly agreed: { readonly by: string; readonly at: string } | null;
}

export interface WatchChangeView extends WatchSettings {
  readonly version: number;
  readonly at: string;
  /** Who wrote it, and who put it in force. */
  readonly writtenBy: string;
  readonly by: string;
}

/** What a machine is told to watch, with all it takes to judge without the workbench. */
export interface WatchOrders {
  /** Changes with every edit of its group. */
  readonly version: number;
  readonly folders: readonly WatchedFolder[];
  /** Null where nobody is known to work at the machine: then nothing can be judged. */
  readonly person: (PersonFacts & { readonly outside: boolean }) | null;
  readonly policies: PolicySet;
  /** Domains of the organisation: other hosts are outside. */
  readonly domains: readonly string[];
  /** What is stated for files whose reading does not finish. */
  readonly unfinished: UnfinishedChoice;
}

export const WATCH_STATES = ['watching', 'missing', 'not-allowed', 'cannot-change'] as const;
/** `cannot-change`: files there can be read, but not moved into quarantine. */
export type WatchState = (typeof WATCH_STATES)[number];

export class WatchedFolderTold {
  @IsString()
  @MaxLength(1_000)
  path: string;

  @IsIn([...WATCH_STATES])
  state: WatchState;
}

/** What a machine says of its watching. */
export class WatchingTold {
  @IsInt()
  @Min(0)
  version: number;

  @IsArray()
  @ArrayMaxSize(MAX_WATCHED)
  @ValidateNested({ each: true })
  @Type(() => WatchedFolderTold)
  folders: WatchedFolderTold[];

  /** Files in quarantine here. */
  @IsInt()
  @Min(0)
  kept: number;

  /** Movements that wait to be handed in. */
  @IsInt()
  @Min(0)
  backlog: number;

  /** Records that were let go because the store on the machine was full; nothing that was stopped is among them. */
  @IsInt()
  @Min(0)
  dropped: number;
}
