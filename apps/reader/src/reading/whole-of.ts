import { open } from 'node:fs/promises';
import { type FetchedReport, MAX_FETCH_BYTES } from '@lantern/contracts/discovery';
import type { StoreContent } from '../stores/store.js';

/** An item as it is handed in whole, or why it cannot be. */
export async function wholeOf(content: StoreContent): Promise<FetchedReport> {
  switch (content.kind) {
    case 'gone':
      return problem('gone');
    case 'unreadable':
      return problem(content.reason);
    case 'bytes':
      return content.bytes.length > MAX_FETCH_BYTES ? problem('too-large') : whole(content.bytes);
    case 'path':
      return content.large === undefined ? fileAt(content.path) : problem('too-large');
  }
}

/** A file may grow while it is read: then it is no whole. */
async function fileAt(path: string): Promise<FetchedReport> {
  const file = await open(path, 'r').catch((error: NodeJS.ErrnoException) => error.code ?? 'failed');
  if (typeof file === 'string') return problem(file === 'ENOENT' ? 'gone' : 'not-allowed');
  try {
    const { size } = await file.stat();
    if (size > MAX_FETCH_BYTES) return problem('too-large');
    const buffer = Buffer.alloc(size + 1);
    let length = 0;
    for (;;) {
      const { bytesRead } = await file.read(buffer, length, buffer.length - length, length);
      if (bytesRead === 0) break;
      length += bytesRead;
    }
    return length > size ? problem('changing') : whole(buffer.subarray(0, length));
  } finally {
    await file.close();
  }
}

const whole = (bytes: Uint8Array): FetchedReport => ({
  base64: Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength).toString('base64'),
  problem: null,
});

const problem = (code: string): FetchedReport => ({
  base64: null,
  problem: /^[a-z-]{1,60}$/u.test(code) ? code : 'failed',
});
