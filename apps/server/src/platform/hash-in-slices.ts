import type { Hash, Hmac } from 'node:crypto';
import { setImmediate as nextTurn } from 'node:timers/promises';

/** A megabyte is hashed in some three milliseconds. */
export const HASHED_AT_ONCE = 1024 * 1024;

/** Hashes bytes so that the event loop has its turn in between: a mail of 30 MB would hold it up for 0.1 s in one go. */
export async function hashInSlices(hash: Hash | Hmac, bytes: Uint8Array): Promise<void> {
  for (let at = 0; at < bytes.length; at += HASHED_AT_ONCE) {
    if (at > 0) await nextTurn();
    hash.update(bytes.subarray(at, at + HASHED_AT_ONCE));
  }
}
