import { Readable } from 'node:stream';
import { promisify } from 'node:util';
import { gunzip } from 'node:zlib';
import { buffer } from 'node:stream/consumers';
import type { Budget } from './budget.js';
import type { NamedBytes } from './part.js';

const expandGzip = promisify(gunzip);

export type Gunzipped =
  | { readonly status: 'expanded'; readonly bytes: Buffer }
  | { readonly status: 'unreadable'; readonly reason: 'corrupt' | 'expands-too-far' };

/** Expands gzip (RFC 1952), never beyond what the budget has left. */
export async function gunzipWithin(bytes: Uint8Array, budget: Budget): Promise<Gunzipped> {
  try {
    const expanded = await expandGzip(bytes, { maxOutputLength: Math.max(1, budget.left) });
    if (!budget.spend(expanded.length)) return { status: 'unreadable', reason: 'expands-too-far' };
    return { status: 'expanded', bytes: expanded };
  } catch (error) {
    const { code } = error as { readonly code?: string };
    return { status: 'unreadable', reason: code === 'ERR_BUFFER_TOO_LARGE' ? 'expands-too-far' : 'corrupt' };
  }
}

/** Whether bytes are a tape archive: the mark of POSIX.1-1988 in its first header. */
export function looksLikeTar(bytes: Uint8Array): boolean {
  return bytes.length >= 512 && Buffer.from(bytes.subarray(257, 262)).toString('latin1') === 'ustar';
}

/** Files of a tape archive; what stands behind a damaged place or beyond the budget is named in `stopped`. */
export async function listTar(
  bytes: Uint8Array,
  budget: Budget,
): Promise<{ files: NamedBytes[]; stopped: 'corrupt' | 'expands-too-far' | null }> {
  const files: NamedBytes[] = [];
  const { default: tar } = await import('tar-stream');
  const extract = tar.extract();
  Readable.from([Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength)]).pipe(extract);
  try {
    for await (const entry of extract) {
      const content = await buffer(entry);
      if (entry.header.type !== 'file' && entry.header.type !== 'contiguous-file') continue;
      if (!budget.spend(content.length)) return { files, stopped: 'expands-too-far' };
      files.push({ name: entry.header.name, bytes: content });
    }
    return { files, stopped: null };
  } catch {
    return { files, stopped: 'corrupt' };
  }
}
