import 'reflect-metadata';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayNotEmpty,
  IsArray,
  IsBoolean,
  IsEmail,
  IsIn,
  IsISO8601,
  IsOptional,
  IsString,
  Length,
  MaxLength,
  ValidateNested,
} from 'class-validator';
import { CHANNELS, type Channel } from '@lantern/core/movement';
import { SEVERITIES, type Severity } from '@lantern/core/policy';
import { MOST_ROLES } from './accounts.js';
import { PERMISSIONS, type Permission } from './session.js';

/** Departments, policies and channels that one role can be limited to. */
export const MOST_LIMITED = 100;
/** Roles that an organisation can make beside those that ship. */
export const MOST_OWN_ROLES = 200;
/** A deputy stands in for a stated absence, not for good. */
export const MOST_DEPUTY_DAYS = 92;
/** A key lives a year at most: keys that nobody remembers are found by whoever looks for them. */
export const MOST_KEY_DAYS = 366;

/** Permissions that limits narrow: each shows or changes incidents and what waits. */
export const NARROWED_PERMISSIONS = [
  'incidents.read',
  'incidents.decide',
  'incidents.unmask',
  'incidents.respond',
  'overrides.decide',
] as const satisfies readonly Permission[];

/** Permissions that a role with limits can hold beside them: none shows what somebody moved. */
export const UNTOUCHED_PERMISSIONS = [
  'patterns.read',
  'policies.read',
  'labels.read',
  'labels.sign',
  'people.read',
  'lantern.use',
  'stand-ins.use',
] as const satisfies readonly Permission[];

/** Acts that can take two people: putting drafts in force, of policies or of machines, letting an override go, showing what silent rules found. */
export const TWO_PEOPLE_KINDS = ['publish', 'machines', 'override', 'unmask-silent'] as const;
export type TwoPeopleKind = (typeof TWO_PEOPLE_KINDS)[number];

export class TwoPeopleRequest {
  @IsArray()
  @ArrayMaxSize(TWO_PEOPLE_KINDS.length)
  @IsIn([...TWO_PEOPLE_KINDS], { each: true })
  kinds: TwoPeopleKind[];
}

export interface TwoPeopleView {
  readonly kinds: readonly TwoPeopleKind[];
}

/** What a role is limited to. An empty list limits nothing; where several are given, an incident meets all of them. */
export class RoleLimits {
  /** Names of departments, as incidents state them. */
  @IsArray()
  @ArrayMaxSize(MOST_LIMITED)
  @IsString({ each: true })
  @Length(1, 120, { each: true })
  departments: string[];

  /** Ids of policies: an incident is seen where one of them matched. */
  @IsArray()
  @ArrayMaxSize(MOST_LIMITED)
  @IsString({ each: true })
  @Length(1, 60, { each: true })
  policies: string[];

  @IsArray()
  @ArrayMaxSize(CHANNELS.length)
  @IsIn([...CHANNELS], { each: true })
  channels: Channel[];

  @IsArray()
  @ArrayMaxSize(SEVERITIES.length)
  @IsIn([...SEVERITIES], { each: true })
  severities: Severity[];

  /** Only people whose manager is the holder of the role. */
  @IsBoolean()
  ownTeam: boolean;

  /** People stand under a code until values of an incident are shown with a reason. */
  @IsOptional()
  @IsBoolean()
  hidesNames?: boolean;
}

export class RoleRequest {
  @IsString()
  @Length(2, 60)
  name: string;

  @IsString()
  @MaxLength(300)
  description: string;

  @IsArray()
  @ArrayMaxSize(PERMISSIONS.length)
  @IsIn([...PERMISSIONS], { each: true })
  permissions: Permission[];

  /** Null where the role covers everybody. */
  @IsOptional()
  @ValidateNested()
  @Type(() => RoleLimits)
  limits: RoleLimits | null;

  /** Its holders need a second factor. */
  @IsBoolean()
  needsFactor: boolean;
}

/** A role of the organisation's own. */
export interface OwnRoleView {
  readonly id: string;
  readonly name: string;
  readonly description: string;
  readonly permissions: readonly Permission[];
  readonly limits: RoleLimits | null;
  readonly needsFactor: boolean;
  /** Names of accounts that hold it. */
  readonly holders: readonly string[];
  readonly changedAt: string;
  readonly changedBy: string;
}

/** Departments that limits can name. */
export interface LimitChoicesView {
  readonly departments: readonly string[];
}

export class DeputyRequest {
  /** Address of the account that stands in. */
  @IsEmail({ require_tld: false })
  @MaxLength(254)
  deputy: string;

  @IsISO8601({ strict: true })
  from: string;

  @IsISO8601({ strict: true })
  until: string;
}

/** Who stands in for whom, and when. */
export interface DeputyView {
  readonly id: string;
  readonly absent: { readonly name: string; readonly email: string };
  readonly deputy: { readonly name: string; readonly email: string };
  readonly from: string;
  readonly until: string;
  readonly state: 'ahead' | 'now' | 'over';
}

/** A new account for a program. */
export class ServiceAccountRequest {
  @IsString()
  @Length(2, 80)
  name: string;

  /** Ids of roles, as people hold them. */
  @IsArray()
  @ArrayNotEmpty()
  @ArrayMaxSize(MOST_ROLES)
  @IsString({ each: true })
  @MaxLength(36, { each: true })
  roles: string[];
}

export class ServiceKeyRequest {
  @IsISO8601({ strict: true })
  expiresAt: string;
}

/** A key with which a program calls the interface in its own name. */
export interface ServiceKeyView {
  readonly id: string;
  readonly accountId: string;
  /** Its first characters, by which its owner knows it again. */
  readonly begins: string;
  readonly createdBy: string;
  readonly createdAt: string;
  readonly expiresAt: string;
  readonly lastUsed: string | null;
  readonly state: 'valid' | 'expired' | 'withdrawn';
}

/** A new key, shown once. */
export interface NewServiceKeyView {
  readonly key: ServiceKeyView;
  readonly secret: string;
}
