import 'reflect-metadata';
import { MOST_GROUP_LINES } from '@lantern/core/directory';
import type {
  AudienceEffect,
  MachineRecord,
  MachineRefusal,
  PlaceRecord,
  PlaceRefusal,
} from '@lantern/core/directory';
import { ArrayMaxSize, IsArray, IsString, Length, MaxLength } from 'class-validator';

/** A machine as the directory shows it. */
export interface ListedMachineView extends MachineRecord {
  /** All groups, also those by a condition. */
  readonly groups: readonly string[];
}

/** At most 200 machines that fit what was typed. */
export interface MachineListPage {
  readonly total: number;
  readonly machines: readonly ListedMachineView[];
}

/** What an inventory would change. Lists are cut at 200; the counts are whole. */
export interface MachineComparison {
  readonly id: string;
  readonly counts: {
    readonly added: number;
    readonly changed: number;
    readonly left: number;
    readonly unchanged: number;
    readonly refused: number;
  };
  readonly added: readonly MachineRecord[];
  readonly changed: readonly { readonly before: MachineRecord; readonly after: MachineRecord }[];
  readonly left: readonly MachineRecord[];
  readonly refused: readonly {
    readonly line: number;
    readonly code: MachineRefusal;
    readonly value: string;
  }[];
  /** Policies that would be for other machines. */
  readonly effects: readonly AudienceEffect[];
  /** Headings of columns that were not read. */
  readonly ignored: readonly string[];
  /** Percent of the machines that would leave, where that is so many that it has to be confirmed; null otherwise. */
  readonly leavingPercent: number | null;
}

export class MachineGroupRequest {
  @IsString()
  @Length(2, 120)
  name: string;

  @IsString()
  @MaxLength(300)
  about: string;

  /** Networks, ranges of addresses and addresses. */
  @IsArray()
  @ArrayMaxSize(MOST_GROUP_LINES)
  @IsString({ each: true })
  @MaxLength(100, { each: true })
  networks: string[];

  /** Serial numbers and ranges of them. */
  @IsArray()
  @ArrayMaxSize(MOST_GROUP_LINES)
  @IsString({ each: true })
  @MaxLength(250, { each: true })
  serials: string[];

  /** What names begin with. */
  @IsArray()
  @ArrayMaxSize(MOST_GROUP_LINES)
  @IsString({ each: true })
  @MaxLength(120, { each: true })
  names: string[];
}

export interface MachineGroupView {
  readonly id: string;
  readonly name: string;
  readonly about: string;
  readonly networks: readonly string[];
  readonly serials: readonly string[];
  readonly names: readonly string[];
  readonly machines: number;
}

export interface MachineGroupTrial {
  readonly machines: number;
  readonly examples: readonly string[];
  /** Policies that would be for other machines. */
  readonly effects: readonly AudienceEffect[];
}

/** A place that holds files, as the directory shows it. */
export type PlaceListView = PlaceRecord;

/** What a list of places would change: it removes none. Lists are cut at 200; the counts are whole. */
export interface PlaceComparison {
  readonly id: string;
  readonly counts: {
    readonly added: number;
    readonly changed: number;
    readonly unchanged: number;
    readonly refused: number;
  };
  readonly added: readonly PlaceRecord[];
  readonly changed: readonly { readonly before: PlaceRecord; readonly after: PlaceRecord }[];
  readonly refused: readonly { readonly line: number; readonly code: PlaceRefusal; readonly value: string }[];
  /** Headings of columns that were not read. */
  readonly ignored: readonly string[];
}
