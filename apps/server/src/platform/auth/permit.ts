import type { Permission } from '@lantern/contracts';
import { createParamDecorator, type ExecutionContext, SetMetadata } from '@nestjs/common';
import type { Request } from 'express';

export const PERMIT = 'lantern:permit';
/** Marks a route that needs no account. */
export const OPEN = 'open';
/** Marks a route that needs an account and nothing more. */
export const SIGNED_IN = 'signed-in';

/** Marks a route for agents, known by their key. */
export const AGENT = 'agent';

/** Marks a route for readers, known by the token they sign for each request. */
export const READER = 'reader';

/** Declares what a route needs. A route without a declaration keeps the server from starting. */
export const Permit = (
  permission: Permission | typeof OPEN | typeof SIGNED_IN | typeof AGENT | typeof READER,
) => SetMetadata(PERMIT, permission);

/** The account behind a request. */
export interface Caller {
  readonly sessionId: string;
  readonly accountId: string;
  readonly name: string;
  readonly email: string;
  readonly permissions: readonly Permission[];
  readonly csrfToken: string;
  readonly secondFactor: boolean;
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

export type RequestWithCaller = Request & { caller?: Caller; agent?: CallingAgent; reader?: CallingReader };

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
