import type { ErrorCode } from '@lantern/contracts';
import { MAX_ATTACHMENTS } from '@lantern/contracts';
import { MAX_FILE_BYTES } from '@lantern/files';
import { type ArgumentsHost, Catch, type ExceptionFilter, HttpException, Logger } from '@nestjs/common';
import type { Response } from 'express';
import { AppError } from './app-error.js';
import { bodyRefusal } from './body-refusal.js';

/** The one filter: every failure leaves as a stable code and a sentence; unknown ones are logged by their kind only. */
@Catch()
export class ErrorFilter implements ExceptionFilter {
  private readonly log = new Logger('errors');

  catch(error: unknown, host: ArgumentsHost): void {
    const response = host.switchToHttp().getResponse<Response>();
    const refusal = this.toRefusal(error);
    if (refusal.code === 'internal') this.log.error(describe(error));
    if (response.headersSent) {
      response.end();
      return;
    }
    if (refusal.code === 'busy' || refusal.code === 'too-many-requests')
      response.setHeader('retry-after', '5');
    response.status(refusal.status).json(refusal.body());
  }

  private toRefusal(error: unknown): AppError {
    if (error instanceof AppError) return error;
    if (isOfDatabase(error)) return error.driverError;
    if (isUploadError(error)) return uploadRefusal(error.code);
    // Nest words the form reader's limits as errors of its own.
    if (error instanceof HttpException && error.getStatus() === 413) return uploadRefusal('LIMIT_FILE_SIZE');
    if (error instanceof HttpException && /^(?:Unexpected field|Too many files)/.test(error.message))
      return uploadRefusal('LIMIT_FILE_COUNT');
    if (error instanceof HttpException) return new AppError(codeOf(error.getStatus()), error.message);
    const ofBody = bodyRefusal(error);
    if (ofBody) return ofBody;
    return new AppError('internal', 'Something went wrong on the server. Nothing was changed. Try again.');
  }
}

/** Limits on connections and statements are refusals inside what the database library throws. */
function isOfDatabase(error: unknown): error is { driverError: AppError } {
  return (
    typeof error === 'object' &&
    error !== null &&
    'driverError' in error &&
    error.driverError instanceof AppError
  );
}

function isUploadError(error: unknown): error is Error & { code: string } {
  return error instanceof Error && error.name === 'MulterError';
}

function uploadRefusal(code: string): AppError {
  const megabytes = MAX_FILE_BYTES / 1024 / 1024;
  if (code === 'LIMIT_FILE_SIZE') {
    return new AppError(
      'file-too-large',
      `A file is larger than ${megabytes} MB. Nothing was sent or kept.`,
      { details: { limit: megabytes } },
    );
  }
  if (code === 'LIMIT_FILE_COUNT' || code === 'LIMIT_UNEXPECTED_FILE') {
    return new AppError('too-many-files', `At most ${MAX_ATTACHMENTS} files can be sent together.`, {
      details: { limit: MAX_ATTACHMENTS },
    });
  }
  return new AppError('invalid-request', 'The form could not be read.');
}

function codeOf(status: number): ErrorCode {
  const codes: Readonly<Record<number, ErrorCode>> = {
    401: 'not-signed-in',
    403: 'not-permitted',
    404: 'not-found',
    413: 'file-too-large',
    429: 'too-many-requests',
  };
  return codes[status] ?? (status < 500 ? 'invalid-request' : 'internal');
}

/** Kind and place of an error, without its values: a database message can quote what was being stored. */
function describe(error: unknown): string {
  if (!(error instanceof Error)) return 'unknown failure';
  const place = error.stack?.split('\n').slice(1, 6).join('\n') ?? '';
  const code = 'code' in error ? ` ${String(error.code)}` : '';
  return `${error.name}${code}\n${place}`;
}
