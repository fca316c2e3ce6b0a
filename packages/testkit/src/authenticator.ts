import { createHash, createSign, generateKeyPairSync, type KeyObject, randomBytes } from 'node:crypto';

/** What a device may get wrong, for tests of what a server must refuse. */
export interface Flaws {
  /** Origin that the browser states. */
  readonly origin?: string;
  /** Name that the device signs for. */
  readonly party?: string;
  /** Nobody showed the device who they are. */
  readonly unverified?: boolean;
  readonly count?: number;
  readonly userHandle?: string;
}

const sha256 = (data: Uint8Array | string): Buffer => createHash('sha256').update(data).digest();
const text = (data: Uint8Array): string => Buffer.from(data).toString('base64url');

/** Flags of authenticator data: somebody was there, was verified, and a credential follows (WebAuthn Level 3, 6.1). */
const PRESENT = 0x01;
const VERIFIED = 0x04;
const ATTESTED = 0x40;

/**
 * A device that makes and uses one passkey with ES256, as WebAuthn Level 3, 6.1, 6.3 and 6.5, and RFC 9053, 2.1 and 7.1
 * lay it out. It proves nothing about its maker (attestation "none").
 */
export class Authenticator {
  readonly credentialId = randomBytes(32);
  private readonly keys: { readonly publicKey: KeyObject; readonly privateKey: KeyObject };
  private count = 0;

  constructor(
    private readonly origin: string,
    private readonly party: string,
  ) {
    this.keys = generateKeyPairSync('ec', { namedCurve: 'P-256' });
  }

  /** The answer to options for a new passkey, in the JSON form of WebAuthn Level 3, 5.1.7. */
  register({ challenge }: { readonly challenge: string }, flaws: Flaws = {}) {
    const client = this.client('webauthn.create', challenge, flaws);
    const length = Buffer.from([0, this.credentialId.length]);
    const attested = Buffer.concat([Buffer.alloc(16), length, this.credentialId, this.coseKey()]);
    const data = Buffer.concat([this.head(ATTESTED, flaws), attested]);
    const attestationObject = map([
      [string('fmt'), string('none')],
      [string('attStmt'), map([])],
      [string('authData'), bytes(data)],
    ]);
    return this.answer({
      clientDataJSON: text(client),
      attestationObject: text(attestationObject),
      transports: ['internal'],
    });
  }

  /** The answer to options for signing in. */
  signIn({ challenge }: { readonly challenge: string }, flaws: Flaws = {}) {
    const client = this.client('webauthn.get', challenge, flaws);
    this.count = flaws.count ?? this.count + 1;
    const data = this.head(0, flaws);
    const signature = createSign('sha256')
      .update(Buffer.concat([data, sha256(client)]))
      .sign(this.keys.privateKey);
    return this.answer({
      clientDataJSON: text(client),
      authenticatorData: text(data),
      signature: text(signature),
      ...(flaws.userHandle === undefined ? {} : { userHandle: flaws.userHandle }),
    });
  }

  private answer<Response>(response: Response) {
    const id = text(this.credentialId);
    return { id, rawId: id, type: 'public-key' as const, response, clientExtensionResults: {} };
  }

  private client(type: string, challenge: string, { origin = this.origin }: Flaws): Buffer {
    return Buffer.from(JSON.stringify({ type, challenge, origin, crossOrigin: false }));
  }

  private head(flags: number, { party = this.party, unverified = false }: Flaws): Buffer {
    const count = Buffer.alloc(4);
    count.writeUInt32BE(this.count);
    return Buffer.concat([
      sha256(party),
      Buffer.from([flags | PRESENT | (unverified ? 0 : VERIFIED)]),
      count,
    ]);
  }

  /** Key type 2 (EC2), algorithm -7 (ES256), curve 1 (P-256), and the point. */
  private coseKey(): Buffer {
    const { x = '', y = '' } = this.keys.publicKey.export({ format: 'jwk' });
    return map([
      [number(1), number(2)],
      [number(3), number(-7)],
      [number(-1), number(1)],
      [number(-2), bytes(Buffer.from(x, 'base64url'))],
      [number(-3), bytes(Buffer.from(y, 'base64url'))],
    ]);
  }
}

/** Heads of CBOR items (RFC 8949, 3): the kind in three bits, and how many. */
function head(kind: number, count: number): Buffer {
  if (count < 24) return Buffer.from([(kind << 5) | count]);
  return count < 256
    ? Buffer.from([(kind << 5) | 24, count])
    : Buffer.from([(kind << 5) | 25, count >> 8, count & 255]);
}
const number = (value: number): Buffer => (value < 0 ? head(1, -1 - value) : head(0, value));
const bytes = (data: Buffer): Buffer => Buffer.concat([head(2, data.length), data]);
const string = (value: string): Buffer => Buffer.concat([head(3, value.length), Buffer.from(value)]);
const map = (entries: readonly (readonly [Buffer, Buffer])[]): Buffer =>
  Buffer.concat([head(5, entries.length), ...entries.flat()]);
