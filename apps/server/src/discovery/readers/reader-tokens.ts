import { createHash } from 'node:crypto';
import { CompactEncrypt, decodeJwt, errors, importJWK, jwtVerify } from 'jose';
import { AppError } from '../../platform/errors/app-error.js';

/** Whom the tokens of readers are for. */
const AUDIENCE = 'uncut-lantern';
/** A token is made for one request and used at once; clocks may differ by as much again. */
const TOKEN_SECONDS = 60;
const CLOCKS_DIFFER_SECONDS = 60;

/** Who says that a token is theirs: not yet believed. Null for what is no token. */
export function claimedReader(authorization: string | undefined): { token: string; id: string } | null {
  const token = /^Bearer\s+([\w.-]{20,2000})$/iu.exec(authorization ?? '')?.[1];
  if (!token) return null;
  try {
    const { iss } = decodeJwt(token);
    return typeof iss === 'string' && /^[\da-f-]{36}$/u.test(iss) ? { token, id: iss } : null;
  } catch {
    return null;
  }
}

/**
 * Holds a token (RFC 7519, signed with Ed25519, RFC 8037) to the key of its reader and to the request it came with:
 * `htm` and `htu` name method and path as in RFC 9449. Throws `unknown-reader`.
 */
export async function demandToken(
  token: string,
  signingKey: string,
  request: { readonly method: string; readonly path: string },
): Promise<void> {
  try {
    const key = await importJWK({ kty: 'OKP', crv: 'Ed25519', x: signingKey }, 'EdDSA');
    const { payload } = await jwtVerify(token, key, {
      algorithms: ['EdDSA'],
      audience: AUDIENCE,
      maxTokenAge: TOKEN_SECONDS,
      clockTolerance: CLOCKS_DIFFER_SECONDS,
      requiredClaims: ['iat', 'exp', 'iss'],
    });
    if (payload['htm'] !== request.method || payload['htu'] !== request.path) throw unknown();
  } catch (error) {
    if (error instanceof errors.JWTExpired || error instanceof errors.JWTClaimValidationFailed)
      throw new AppError(
        'unknown-reader',
        'The token of this reader is over, or of the future. Set the clock of its machine.',
      );
    throw error instanceof AppError ? error : unknown();
  }
}

export function unknown(): AppError {
  return new AppError(
    'unknown-reader',
    'No reader has this key, or it was withdrawn. Enrol it again with a new code.',
  );
}

/** Writes a secret so that one reader alone can read it (JWE, RFC 7516; ECDH-ES on X25519, RFC 8037). */
export async function sealedFor(sealingKey: string, secret: string): Promise<string> {
  const key = await importJWK({ kty: 'OKP', crv: 'X25519', x: sealingKey }, 'ECDH-ES+A256KW');
  return new CompactEncrypt(Buffer.from(JSON.stringify({ secret })))
    .setProtectedHeader({ alg: 'ECDH-ES+A256KW', enc: 'A256GCM' })
    .encrypt(key);
}

/** Signs nobody uses by mistake: no O, I, 0 or 1. Twelve of them are 60 bits. */
const SIGNS = 'ABCDEFGHJKLMNPQRSTUVWXYZ23456789';

export function codeOf(bytes: Uint8Array): string {
  const signs = [...bytes].map((byte) => SIGNS[byte % SIGNS.length] ?? 'A').join('');
  return (signs.match(/.{4}/gu) ?? []).join('-');
}

/** Codes are compared without regard to capitals, spaces and dashes. */
export function digestOfCode(code: string): string {
  return createHash('sha256')
    .update(code.toUpperCase().replaceAll(/[^A-Z0-9]/gu, ''))
    .digest('hex');
}
