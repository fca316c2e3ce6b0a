import { LINK_KINDS, type LinkKind } from '@lantern/core/movement';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsBoolean,
  IsEmail,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  MaxLength,
  MinLength,
} from 'class-validator';
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
  /** The place it lies in; null for a file of the drive alone. */
  readonly place: {
    readonly id: string;
    readonly name: string;
    readonly path: string;
    readonly label: string | null;
    /** Nobody takes copies out of it, but for stated exceptions. */
    readonly noCopies: boolean;
  } | null;
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
      readonly why: 'withdrawn' | 'gone' | 'not-for-you' | 'waiting' | 'over' | 'label' | 'sign-in';
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

/** A place as somebody sees it on the drive. */
export interface DrivePlaceView {
  readonly id: string;
  readonly name: string;
  readonly about: string;
  readonly owner: { readonly name: string; readonly address: string };
  readonly label: { readonly id: string; readonly name: string; readonly colour: string } | null;
  /** What the label asks here, said before anybody tries; whom to ask is the owner. */
  readonly terms: DrivePlaceTerms | null;
  /** Whether this person comes in; others learn only that it exists. */
  readonly open: boolean;
  /** They can come in by themselves. */
  readonly mayJoin: boolean;
  readonly mine: boolean;
  readonly members: readonly string[];
  readonly outside: readonly string[];
}

export interface DrivePlaceTerms {
  readonly noCopies: boolean;
  /** Kinds of file that everybody may take out all the same. */
  readonly copyKinds: readonly string[];
  readonly outside: 'nobody' | 'named' | 'named-and-links';
  readonly signIn: boolean;
  readonly strange: 'as-any' | 'look-only' | 'closed';
  /** The same over networks that the organisation does not trust. */
  readonly network: 'as-any' | 'look-only' | 'closed';
  /** Why this person may not open or take anything here, in the words of a refusal; null where they may. */
  readonly refusedRead: string | null;
  readonly refusedCopy: string | null;
}

export interface DriveFolderView {
  readonly path: string;
  readonly entries: readonly DriveEntry[];
  /** More lie there than are shown. */
  readonly isCut: boolean;
}

export interface DriveEntry {
  readonly name: string;
  readonly kind: 'folder' | 'file';
  readonly bytes: number;
  readonly changedAt: string;
}

export class DriveFolderQuery {
  /** Folder below the place, divided by `/`; empty for the whole. */
  @IsOptional()
  @IsString()
  @MaxLength(2_000)
  path?: string;

  /** `own` for a machine that the organisation does not look after. */
  @IsOptional()
  @IsIn(['own'])
  on?: string;

  /** `foreign` for a network that the organisation does not trust. */
  @IsOptional()
  @IsIn(['foreign'])
  net?: string;

  /** `yes` where somebody outside said who they are. */
  @IsOptional()
  @IsIn(['yes'])
  signed?: string;
}

export class DrivePathRequest {
  @IsString()
  @MinLength(1)
  @MaxLength(2_000)
  path: string;
}

export class DriveRenameRequest extends DrivePathRequest {
  @IsString()
  @MinLength(1)
  @MaxLength(200)
  name: string;
}

/** Most files that are taken at once. */
export const MAX_TAKEN = 200;

export class DriveTakeRequest {
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(MAX_TAKEN)
  @IsString({ each: true })
  @MaxLength(2_000, { each: true })
  paths: string[];
}

export class DriveMemberRequest {
  @IsEmail({ require_tld: false })
  @MaxLength(254)
  address: string;
}
