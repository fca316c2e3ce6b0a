import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsEmail,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  Length,
  Max,
  MaxLength,
  Min,
} from 'class-validator';
import { Type } from 'class-transformer';
import type { Permission } from './session.js';

/** Roles that ship with the product: who does what, and the permissions that takes. */
export const ROLES = {
  'first-line': [
    'patterns.read',
    'policies.read',
    'labels.read',
    'people.read',
    'incidents.read',
    'incidents.decide',
    'incidents.respond',
    'lantern.use',
    'stand-ins.use',
  ],
  'second-line': [
    'patterns.read',
    'policies.read',
    'labels.read',
    'people.read',
    'incidents.read',
    'incidents.decide',
    'incidents.unmask',
    'incidents.respond',
    'incidents.route',
    'replay.run',
    'lantern.use',
    'stand-ins.use',
    'discovery.read',
    'discovery.run',
  ],
  'policy-author': [
    'patterns.read',
    'patterns.write',
    'policies.read',
    'policies.write',
    'labels.read',
    'labels.write',
    'labels.run',
    'people.read',
    'incidents.read',
    'replay.run',
    'lantern.use',
    'stand-ins.use',
    'discovery.read',
    'discovery.run',
  ],
  approver: [
    'patterns.read',
    'policies.read',
    'policies.publish',
    'labels.read',
    'people.read',
    'incidents.read',
    'overrides.decide',
    'replay.run',
    'lantern.use',
    'discovery.read',
  ],
  business: ['labels.read', 'labels.sign', 'policies.read', 'patterns.read', 'people.read'],
  auditor: [
    'patterns.read',
    'policies.read',
    'labels.read',
    'people.read',
    'incidents.read',
    'trail.read',
    'discovery.read',
  ],
  administrator: [
    'accounts.manage',
    'agents.manage',
    'journal.set',
    'trail.read',
    'patterns.read',
    'policies.read',
    'labels.read',
    'people.read',
    'people.manage',
    'discovery.read',
    'discovery.manage',
  ],
} as const satisfies Record<string, readonly Permission[]>;
export type Role = keyof typeof ROLES;
export const ROLE_IDS = Object.keys(ROLES) as Role[];

/** Roles of one account. */
export const MOST_ROLES = 20;

/** Shorter passwords are guessed; a longer one is easier to remember as a sentence. NIST SP 800-63B-4, 3.1.1.2. */
export const LEAST_PASSWORD = 12;
export const MOST_PASSWORD = 200;

export interface AccountView {
  readonly id: string;
  readonly name: string;
  readonly email: string;
  /** Programs have keys in the place of a password. */
  readonly kind: 'person' | 'service';
  /** Roles that ship by their name, the organisation's own by their id. */
  readonly roles: readonly string[];
  readonly permissions: readonly Permission[];
  readonly seesSilent: boolean;
  /** `invited` until the link was used, which lives for a day. */
  readonly state: 'invited' | 'active' | 'disabled';
  readonly lastSignIn: string | null;
  readonly secondFactor: boolean;
  /** Signs in through the identity provider, whose groups decide its roles. */
  readonly signOn: boolean;
  readonly sessions: number;
}

/** Roles whose accounts need a second factor. */
export class FactorRolesRequest {
  @IsArray()
  @ArrayMaxSize(20)
  @IsIn(Object.keys(ROLES), { each: true })
  roles: Role[];
}

export interface FactorRolesView {
  readonly roles: readonly Role[];
  /** Accounts of these roles that have none yet: they set one up the next time they do something. */
  readonly without: number;
}

/** A link that lets somebody choose a password, shown once. */
export interface InvitationView {
  readonly account: AccountView;
  /** Path of the link below the workbench's address. */
  readonly path: string;
  readonly expiresAt: string;
}

export class InviteRequest {
  @IsString()
  @Length(2, 120)
  name: string;

  @IsEmail({ require_tld: false })
  @MaxLength(254)
  email: string;

  @IsArray()
  @ArrayMaxSize(MOST_ROLES)
  @IsString({ each: true })
  @MaxLength(36, { each: true })
  roles: string[];
}

export class AccountRequest {
  @IsArray()
  @ArrayMaxSize(MOST_ROLES)
  @IsString({ each: true })
  @MaxLength(36, { each: true })
  roles: string[];

  /** Sees silent rules and their incidents, whatever its roles. */
  @IsBoolean()
  seesSilent: boolean;

  @IsBoolean()
  disabled: boolean;
}

export class WelcomeRequest {
  @IsString()
  @Length(LEAST_PASSWORD, MOST_PASSWORD)
  password: string;
}

/** For whom a link is; shown before a password is chosen. */
export interface WelcomeView {
  readonly name: string;
  readonly email: string;
  readonly expiresAt: string;
}

export class PasswordRequest {
  @IsString()
  @MaxLength(MOST_PASSWORD)
  current: string;

  @IsString()
  @Length(LEAST_PASSWORD, MOST_PASSWORD)
  next: string;
}

/** What an authenticator needs to know, shown once. */
export interface NewFactorView {
  /** Base 32 (RFC 4648), for typing. */
  readonly secret: string;
  /** For a picture that an authenticator reads. */
  readonly uri: string;
}

export class FactorCodeRequest {
  @IsString()
  @Length(6, 20)
  code: string;
}

/** Codes that each work once in place of the second factor, shown once. */
export interface RecoveryCodesView {
  readonly codes: readonly string[];
}

/** A place where the account is signed in. */
export interface OwnSessionView {
  readonly id: string;
  /** Browser and system, as the browser tells them. */
  readonly agent: string;
  readonly address: string;
  readonly signedInAt: string;
  readonly lastSeen: string;
  readonly isThis: boolean;
}

/** One entry of the audit trail. */
export interface TrailEntry {
  readonly number: number;
  readonly at: string;
  readonly actor: string;
  readonly action: string;
  readonly target: string;
  readonly facts: Readonly<Record<string, string>>;
}

/** How far the trail was sent on to a collector of logs. */
export interface TrailForwardingView {
  /** Host and port; null where it is sent nowhere. */
  readonly to: string | null;
  /** Number of the last entry that was sent. */
  readonly sent: number;
  readonly waiting: number;
  readonly failing: { readonly since: string; readonly why: string } | null;
}

export interface TrailPage {
  readonly entries: readonly TrailEntry[];
  /** Number to ask for the next page with; null at the end. */
  readonly before: number | null;
  readonly total: number;
}

export class TrailQuery {
  @IsOptional()
  @IsString()
  @MaxLength(254)
  actor?: string;

  @IsOptional()
  @IsString()
  @MaxLength(80)
  action?: string;

  @IsOptional()
  @Type(() => Number)
  @IsInt()
  @Min(1)
  before?: number;

  @IsOptional()
  @Type(() => Number)
  @IsInt()
  @Min(1)
  @Max(1000)
  most?: number;
}

/** What a check of the whole trail found. */
export interface TrailCheck {
  readonly whole: boolean;
  readonly entries: number;
  /** Number of the first entry that is not as it was written; null where all are. */
  readonly brokenAt: number | null;
  readonly why: 'changed' | 'missing' | 'cut-off' | 'not-signed' | null;
}
