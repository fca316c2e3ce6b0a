import type { Permission } from '@lantern/contracts';
import { createParamDecorator, type ExecutionContext, SetMetadata } from '@nestjs/common';
import type { Request } from 'express';

export const PERMIT = 'lantern:permit';
/** Marks a route that needs no account. */
export const OPEN = 'open';
/** Marks a route that needs an account and nothing more. */
export const SIGNED_IN = 'signed-in';

/** Declares what a route needs. A route without a declaration keeps the server from starting. */
export const Permit = (permission: Permission | typeof OPEN | typeof SIGNED_IN) =>
  SetMetadata(PERMIT, permission);

/** The account behind a request. */
export interface Caller {
  readonly sessionId: string;
  readonly accountId: string;
  readonly name: string;
  readonly email: string;
  readonly permissions: readonly Permission[];
  readonly csrfToken: string;
}

export type RequestWithCaller = Request & { caller?: Caller };

/** The signed-in account, as a handler's parameter. */
export const CallerOf = createParamDecorator((_data: unknown, context: ExecutionContext): Caller => {
  const { caller } = context.switchToHttp().getRequest<RequestWithCaller>();
  if (!caller) throw new Error('A route that asks for its caller must not be open');
  return caller;
});
