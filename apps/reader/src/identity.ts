import { generateKeyPairSync, randomUUID } from 'node:crypto';
import { chmodSync, existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { ReaderKeys } from '@lantern/contracts/discovery';
import { compactDecrypt, importJWK, type JWK, SignJWT } from 'jose';

/** A private key as a JSON Web Key (RFC 7517, 8037). */
interface KeyPair {
  readonly kty: 'OKP';
  readonly crv: string;
  readonly x: string;
  readonly d: string;
}

export interface OwnKeys {
  readonly signing: KeyPair;
  readonly sealing: KeyPair;
}

/** Who a reader is: kept in a file that its account alone can read. */
export interface Identity {
  readonly id: string;
  readonly name: string;
  readonly address: string;
  /** Other addresses that lead to the same workbench, such as relays. */
  readonly otherAddresses?: readonly string[];
  /** Folders that may be opened, whoever asks. */
  readonly allowed: readonly string[];
  readonly keys: OwnKeys;
  readonly keyEndsAt: string;
  /** Keys that were sent and perhaps taken: the answer can be lost on its way. */
  readonly nextKeys?: OwnKeys;
}

const FILE = 'reader.json';
const AUDIENCE = 'uncut-lantern';
const TOKEN_SECONDS = 60;

/** Makes keys that never leave this machine. */
export function makeKeys(): OwnKeys {
  const jwk = (made: { privateKey: { export(options: { format: 'jwk' }): unknown } }): KeyPair =>
    made.privateKey.export({ format: 'jwk' }) as KeyPair;
  return { signing: jwk(generateKeyPairSync('ed25519')), sealing: jwk(generateKeyPairSync('x25519')) };
}

export const publicKeys = ({ signing, sealing }: OwnKeys): ReaderKeys => ({
  signing: signing.x,
  sealing: sealing.x,
});

export function identityIn(folder: string): Identity | null {
  const file = join(folder, FILE);
  return existsSync(file) ? (JSON.parse(readFileSync(file, 'utf8')) as Identity) : null;
}

/** Written beside and moved into place, so that a stop in between leaves the old one whole. */
export function keepIdentity(folder: string, identity: Identity): void {
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  chmodSync(folder, 0o700);
  const beside = join(folder, `.${FILE}.${randomUUID()}`);
  writeFileSync(beside, `${JSON.stringify(identity, null, 2)}\n`, { mode: 0o600 });
  renameSync(beside, join(folder, FILE));
}

/** The same reader with the keys that it sent last. */
export function withNextKeys({ nextKeys, ...identity }: Identity): Identity {
  return nextKeys ? { ...identity, keys: nextKeys } : identity;
}

/** A token for one request: it names method and path (as RFC 9449 does) and lives a minute. */
export async function tokenFor(
  { id, keys }: Pick<Identity, 'id' | 'keys'>,
  request: { readonly method: string; readonly path: string },
): Promise<string> {
  const key = await importJWK(keys.signing as JWK, 'EdDSA');
  return new SignJWT({ htm: request.method, htu: request.path })
    .setProtectedHeader({ alg: 'EdDSA' })
    .setIssuer(id)
    .setAudience(AUDIENCE)
    .setJti(randomUUID())
    .setIssuedAt()
    .setExpirationTime(`${TOKEN_SECONDS}s`)
    .sign(key);
}

/** A secret that was sealed for this reader (RFC 7516); throws where it was sealed for another one. */
export async function openSecret(keys: OwnKeys, sealed: string): Promise<string> {
  const key = await importJWK(keys.sealing as JWK, 'ECDH-ES+A256KW');
  const { plaintext } = await compactDecrypt(sealed, key, {
    keyManagementAlgorithms: ['ECDH-ES+A256KW'],
    contentEncryptionAlgorithms: ['A256GCM'],
  });
  return (JSON.parse(new TextDecoder().decode(plaintext)) as { readonly secret: string }).secret;
}
