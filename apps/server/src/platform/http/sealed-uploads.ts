import { createCipheriv, randomBytes } from 'node:crypto';
import { createWriteStream, mkdirSync, mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { StorageEngine } from 'multer';
import { NONCE_BYTES, type SealedUpload, UPLOAD_CIPHER } from './read-upload.js';

/**
 * Uploads that are too large for memory wait on disk, sealed by a key that this process alone has and that goes with it.
 * They are secret and not guarded against change: nobody but the service can write there.
 */
const KEY = randomBytes(32);

/** Nobody else on the machine may look into it, and what an earlier run left in it is swept. */
const FOLDER = preparedFolder(process.env['LANTERN_UPLOADS']);

function preparedFolder(given: string | undefined): string {
  if (!given) {
    const folder = mkdtempSync(join(tmpdir(), 'lantern-uploads-'));
    process.once('exit', () => rmSync(folder, { recursive: true, force: true }));
    return folder;
  }
  mkdirSync(given, { recursive: true, mode: 0o700 });
  for (const left of readdirSync(given)) rmSync(join(given, left), { recursive: true, force: true });
  return given;
}

/** An upload with what opens it. */
export function sealedUpload(path: string): SealedUpload {
  return { path, key: KEY };
}

/** Where forms put large files. */
export const sealedStorage: StorageEngine = {
  _handleFile(_request, file, done) {
    const path = join(FOLDER, randomBytes(16).toString('hex'));
    const nonce = randomBytes(NONCE_BYTES);
    let size = 0;
    const counted = new Transform({
      transform(chunk: Buffer, _encoding, next) {
        size += chunk.length;
        next(null, chunk);
      },
    });
    const out = createWriteStream(path, { mode: 0o600, flags: 'wx' });
    out.write(nonce);
    pipeline(file.stream, counted, createCipheriv(UPLOAD_CIPHER, KEY, nonce), out).then(
      () => done(null, { path, size }),
      (error: unknown) => void rm(path, { force: true }).finally(() => done(error)),
    );
  },
  _removeFile(_request, file, done) {
    rm(file.path, { force: true }).then(() => done(null), done);
  },
};
