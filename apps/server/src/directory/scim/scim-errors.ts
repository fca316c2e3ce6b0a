import { type ArgumentsHost, Catch, type ExceptionFilter } from '@nestjs/common';
import type { Response } from 'express';
import { ErrorFilter } from '../../platform/errors/error-filter.js';
import { AppError } from '../../platform/errors/app-error.js';

export const SCIM_TYPE = 'application/scim+json; charset=utf-8';

/** A refusal in the words of RFC 7644, 3.12. */
export class ScimRefusal extends Error {
  constructor(
    readonly status: number,
    readonly scimType: string | null,
    message: string,
  ) {
    super(message);
  }
}

/** Answers refusals of SCIM routes as the standard writes them; every other failure as everywhere. */
@Catch()
export class ScimErrors implements ExceptionFilter {
  private readonly others = new ErrorFilter();

  catch(error: unknown, host: ArgumentsHost): void {
    const refusal =
      error instanceof ScimRefusal
        ? error
        : error instanceof AppError
          ? new ScimRefusal(error.status, null, error.message)
          : null;
    if (!refusal) return this.others.catch(error, host);
    host
      .switchToHttp()
      .getResponse<Response>()
      .status(refusal.status)
      .setHeader('content-type', SCIM_TYPE)
      .json({
        schemas: ['urn:ietf:params:scim:api:messages:2.0:Error'],
        // As text: RFC 7644, 3.12.
        status: String(refusal.status),
        ...(refusal.scimType ? { scimType: refusal.scimType } : {}),
        detail: refusal.message,
      });
  }
}
