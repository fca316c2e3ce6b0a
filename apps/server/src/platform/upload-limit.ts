import { MAX_FILE_BYTES } from '@lantern/files';
import type { NextFunction, Request, Response } from 'express';
import { AppError } from './errors/app-error.js';

/** Everything that one request may carry: two files of the largest size, with room for the rest of the form. */
export const MAX_UPLOAD_BYTES = MAX_FILE_BYTES * 2.5;
/** Uploads that are held in memory at the same time; more wait outside, with a word when to come back. */
const MOST_AT_ONCE = 8;

/** Bounds what uploads can hold in memory: each by its size, all by their number. */
export function uploadLimit(): (request: Request, response: Response, next: NextFunction) => void {
  let running = 0;
  return (request, response, next) => {
    if (!request.is('multipart/form-data')) return next();
    const limit = Math.floor(MAX_FILE_BYTES / 1024 / 1024);
    if (Number(request.header('content-length') ?? 0) > MAX_UPLOAD_BYTES) {
      return refuse(
        response,
        new AppError('file-too-large', 'The files together are larger than one request takes.', {
          details: { limit },
        }),
      );
    }
    if (running >= MOST_AT_ONCE)
      return refuse(
        response,
        new AppError('busy', 'Many files are being read. Nothing was lost; try again in a few seconds.'),
      );
    running += 1;
    response.once('close', () => (running -= 1));
    next();
  };
}

function refuse(response: Response, refusal: AppError): void {
  response.setHeader('connection', 'close');
  if (refusal.code === 'busy') response.setHeader('retry-after', '5');
  response.status(refusal.status).json(refusal.body());
}
