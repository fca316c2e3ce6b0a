import 'reflect-metadata';
import { IsEmail, IsIn, IsInt, IsString, Length, Max, MaxLength, Min, ValidateIf } from 'class-validator';

/** What is kept for a time of its own. The journal has a setting for each channel. */
export const KEPT_KINDS = [
  'movements',
  'evidence',
  'pictures',
  'incidents',
  'post',
  'replays',
  'reports',
  'trail',
] as const;
export type KeptKind = (typeof KEPT_KINDS)[number];

/** Fewer are not taken. Whoever could shorten the trail to a day could clean up after themselves. */
export const leastKeptDays = (kind: KeptKind): number => (kind === 'trail' ? 365 : 1);

/** Longer is for ever, which is said by no number. */
export const MOST_KEPT_DAYS = 3_660;

export class KeptForRequest {
  /** Days; null for ever. */
  @ValidateIf((_request, value) => value !== null)
  @IsInt()
  @Min(1)
  @Max(MOST_KEPT_DAYS)
  days: number | null;
}

export interface KeptView {
  readonly kind: KeptKind;
  readonly days: number | null;
  /** How many there are. */
  readonly count: number;
  readonly oldest: string | null;
  /** When old ones were last deleted, and how many; null before the first time. */
  readonly swept: { readonly at: string; readonly deleted: number } | null;
}

/** What shorter days would delete at the next sweep. */
export interface KeptTrial {
  readonly deletes: number;
  /** As old, and kept because of a legal hold. */
  readonly held: number;
}

export const HELD_KINDS = ['person', 'incident', 'case'] as const;
export type HeldKind = (typeof HELD_KINDS)[number];

export class HoldRequest {
  @IsIn(HELD_KINDS)
  kind: HeldKind;

  /** An address, or the number of an incident or case. */
  @IsString()
  @Length(1, 254)
  subject: string;

  @IsString()
  @Length(10, 500)
  reason: string;
}

export class EndHoldRequest {
  @IsString()
  @Length(10, 500)
  reason: string;
}

/** Whatever a hold is about is deleted by nobody and by no sweep while it stands. */
export interface HoldView {
  readonly id: string;
  readonly kind: HeldKind;
  readonly subject: string;
  readonly reason: string;
  readonly since: string;
  readonly by: string;
  readonly endedAt: string | null;
  readonly endedBy: string | null;
  readonly endReason: string | null;
  readonly movements: number;
}

/** What is kept about one person, and why some of it stays when the rest is deleted. */
export interface PersonData {
  readonly address: string;
  readonly name: string;
  readonly held: boolean;
  readonly parts: readonly {
    readonly what: PersonPart;
    readonly count: number;
    readonly stays: StayReason | null;
  }[];
}

export const PERSON_PARTS = [
  'directory',
  'movements',
  'evidence',
  'decided-incidents',
  'open-incidents',
  'journal',
  'mail',
  'posts',
  'second-factor',
  'passkeys',
  'assistant-talks',
  'flow-runs',
  'approvals',
  'trust',
  'label-changes',
  'machines',
  'identity-provider',
  'stored-evidence',
  'fetched-items',
  'clean-ups',
  'stored-items',
  'drive-files',
  'documents',
  'shares',
  'outside-mail',
  'trail',
] as const;
export type PersonPart = (typeof PERSON_PARTS)[number];
export type StayReason =
  'in-directory' | 'undecided' | 'held' | 'history-of-labels' | 'in-its-place' | 'proof-of-acts';

export class DeletePersonDataRequest {
  @IsEmail({ require_tld: false, allow_utf8_local_part: true })
  @MaxLength(254)
  address: string;

  @IsString()
  @Length(10, 500)
  reason: string;
}

/** The keys that kept content is encrypted with. */
export interface KeysView {
  /** Tells the master key from others; nothing follows from it. */
  readonly master: string;
  /** One for each movement, and one for the rest. */
  readonly dataKeys: number;
  /** Data keys that an earlier master key still wraps. */
  readonly left: number;
  readonly running: boolean;
  /** Whether the server holds the file with the master key, and can change it. */
  readonly canChange: boolean;
}
