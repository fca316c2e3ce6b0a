import { createHash, randomBytes } from 'node:crypto';
import { generateSecret, generateURI, verify } from 'otplib';

/** A clock may be off by one step of thirty seconds either way (RFC 6238, 5.2 and 6). */
const TOLERANCE_SECONDS = 30;
const RECOVERY_CODES = 10;
const CODE = /^\d{6}$/;

export function newFactor(email: string): { readonly secret: string; readonly uri: string } {
  const secret = generateSecret();
  return { secret, uri: generateURI({ issuer: 'Uncut Lantern', label: email, secret }) };
}

/** Time step of a right code that was not used before; null for any other. */
export async function stepOf(secret: string, code: string, after: number | null): Promise<number | null> {
  if (!CODE.test(code)) return null;
  const result = await verify({
    secret,
    token: code,
    epochTolerance: TOLERANCE_SECONDS,
    ...(after === null ? {} : { afterTimeStep: after }),
  });
  return result.valid && 'timeStep' in result ? result.timeStep : null;
}

/** 32 signs, without those that look like others as far as there are enough. */
const ALPHABET = 'abcdefghijkmnpqrstuvwxyz23456789';

/** Codes of 50 random bits in groups that can be read out. */
export function newRecoveryCodes(): string[] {
  return Array.from({ length: RECOVERY_CODES }, () => {
    const letters = [...randomBytes(10)].map((byte) => ALPHABET[byte % ALPHABET.length]).join('');
    return `${letters.slice(0, 5)}-${letters.slice(5)}`;
  });
}

export const recoveryHash = (code: string): string =>
  createHash('sha256')
    .update(code.toLowerCase().replace(/[^a-z0-9]/g, ''))
    .digest('hex');
