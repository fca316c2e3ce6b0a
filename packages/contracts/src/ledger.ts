import type { SignInProof, UseDeed, UseWay } from '@lantern/core/movement';
import { SIGN_IN_PROOFS } from '@lantern/core/movement';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  Matches,
  Max,
  MaxLength,
  Min,
  MinLength,
} from 'class-validator';
import { MAX_NAME_LENGTH } from './limits.js';
import type { PersonNotice } from './mail.js';
import type { TrustView } from './trusts.js';

/** What can be done in the ledger: it answers no questions. */
export type LedgerDeed = Exclude<UseDeed, 'question' | 'answer'>;

/** What is known of one thing done in the ledger of the demo. */
export interface LedgerFacts {
  /** What it is called in lists: the report, the record, the application. */
  readonly title: string;
  readonly report?: string;
  readonly objects: readonly string[];
  readonly rows?: number;
  readonly columns?: readonly string[];
  readonly file?: { readonly name: string; readonly bytes: number };
  readonly signIn?: { readonly country: string; readonly proof: SignInProof; readonly machine: string };
  readonly application?: string;
  readonly rights?: readonly string[];
}

export interface LedgerDeedView {
  readonly id: string;
  readonly deed: LedgerDeed;
  readonly by: UseWay;
  readonly at: string;
  readonly state: 'waiting' | 'went-on' | 'refused' | 'taken-back';
  readonly facts: LedgerFacts;
  readonly notice: PersonNotice | null;
  readonly reported: boolean;
  readonly endedAt: string | null;
}

export interface LedgerReportView {
  readonly id: string;
  /** Lists of records, or what adds them up. */
  readonly kind: 'report' | 'dashboard';
  readonly name: string;
  readonly about: string;
  readonly objects: readonly string[];
  readonly fields: readonly string[];
  readonly rows: number;
  readonly label: { readonly id: string; readonly name: string } | null;
}

export interface LedgerKeyView {
  readonly id: string;
  readonly name: string;
  readonly madeAt: string;
}

/** The ledger as one person sees it. */
export interface LedgerView {
  /** The sign-in that holds; null where the person has to sign in. */
  readonly signIn: LedgerDeedView | null;
  readonly reports: readonly LedgerReportView[];
  readonly deeds: readonly LedgerDeedView[];
  readonly keys: readonly LedgerKeyView[];
  readonly connectable: readonly {
    readonly id: string;
    readonly name: string;
    readonly host: string;
    readonly rights: readonly string[];
    /** The deed by which it is connected; null where it is not. */
    readonly connected: string | null;
  }[];
  readonly trusts: readonly TrustView[];
}

/** Records as a list shows them: two fields, enough to find one. Opening one is a deed. */
export interface LedgerRecords {
  readonly total: number;
  readonly rows: readonly { readonly id: string; readonly name: string }[];
}

/** A record that was opened; null fields where it does not go on. */
export interface LedgerRecordView {
  readonly deed: LedgerDeedView;
  readonly fields: readonly { readonly name: string; readonly value: string }[] | null;
}

/** A dashboard that was opened; no rows while it is not allowed. */
export interface LedgerDashboardView {
  readonly deed: LedgerDeedView;
  readonly fields: readonly string[];
  readonly rows: readonly (readonly string[])[] | null;
}

export class LedgerSignInRequest {
  @IsString()
  @Matches(/^[A-Z]{2}$/)
  country: string;

  @IsIn(SIGN_IN_PROOFS)
  proof: SignInProof;

  /** At the machine of the organisation, or at one of their own. */
  @IsBoolean()
  atWork: boolean;
}

export class LedgerExportRequest {
  @IsString()
  @MaxLength(40)
  report: string;

  @IsIn(['csv', 'xlsx'])
  format: 'csv' | 'xlsx';

  /** Fields that are taken; left out for all. */
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(50)
  @IsString({ each: true })
  fields?: string[];

  /** The first so many records; left out for all. */
  @IsOptional()
  @Type(() => Number)
  @IsInt()
  @Min(1)
  @Max(1_000_000)
  rows?: number;
}

export class LedgerQuery {
  @IsOptional()
  @IsString()
  @MaxLength(100)
  search?: string;

  @IsOptional()
  @Type(() => Number)
  @IsInt()
  @Min(0)
  @Max(10_000_000)
  from?: number;

  @IsOptional()
  @Type(() => Number)
  @IsInt()
  @Min(1)
  @Max(50_000)
  limit?: number;
}

export class LedgerConnectRequest {
  @IsString()
  @MaxLength(40)
  application: string;
}

export class LedgerKeyRequest {
  @IsString()
  @MinLength(3)
  @MaxLength(MAX_NAME_LENGTH)
  name: string;
}

/** A new key, which is shown once. */
export interface LedgerNewKey {
  readonly id: string;
  readonly key: string;
}

export class LedgerLabelRequest {
  /** Id of a label; empty to take it off. */
  @IsString()
  @MaxLength(60)
  label: string;
}

/** What the ledger's interface answers to a program. */
export interface LedgerAnswer {
  readonly id: string;
  /** `waiting` until the person has answered; then the same is asked for again by its id. */
  readonly state: LedgerDeedView['state'];
  readonly message: string;
  /** When it ends without an answer; null where nothing waits. */
  readonly until: string | null;
  readonly fields: readonly string[];
  readonly rows: readonly (readonly string[])[];
}
