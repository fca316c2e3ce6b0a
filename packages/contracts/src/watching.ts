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
  MaxLength,
  Min,
  MinLength,
  ValidateNested,
} from 'class-validator';
import { Type } from 'class-transformer';
import type { UnfinishedChoice } from './intake.js';

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

/** What the machines of a group watch. */
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

  @IsInt()
  @Min(0)
  version: number;
}

export interface WatchGroupView {
  readonly group: string;
  readonly folders: readonly WatchedFolder[];
  readonly person: string;
  readonly version: number;
  readonly changedAt: string | null;
  readonly changedBy: string;
  readonly history: readonly WatchChangeView[];
}

export interface WatchChangeView {
  readonly version: number;
  readonly at: string;
  readonly by: string;
  readonly folders: readonly WatchedFolder[];
  readonly person: string;
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
