import type { Rest } from '@lantern/core/discovery';
import { IsBoolean, IsString, MaxLength, MinLength } from 'class-validator';
import type { ReaderCost } from './reader-cost.js';
import type { WatchingTold } from './watching.js';

/** Minutes that a code for a new reader lives. */
export const CODE_MINUTES = 15;

export class ReaderCodeRequest {
  /** Readers that stand for each other: they share the places of their group. */
  @IsString()
  @MinLength(1)
  @MaxLength(60)
  group: string;
}

/** Whether a reader may look for own records and documents: their keys go to it while it reads. */
export class OwnRecordsRequest {
  @IsBoolean()
  allowed: boolean;
}

export interface ReaderCode {
  readonly code: string;
  readonly endsAt: string;
}

/** What a reader may and may not do on its machine, in its own words. */
export interface ReaderRight {
  readonly code: 'reads' | 'reads-not' | 'writes' | 'writes-not' | 'recognises-text' | 'recognises-not';
  readonly path: string;
}

export interface ReaderView {
  readonly id: string;
  readonly name: string;
  readonly group: string;
  readonly platform: string;
  readonly version: string;
  readonly enrolledAt: string;
  readonly enrolledBy: string;
  readonly lastSeen: string | null;
  readonly state: 'at-work' | 'waiting' | 'silent' | 'withdrawn';
  /** Revision it holds; null for none yet. */
  readonly revision: number | null;
  /** When its key ends; it renews it itself before. */
  readonly keyEndsAt: string;
  readonly keyEndsSoon: boolean;
  readonly rights: readonly ReaderRight[];
  /** Patterns it could not look for: own records and documents stay on the server. */
  readonly notLookedFor: readonly string[];
  /** It may look for own records and documents. */
  readonly holdsRecords: boolean;
  readonly trouble: string | null;
  /** Its own limits, or those of its group. */
  readonly promised: ReaderCost;
  /** Whether the limits are its own. */
  readonly ownCost: boolean;
  /** Measured over its last minute of work; null before any. */
  readonly used: ReaderUse | null;
  readonly parts: number;
  /** What it watches, as it said last; null where it watches nothing. */
  readonly watching: WatchingTold | null;
  /** Its group was told to watch something that it does not know of yet. */
  readonly watchIsOld: boolean;
  /** Why it goes through no place now, though there may be work; null where it does. */
  readonly resting: Rest | null;
  /** Percent of its battery while it runs on it. */
  readonly battery: number | null;
  /** Milliseconds to the workbench and back. */
  readonly roundTripMs: number | null;
  /** Milliseconds that its clock is ahead of the workbench. */
  readonly clockAheadMs: number | null;
  /** Readers that reach the workbench through it; null where it is no relay. */
  readonly serves: number | null;
  /** Name of the reader through which it reaches the workbench; null for none. */
  readonly through: string | null;
}

export interface ReaderUse {
  /** Share of one processor, 0 to 1 and more for several. */
  readonly processor: number;
  readonly bytesPerSecond: number;
  readonly itemsPerSecond: number;
  readonly residentMegabytes: number;
}
