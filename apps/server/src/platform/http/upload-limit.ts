import { MAX_FILE_BYTES } from '@lantern/files';
import type { NextFunction, Request, Response } from 'express';
import { AppError } from '../errors/app-error.js';

/** Everything that one request may carry: two files of the largest size, with room for the rest of the form. */
export const MAX_UPLOAD_BYTES = MAX_FILE_BYTES * 2.5;
/** Largest file of records: a million rows of ordinary length. It goes to disk, not to memory. */
export const MAX_RECORD_FILE_BYTES = 300 * 1024 * 1024;
/** Where such files are taken. */
const RECORD_UPLOADS = '/api/records/uploads';
/** Bytes of uploads that are held in memory at the same time; more wait outside, with a word when to come back. */
const MOST_BYTES = MAX_UPLOAD_BYTES * 4;
/** What the smallest upload counts for: its parts, its buffers and the work on it. */
const LEAST_BYTES = 2 * 1024 * 1024;

/** Addresses that take files; a form sent anywhere else takes no room. */
const UPLOADS = [
  /^\/api\/lantern\/files$/,
  /^\/api\/(?:records|directory)\/uploads$/,
  /^\/api\/directory\/(?:machines|places)\/comparisons$/,
  /^\/api\/document-patterns(?:\/[^/]+)?$/,
  /^\/api\/stand-ins\/mail\/(?:messages|labels-of-files)$/,
  /^\/api\/stand-ins\/chat\/[^/]+\/rooms\/[^/]+\/things$/,
  /^\/api\/stand-ins\/desk\/[^/]+\/[^/]+\/targets\/[^/]+\/things$/,
  /^\/api\/stand-ins\/drive\/[^/]+\/files(?:\/[^/]+\/content)?$/,
  /^\/api\/stand-ins\/drive\/[^/]+\/places\/[^/]+\/files$/,
  /^\/api\/stand-ins\/documents\/[^/]+\/files$/,
  /^\/api\/stand-ins\/ledger\/[^/]+\/notes$/,
];

function isUpload({ method, originalUrl }: Request): boolean {
  const path = originalUrl.split('?')[0] ?? '';
  return (method === 'POST' || method === 'PUT') && UPLOADS.some((upload) => upload.test(path));
}

/** Bounds what uploads can hold in memory: each by its size, all by their number. */
export function uploadLimit(): (request: Request, response: Response, next: NextFunction) => void {
  let held = 0;
  return (request, response, next) => {
    if (!request.is('multipart/form-data')) return next();
    if (!isUpload(request))
      return refuse(response, new AppError('invalid-request', 'This address accepts no files.'));
    const ofRecords = request.originalUrl.split('?')[0] === RECORD_UPLOADS;
    const limit = Math.floor((ofRecords ? MAX_RECORD_FILE_BYTES : MAX_FILE_BYTES) / 1024 / 1024);
    const most = ofRecords ? MAX_RECORD_FILE_BYTES * 1.01 : MAX_UPLOAD_BYTES;
    // A request without a length counts as the largest. Node holds a request to the length it states.
    const told = Number(request.header('content-length') ?? most);
    if (told > most) {
      return refuse(
        response,
        new AppError('file-too-large', 'The files together are larger than one request takes.', {
          details: { limit },
        }),
      );
    }
    // Files of records go to disk, not to memory.
    const bytes = ofRecords ? LEAST_BYTES : Math.max(told, LEAST_BYTES);
    if (held + bytes > MOST_BYTES)
      return refuse(
        response,
        new AppError(
          'busy',
          'The server is reading other files. Nothing was kept. Try again in a few seconds.',
        ),
      );
    held += bytes;
    response.once('close', () => (held -= bytes));
    next();
  };
}

function refuse(response: Response, refusal: AppError): void {
  response.setHeader('connection', 'close');
  if (refusal.code === 'busy') response.setHeader('retry-after', '5');
  response.status(refusal.status).json(refusal.body());
}
