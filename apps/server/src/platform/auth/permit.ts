import type { Permission } from '@lantern/contracts';
import { createParamDecorator, type ExecutionContext, SetMetadata } from '@nestjs/common';
import type { Request } from 'express';
import type { Grant, HeldLimits } from './grants.js';

export const PERMIT = 'lantern:permit';
/** Marks a route that needs no account. */
export const OPEN = 'open';
/** Marks a route that needs an account and nothing more. */
export const SIGNED_IN = 'signed-in';

/** Marks a route for agents, known by their key. */
export const AGENT = 'agent';

/** Marks a route for readers, known by the token they sign for each request. */
export const READER = 'reader';

/** Marks a route for programs of a person, known by a key that the person made in the ledger of the demo. */
export const PROGRAM = 'program';

/** Declares what a route needs. A route without a declaration keeps the server from starting. */
export const Permit = (
  permission: Permission | typeof OPEN | typeof SIGNED_IN | typeof AGENT | typeof READER | typeof PROGRAM,
) => SetMetadata(PERMIT, permission);

export const NARROWED = 'lantern:narrowed';
/**
 * Marks a route that applies the limits of its caller. For permissions about incidents, the guard refuses callers with
 * limits on every route without this mark.
 */
export const Narrowed = () => SetMetadata(NARROWED, true);
/** The account behind a request. */
export interface Caller {
  readonly sessionId: string;
  readonly accountId: string;
  readonly name: string;
  readonly email: string;
  readonly permissions: readonly Permission[];
  readonly csrfToken: string;
  readonly secondFactor: boolean;
  /** Whether sign-in asks for authenticator codes. */
  readonly codes?: boolean;
  /** Its role needs a second factor that it has not set up yet. */
  readonly factorDemanded?: boolean;
  /** Limits for the permission of the called route, of which any may match; null for no limits. */
  readonly limits: readonly HeldLimits[] | null;
  /** Grants of all roles, own and borrowed. {@link sightWith} reads the limits of one permission from them. */
  readonly grants: readonly Grant[];
  /** Address of the absent account whose permission the call uses; null if the caller holds it. */
  readonly inPlaceOf?: string | null;
  /** Whether a service account calls, with a key. */
  readonly isService?: boolean;
}

/** The agent behind a request. */
export interface CallingAgent {
  readonly id: string;
  readonly name: string;
}

/** The reader behind a request, as discovery knows it. */
export interface CallingReader {
  readonly id: string;
}

/** The program behind a request: it is the person whose key it has. */
export interface CallingProgram {
  /** Id of the person. */
  readonly person: string;
}

export type RequestWithCaller = Request & {
  caller?: Caller;
  agent?: CallingAgent;
  reader?: CallingReader;
  program?: CallingProgram;
};

/** The signed-in account, as a handler's parameter. */
export const CallerOf = createParamDecorator((_data: unknown, context: ExecutionContext): Caller => {
  const { caller } = context.switchToHttp().getRequest<RequestWithCaller>();
  if (!caller) throw new Error('A route that asks for its caller must not be open');
  return caller;
});

/** The agent that calls, as a handler's parameter. */
export const AgentOf = createParamDecorator((_data: unknown, context: ExecutionContext): CallingAgent => {
  const { agent } = context.switchToHttp().getRequest<RequestWithCaller>();
  if (!agent) throw new Error('A route that asks for its agent must be for agents');
  return agent;
});

/** The reader that calls, as a handler's parameter. */
export const ReaderOf = createParamDecorator((_data: unknown, context: ExecutionContext): CallingReader => {
  const { reader } = context.switchToHttp().getRequest<RequestWithCaller>();
  if (!reader) throw new Error('A route that asks for its reader must be for readers');
  return reader;
});

/** The program that calls, as a handler's parameter. */
export const ProgramOf = createParamDecorator((_data: unknown, context: ExecutionContext): CallingProgram => {
  const { program } = context.switchToHttp().getRequest<RequestWithCaller>();
  if (!program) throw new Error('A route that asks for its program must be for programs');
  return program;
});
