import { createCipheriv, createDecipheriv, randomBytes } from 'node:crypto';
import { promisify } from 'node:util';
import { gunzip, gunzipSync, gzip } from 'node:zlib';

/**
 * Layout of a sealed value: one byte version, 12 bytes nonce, 16 bytes tag, then the ciphertext of the bytes, gzipped in
 * version 1 and as they are in version 2.
 */
const GZIPPED = 1;
const AS_THEY_ARE = 2;
/** Fewer bytes than this are not compressed: a title gains nothing, and takes as long as a page. */
const WORTH_COMPRESSING = 256;
const NONCE_BYTES = 12;
const TAG_BYTES = 16;

/**
 * Compresses and encrypts with AES-256-GCM (NIST SP 800-38D, random 96-bit nonce). `place` names the row the value
 * belongs to and is authenticated with it, so that sealed values cannot be exchanged between rows.
 */
export async function seal(key: Buffer, place: string, content: Uint8Array): Promise<Buffer> {
  const version = content.length < WORTH_COMPRESSING ? AS_THEY_ARE : GZIPPED;
  const compressed = version === GZIPPED ? await compress(content) : content;
  const nonce = randomBytes(NONCE_BYTES);
  const cipher = createCipheriv('aes-256-gcm', key, nonce);
  cipher.setAAD(boundTo(place, version));
  const body = Buffer.concat([cipher.update(compressed), cipher.final()]);
  return Buffer.concat([Buffer.from([version]), nonce, cipher.getAuthTag(), body]);
}

/** Opens what {@link seal} made; rejects when key, place or content do not belong together. */
export async function unseal(key: Buffer, place: string, sealed: Buffer): Promise<Buffer> {
  const opened = decrypted(key, place, sealed);
  return sealed[0] === GZIPPED ? expand(opened) : opened;
}

/** The same at once, for processes and threads that hold nobody else up. */
export function unsealHere(key: Buffer, place: string, sealed: Buffer): Buffer {
  const opened = decrypted(key, place, sealed);
  return sealed[0] === GZIPPED ? gunzipSync(opened) : opened;
}

/** Opens a value that was sealed as JSON. */
export async function unsealJson(key: Buffer, place: string, sealed: Buffer): Promise<unknown> {
  return JSON.parse((await unseal(key, place, sealed)).toString('utf8'));
}

function decrypted(key: Buffer, place: string, sealed: Buffer): Buffer {
  if (sealed[0] !== GZIPPED && sealed[0] !== AS_THEY_ARE)
    throw new Error('Sealed value of an unknown version');
  const nonce = sealed.subarray(1, 1 + NONCE_BYTES);
  const tag = sealed.subarray(1 + NONCE_BYTES, 1 + NONCE_BYTES + TAG_BYTES);
  const decipher = createDecipheriv('aes-256-gcm', key, nonce);
  decipher.setAAD(boundTo(place, sealed[0]));
  decipher.setAuthTag(tag);
  return Buffer.concat([decipher.update(sealed.subarray(1 + NONCE_BYTES + TAG_BYTES)), decipher.final()]);
}

/** What is authenticated beside the content: its place, and how it is written where that is not gzipped. */
function boundTo(place: string, version: number): Buffer {
  return Buffer.from(version === AS_THEY_ARE ? `${place}\nas they are` : place);
}

// In the thread pool of Node: compressing 25 MB takes half a second, for which the main thread must not be held.
const compress = promisify(gzip) as (content: Uint8Array) => Promise<Buffer>;
const expand = promisify(gunzip) as (content: Uint8Array) => Promise<Buffer>;

/** Seals a value as JSON. */
export function sealJson(key: Buffer, place: string, value: unknown): Promise<Buffer> {
  return seal(key, place, Buffer.from(JSON.stringify(value)));
}
