import { IsEmail, IsOptional, IsString, MaxLength } from 'class-validator';

/** What an account may do. Roles are named sets of these. */
export const PERMISSIONS = [
  'patterns.read',
  'patterns.write',
  'policies.read',
  'policies.write',
  'policies.publish',
  /** See silent rules and their incidents. */
  'policies.silent',
  'replay.run',
  'labels.read',
  'labels.write',
  /** Say for the business that labels and their words are right, without editing them. */
  'labels.sign',
  /** Let automatic rules go through places. */
  'labels.run',
  'journal.set',
  'overrides.decide',
  'incidents.read',
  'incidents.decide',
  'incidents.unmask',
  /** Tell or ask people about incidents, open tickets. */
  'incidents.respond',
  /** Routing rules, web hooks and promised times of the desk. */
  'incidents.route',
  'lantern.use',
  'people.read',
  /** Change the directory: people, groups, own domains, partners, and where they are read from. */
  'people.manage',
  /** Keys of agents, and what happens where reading does not finish. */
  'agents.manage',
  'stand-ins.use',
  /** Invite accounts, change their roles, disable them. */
  'accounts.manage',
  'trail.read',
  /** See places, runs and what was found there. */
  'discovery.read',
  /** Start runs, label and quarantine what was found. */
  'discovery.run',
  /** Enrol readers, and say where places are and with which secrets. */
  'discovery.manage',
] as const;
export type Permission = (typeof PERMISSIONS)[number];

export class SignInRequest {
  @IsEmail({ require_tld: false })
  @MaxLength(254)
  email: string;

  @IsString()
  @MaxLength(200)
  password: string;

  /** Six digits of the second factor, or a recovery code; where the account has one. */
  @IsOptional()
  @IsString()
  @MaxLength(20)
  code?: string;
}

export interface SessionView {
  readonly account: {
    readonly id: string;
    readonly name: string;
    readonly email: string;
    readonly permissions: readonly Permission[];
    /** Whether signing in asks for a second factor. */
    readonly secondFactor: boolean;
    /** Codes of an authenticator are turned on. */
    readonly codes: boolean;
    /** Its roles cover some incidents only. */
    readonly limited: boolean;
    /** Its role needs a second factor and it has none: until it is set up, it may do nothing else. */
    readonly factorDemanded: boolean;
  };
  /** Sent back in the header `x-csrf-token` with every change. */
  readonly csrfToken: string;
}

/** How far a new installation is set up. */
export interface FirstStepsView {
  /** Accounts beside the first one, which everybody knows of who saw it being set up. */
  readonly otherAccounts: number;
  readonly domains: readonly string[];
  readonly people: number;
  readonly gateway: { readonly open: boolean; readonly port: number };
  readonly agents: number;
  readonly policies: number;
  readonly published: boolean;
  readonly movements: number;
}

/** Live figures of the strip. */
export interface OverviewView {
  readonly organisation: string;
  readonly revision: { readonly number: number; readonly name: string } | null;
  readonly patterns: { readonly total: number; readonly changed: number };
  readonly labels: { readonly total: number; readonly changed: number; readonly problems: number };
  /** Places that hold more than their guard allows. */
  readonly discovery: { readonly exposed: number };
  /** Flows and assistants that what is published keeps from running. */
  readonly automations: { readonly inBreach: number };
  readonly policies: { readonly total: number; readonly changed: number; readonly problems: number };
  readonly incidents: { readonly open: number };
  /** Things that could be better; null until they are computed. */
  readonly insight: { readonly improve: number | null };
}
