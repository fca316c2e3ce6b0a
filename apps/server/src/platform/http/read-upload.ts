import { createDecipheriv } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { open } from 'node:fs/promises';
import type { Readable } from 'node:stream';

/** How uploads are sealed on disk; the nonce stands in front of the content. */
export const UPLOAD_CIPHER = 'aes-256-ctr';
export const NONCE_BYTES = 16;

/** An uploaded file, and what opens it: handed to the process that reads it. */
export interface SealedUpload {
  readonly path: string;
  readonly key: Uint8Array;
}

/** The content of an upload, from its beginning. */
export async function readUpload({ path, key }: SealedUpload): Promise<Readable> {
  const handle = await open(path, 'r');
  const nonce = Buffer.alloc(NONCE_BYTES);
  try {
    await handle.read(nonce, 0, NONCE_BYTES, 0);
  } finally {
    await handle.close();
  }
  const file = createReadStream(path, { start: NONCE_BYTES });
  const opened = createDecipheriv(UPLOAD_CIPHER, key, nonce);
  file.once('error', (error) => opened.destroy(error));
  opened.once('close', () => file.destroy());
  return file.pipe(opened);
}

/** At most `most` bytes of the beginning of an upload. */
export async function headOfUpload(upload: SealedUpload, most: number): Promise<Buffer> {
  const chunks: Buffer[] = [];
  let bytes = 0;
  for await (const chunk of (await readUpload(upload)) as AsyncIterable<Buffer>) {
    chunks.push(chunk);
    bytes += chunk.length;
    if (bytes >= most) break;
  }
  return Buffer.concat(chunks).subarray(0, most);
}
