import 'reflect-metadata';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsOptional,
  IsString,
  IsUrl,
  IsUUID,
  Length,
  MaxLength,
  ValidateNested,
} from 'class-validator';
import { MOST_ROLES } from './accounts.js';

/** Groups that one installation gives roles to. */
export const MOST_GROUP_ROLES = 200;

/** Roles that members of a group of the identity provider have here. */
export class GroupRoles {
  @IsString()
  @Length(1, 200)
  group: string;

  @IsArray()
  @ArrayMaxSize(MOST_ROLES)
  @IsString({ each: true })
  @MaxLength(36, { each: true })
  roles: string[];
}

export class SignOnRequest {
  @IsBoolean()
  enabled: boolean;

  /** Address of the identity provider (OpenID Connect Discovery 1.0, 4). */
  @IsUrl({ require_tld: false, protocols: ['https', 'http'], require_protocol: true })
  @MaxLength(400)
  issuer: string;

  @IsString()
  @Length(1, 200)
  clientId: string;

  /** Left out to keep the one that is stored. */
  @IsOptional()
  @IsString()
  @Length(1, 400)
  clientSecret?: string;

  /** Claim that names the groups of a person. */
  @IsString()
  @Length(1, 100)
  groupsClaim: string;

  @IsArray()
  @ArrayMaxSize(MOST_GROUP_ROLES)
  @ValidateNested({ each: true })
  @Type(() => GroupRoles)
  groupRoles: GroupRoles[];

  /** Passwords and passkeys no longer sign anybody in but the account for emergencies. */
  @IsBoolean()
  onlyWay: boolean;

  /** Account that can always sign in with its password; every use is mailed to the administrators. */
  @IsOptional()
  @IsUUID()
  emergency: string | null;
}

export interface SignOnView {
  readonly enabled: boolean;
  readonly issuer: string;
  readonly clientId: string;
  readonly hasSecret: boolean;
  readonly groupsClaim: string;
  readonly groupRoles: readonly GroupRoles[];
  readonly onlyWay: boolean;
  readonly emergency: string | null;
  /** What the provider has to know: where people come back to, and where it tells that somebody signed out. */
  readonly redirectUri: string;
  readonly backChannelUri: string;
  readonly changedAt: string | null;
  readonly changedBy: string | null;
}

/** What the provider answered when it was asked who it is. */
export interface SignOnTrial {
  readonly reached: boolean;
  /** What was wrong, in a sentence; empty where nothing was. */
  readonly why: string;
  readonly endSession: boolean;
}

/** Whether the sign-in page offers single sign-on. */
export interface SignOnOffer {
  /** Name of the provider's machine; null where there is none. */
  readonly provider: string | null;
  /** Whether passwords and passkeys are for emergencies only. */
  readonly onlyWay: boolean;
}

/** Why single sign-on failed, and what a person reads. The code stands in the address that the browser returns to. */
export const SIGN_ON_FAILURES = {
  unreachable: 'Your identity provider cannot be reached. Try again in a moment.',
  'not-accepted': 'The answer of your identity provider was not accepted. Sign in again.',
  'too-late': 'Signing in took too long, or began in another browser. Sign in again.',
  'no-role': 'None of your groups has a role here. Ask an administrator.',
  'no-address': 'Your identity provider did not send a verified mail address. Ask an administrator.',
  'address-taken': 'Another account has your mail address here. Ask an administrator.',
  disabled: 'Your account is disabled here. Ask an administrator.',
  'not-set-up': 'Single sign-on is not set up here.',
} as const;
export type SignOnFailureCode = keyof typeof SIGN_ON_FAILURES;

/** Where the browser goes next. */
export interface SignOnStep {
  readonly url: string | null;
}
