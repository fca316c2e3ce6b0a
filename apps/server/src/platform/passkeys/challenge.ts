import { createHmac, randomBytes, timingSafeEqual } from 'node:crypto';

/** So long somebody may take to touch their device. */
export const CHALLENGE_MS = 5 * 60_000;

const NONCE = 16;
const TIME = 8;
const SEAL = 32;

/**
 * A challenge that is known again without being kept: a random part, when it ends, and a seal over both and what it is
 * for. Whoever asks for a million of them fills no table.
 */
export function newChallenge(key: Buffer, purpose: string, now: number): Uint8Array<ArrayBuffer> {
  const open = Buffer.alloc(NONCE + TIME);
  randomBytes(NONCE).copy(open);
  open.writeBigUInt64BE(BigInt(now + CHALLENGE_MS), NONCE);
  return Uint8Array.from(Buffer.concat([open, sealOf(key, purpose, open)]));
}

/** When a challenge of ours ends; null for one that is not ours, is for something else, or is over. */
export function challengeEnd(key: Buffer, purpose: string, challenge: string, now: number): Date | null {
  const bytes = Buffer.from(challenge, 'base64url');
  if (bytes.length !== NONCE + TIME + SEAL) return null;
  const open = bytes.subarray(0, NONCE + TIME);
  if (!timingSafeEqual(sealOf(key, purpose, open), bytes.subarray(NONCE + TIME))) return null;
  const end = Number(open.readBigUInt64BE(NONCE));
  return end > now ? new Date(end) : null;
}

const sealOf = (key: Buffer, purpose: string, open: Buffer): Buffer =>
  createHmac('sha256', key).update(`passkey ${purpose} `).update(open).digest();
