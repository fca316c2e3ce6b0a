import { LINK_KINDS, type LinkKind } from '@lantern/core/movement';
import { IsBoolean, IsIn, IsInt, IsOptional, IsString, MaxLength } from 'class-validator';
import type { LabelSuggestion } from './documents-desk.js';
import { MAX_BODY_LENGTH } from './limits.js';
import type { PersonNotice } from './mail.js';

/** Whom a share opens a file for, and whether it still does. */
export interface ShareView {
  readonly id: string;
  readonly at: string;
  readonly by: string;
  /** One person, or everybody who has the link. */
  readonly address: string | null;
  readonly name: string | null;
  readonly outside: boolean;
  readonly link: LinkKind | null;
  /** Address of the link below /stand-ins/drive/link; null for a share with a person. */
  readonly token: string | null;
  readonly state: 'open' | 'waiting' | 'refused' | 'withdrawn';
  /** It is open, and the label of the file does not let whoever it is for read it. */
  readonly closedByLabel: boolean;
  /** When it ends by itself; null for never. */
  readonly until: string | null;
  readonly notice: PersonNotice | null;
  readonly reported: boolean;
}

export interface DriveFileSummary {
  readonly id: string;
  readonly folder: string;
  readonly name: string;
  readonly size: number;
  readonly owner: { readonly name: string; readonly address: string };
  readonly changedAt: string;
  readonly label: { readonly id: string; readonly name: string; readonly colour: string } | null;
  /** What it may not be opened for, said before anybody tries; null for nothing. */
  readonly restriction: DriveRestriction | null;
  /** People and links outside that can open it now. */
  readonly outsideNow: number;
}

export interface DriveRestriction {
  readonly policyName: string;
  readonly ruleNumber: number;
  readonly text: string;
  readonly found: PersonNotice['found'];
  readonly answer: PersonNotice['answer'];
}

export interface DriveFileDetail extends DriveFileSummary {
  /** What it holds, where it is a short text that can be changed here; null for other files. */
  readonly text: string | null;
  readonly version: number;
  readonly mine: boolean;
  /** Its label lets nobody outside read it, whoever it is opened for. */
  readonly labelKeepsInside: boolean;
  /** Why this person may not take pieces out or make another; null where they may. */
  readonly refused: { readonly 'take-out': string | null; readonly 'make-another': string | null };
  /** A label that its content calls for, for its owner. */
  readonly suggestion: LabelSuggestion | null;
  /** A lower label that waits for a second person's yes; whether this reader can give it. */
  readonly lowering: {
    readonly label: string | null;
    readonly by: string;
    readonly reason: string;
    readonly mayDecide: boolean;
  } | null;
  /** For its owner. */
  readonly shares: readonly ShareView[];
}

/** What somebody finds behind a link or a share: the file, or why it does not open. */
export type OpenedView =
  | { readonly status: 'open'; readonly file: DriveFileDetail }
  | {
      readonly status: 'closed';
      readonly name: string;
      readonly why: 'withdrawn' | 'gone' | 'not-for-you' | 'waiting' | 'over' | 'label';
      readonly text: string;
    };

/** Exactly one of the two. */
export class ShareRequest {
  @IsOptional()
  @IsString()
  @MaxLength(254)
  address?: string;

  @IsOptional()
  @IsIn([...LINK_KINDS])
  link?: LinkKind;
}

export class DriveTextRequest {
  @IsString()
  @MaxLength(MAX_BODY_LENGTH)
  text: string;

  /** The version that was written on. */
  @IsInt()
  version: number;
}

export class DriveLoweringRequest {
  @IsBoolean()
  agrees: boolean;
}

/** Fields of the form that puts a file on the drive. */
export class DriveUploadRequest {
  @IsString()
  @MaxLength(300)
  folder: string;
}
