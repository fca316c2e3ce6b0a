import 'reflect-metadata';
import { COLUMN_MEANINGS, GROUP_FIELDS, GROUP_TESTS } from '@lantern/core/directory';
import type {
  AudienceEffect,
  ColumnMeaning,
  GroupField,
  GroupTest,
  LdifFault,
  PersonRecord,
  RefusedLine,
  Remark,
  VanishingName,
} from '@lantern/core/directory';
import { Type } from 'class-transformer';
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
  IsUUID,
  Length,
  Matches,
  Max,
  MaxLength,
  Min,
  ValidateIf,
  ValidateNested,
} from 'class-validator';

/** A file of people: more is no list of people. */
export const MAX_DIRECTORY_FILE_BYTES = 64 * 1024 * 1024;
/** Share of a source's people who may leave by one change before somebody has to say that it is meant, in percent. */
export const USUAL_LEAVING_PERCENT = 10;
/** A change that lets fewer leave than these is never stopped: one of five is a fifth. */
export const FEW_LEAVING = 3;

/** Where somebody of the directory comes from: one source never takes over or removes who came from another. */
export const PERSON_SOURCES = ['hand', 'file', 'server', 'scim'] as const;
export type PersonSource = (typeof PERSON_SOURCES)[number];

export interface DirectoryPerson extends PersonRecord {
  readonly id: string;
  readonly source: PersonSource;
  /** Groups that the person is in by a condition. */
  readonly byCondition: readonly string[];
}

export interface DirectoryPage {
  readonly total: number;
  readonly people: readonly DirectoryPerson[];
}

/** Names that rules and offers can mean people by, with how many carry each. */
export interface DirectoryNames {
  readonly groups: readonly NamedCount[];
  readonly departments: readonly NamedCount[];
  readonly offices: readonly NamedCount[];
}

export interface NamedCount {
  readonly name: string;
  readonly people: number;
}

export class PersonRequest {
  @IsEmail({ require_tld: false, allow_utf8_local_part: true })
  @MaxLength(254)
  address: string;

  @IsString()
  @Length(1, 120)
  name: string;

  @IsString()
  @MaxLength(120)
  department: string;

  @IsString()
  @MaxLength(120)
  office: string;

  @IsString()
  @MaxLength(120)
  title: string;

  @IsArray()
  @ArrayMaxSize(200)
  @IsString({ each: true })
  @Length(1, 120, { each: true })
  groups: string[];

  @ValidateIf((_request, value) => value !== null)
  @IsString()
  @MaxLength(254)
  manager: string | null;

  @Matches(/^[a-z]{2,3}$/)
  language: string;

  /** Zone of the IANA database; empty for that of the organisation's rules. */
  @IsOptional()
  @IsString()
  @MaxLength(60)
  zone?: string;
}

/** What a file of people holds, before anything is compared. */
export interface DirectoryUpload {
  readonly upload: string;
  readonly kind: 'table' | 'ldif';
  /** Columns of a table, with what each probably holds; empty for LDIF. */
  readonly columns: readonly {
    readonly heading: string;
    readonly meaning: ColumnMeaning | null;
    readonly examples: readonly string[];
  }[];
  readonly people: number;
}

export class ComparisonRequest {
  /** The uploaded file; left out to read the directory server. */
  @IsOptional()
  @IsUUID()
  upload?: string;

  /** Meaning of each column of a table, in order. */
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(200)
  @IsIn([...COLUMN_MEANINGS, null], { each: true })
  meanings?: (ColumnMeaning | null)[];

  /** Whether who is not told of has left. */
  @IsBoolean()
  whole: boolean;
}

/** What a change of the directory would do. Lists are cut at 200; the counts are whole. */
export interface DirectoryComparison {
  readonly id: string;
  readonly source: PersonSource;
  readonly counts: {
    readonly added: number;
    readonly changed: number;
    readonly left: number;
    readonly unchanged: number;
    readonly refused: number;
    readonly remarks: number;
  };
  readonly added: readonly PersonRecord[];
  readonly changed: readonly {
    readonly before: PersonRecord;
    readonly after: PersonRecord;
    readonly fields: readonly string[];
  }[];
  readonly left: readonly PersonRecord[];
  readonly refused: readonly RefusedLine[];
  readonly remarks: readonly Remark[];
  /** Lines of an LDIF file that could not be read. */
  readonly faults: readonly LdifFault[];
  /** Entries are missing from what was read, so nobody leaves by this change. */
  readonly isIncomplete: boolean;
  /** What published and drafted rules and offers would mean other people. */
  readonly effects: readonly AudienceEffect[];
  /** Names that rules or offers use and nobody would carry any more. */
  readonly vanishing: readonly VanishingName[];
  /** Percent of this source's people who would leave, where that is so many that it has to be confirmed; null otherwise. */
  readonly leavingPercent: number | null;
}

/** What SCIM clients told of, and what came of it. */
export interface ScimView {
  readonly users: number;
  readonly groups: number;
  /** Whether somebody looks at each change before it is applied. */
  readonly reviewed: boolean;
  readonly lastAt: string | null;
  readonly lastOutcome: string | null;
  /** Whether what was sent waits for somebody to apply it. */
  readonly waits: boolean;
}

export class ScimSettingRequest {
  @IsBoolean()
  reviewed: boolean;
}

export class ApplyComparisonRequest {
  /** Percent of the source's people who may leave. */
  @IsInt()
  @Min(0)
  @Max(100)
  leavingPercent: number;
}

export interface DirectoryChangeView {
  readonly id: string;
  readonly at: string;
  readonly actor: string;
  readonly source: PersonSource;
  readonly added: number;
  readonly changed: number;
  readonly left: number;
  readonly refused: number;
}

export class GroupClauseRequest {
  @IsIn(GROUP_FIELDS)
  field: GroupField;

  @IsIn(GROUP_TESTS)
  test: GroupTest;

  @IsString()
  @Length(1, 120)
  value: string;
}

export class GroupRowRequest {
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(10)
  @ValidateNested({ each: true })
  @Type(() => GroupClauseRequest)
  clauses: GroupClauseRequest[];
}

/** A group told by a condition: who meets all clauses of one row is in it. */
export class GroupRequest {
  @IsString()
  @Length(2, 120)
  name: string;

  @IsString()
  @MaxLength(300)
  about: string;

  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(20)
  @ValidateNested({ each: true })
  @Type(() => GroupRowRequest)
  rows: GroupRowRequest[];
}

export interface GroupView {
  readonly id: string;
  readonly name: string;
  readonly about: string;
  readonly rows: readonly { readonly clauses: readonly GroupClauseRequest[] }[];
  readonly people: number;
}

/** Who would be in a group as it is written. */
export interface GroupTrial {
  readonly people: number;
  readonly examples: readonly { readonly name: string; readonly address: string }[];
  readonly effects: readonly AudienceEffect[];
}

export class OrganisationRequest {
  @IsString()
  @Length(1, 120)
  name: string;

  /** Domains whose addresses are inside, what stands under them included. */
  @IsArray()
  @ArrayMaxSize(500)
  @IsString({ each: true })
  @Length(3, 253, { each: true })
  domains: string[];
}

export interface OrganisationView {
  readonly name: string;
  readonly domains: readonly string[];
  readonly people: number;
}

export class PartnerRequest {
  @IsEmail({ require_tld: false, allow_utf8_local_part: true })
  @MaxLength(254)
  address: string;

  @IsString()
  @Length(1, 120)
  name: string;

  @IsString()
  @MaxLength(120)
  organisation: string;

  /** ISO 3166-1 alpha-2. */
  @ValidateIf((_request, value) => value !== null)
  @Matches(/^[A-Z]{2}$/)
  country: string | null;

  /** Certificate (PEM) by which mail to this address is encrypted. Left out: the one that is there stays. */
  @IsOptional()
  @ValidateIf((_request, value) => value !== null)
  @IsString()
  @MaxLength(20_000)
  certificate?: string | null;
}

export interface DirectoryPartner {
  readonly address: string;
  readonly name: string;
  readonly organisation: string;
  readonly country: string | null;
  /** What the certificate says of itself; null where there is none. */
  readonly certificate: {
    readonly subject: string;
    readonly issuer: string;
    readonly from: string;
    readonly until: string;
    readonly fingerprint: string;
  } | null;
}

/** Where something of the directory is used: names of policies, rules, offers. */
export interface DirectoryUse {
  readonly of: string;
  readonly draft: boolean;
}

/** A directory server that is read by LDAP (RFC 4511). */
export class DirectoryServerRequest {
  @Matches(/^ldaps?:\/\/[^\s/?#@]{1,253}\/?$/i)
  address: string;

  /** Ask for TLS on a connection that begins without it (RFC 4511, 4.14). */
  @IsBoolean()
  startTls: boolean;

  /** Certificate (PEM) of the authority that signs the server's; empty for those of the system. */
  @IsString()
  @MaxLength(40_000)
  authority: string;

  /** Name of the entry that signs in; empty for a server that answers everybody. */
  @IsString()
  @MaxLength(500)
  user: string;

  /** Left out: the one that is there stays. It is forgotten when the address changes. */
  @IsOptional()
  @IsString()
  @MaxLength(500)
  password?: string;

  @IsString()
  @Length(1, 500)
  base: string;

  /** Which entries are read (RFC 4515); people and groups are told apart by what they are. */
  @IsString()
  @Length(3, 1_000)
  filter: string;

  @IsBoolean()
  whole: boolean;

  /** Read by itself each night, where at most the usual share would leave. */
  @IsBoolean()
  nightly: boolean;
}

export interface DirectoryServerView {
  readonly address: string;
  readonly startTls: boolean;
  readonly authority: string;
  readonly user: string;
  readonly hasPassword: boolean;
  readonly base: string;
  readonly filter: string;
  readonly whole: boolean;
  readonly nightly: boolean;
  readonly lastRead: string | null;
  /** What the last read by itself came to; null where there was none. */
  readonly lastOutcome: string | null;
}
