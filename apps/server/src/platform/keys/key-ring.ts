import { createCipheriv, createDecipheriv, createHmac, randomBytes } from 'node:crypto';

/** Bytes of every key: AES-256. */
const KEY_BYTES = 32;
const NONCE_BYTES = 12;
const TAG_BYTES = 16;
/** The data key of everything that belongs to no movement, and of digests by which things are found again. */
export const INSTALLATION = 'installation';

/** A data key as the database keeps it. */
export interface WrappedKey {
  /** What it seals: the id of a movement, or {@link INSTALLATION}. */
  readonly scope: string;
  /** Nonce, tag and the key, encrypted with a master key. */
  readonly wrapped: Buffer;
  /** Fingerprint of that master key. */
  readonly master: string;
}

/** Tells master keys apart without telling anything of them. */
export function fingerprint(master: Buffer): string {
  return createHmac('sha256', master).update('uncut-lantern master key').digest('hex').slice(0, 16);
}

/**
 * The master keys of an installation, the newest first, and the data key of the installation once it was read. Data keys
 * are wrapped with AES-256-GCM (NIST SP 800-38D), each bound to what it seals.
 */
export class KeyRing {
  private masters: readonly { readonly key: Buffer; readonly id: string }[];
  private opened: Buffer | null = null;

  constructor(masters: readonly Buffer[]) {
    this.masters = masters.map((key) => ({ key, id: fingerprint(key) }));
  }

  /** Fingerprint of the master key that new data keys are wrapped with. */
  get newest(): string {
    return this.first.id;
  }

  /** Throws before {@link useInstallation}. */
  get installation(): Buffer {
    if (!this.opened) throw new Error('The keys were not read yet');
    return this.opened;
  }

  useInstallation(wrapped: WrappedKey): void {
    this.opened = this.unwrap(wrapped);
  }

  /** The key of an installation from before there were data keys: its values were sealed with this one itself. */
  oldest(): Buffer {
    return this.masters.at(-1)?.key ?? this.first.key;
  }

  /** A data key that nothing was sealed with yet. */
  fresh(scope: string): { readonly key: Buffer; readonly wrapped: WrappedKey } {
    const key = randomBytes(KEY_BYTES);
    return { key, wrapped: this.wrap(scope, key) };
  }

  wrap(scope: string, key: Buffer): WrappedKey {
    const { key: master, id } = this.first;
    const nonce = randomBytes(NONCE_BYTES);
    const cipher = createCipheriv('aes-256-gcm', master, nonce);
    cipher.setAAD(boundTo(scope));
    const body = Buffer.concat([cipher.update(key), cipher.final()]);
    return { scope, wrapped: Buffer.concat([nonce, cipher.getAuthTag(), body]), master: id };
  }

  /** Throws where its master key is not here, or where it was wrapped for something else. */
  unwrap({ scope, wrapped, master }: WrappedKey): Buffer {
    const known = this.masters.find(({ id }) => id === master);
    if (!known)
      throw new Error(
        'The master key does not belong to this database. Put back the secrets.json that does.',
      );
    const decipher = createDecipheriv('aes-256-gcm', known.key, wrapped.subarray(0, NONCE_BYTES));
    decipher.setAAD(boundTo(scope));
    decipher.setAuthTag(wrapped.subarray(NONCE_BYTES, NONCE_BYTES + TAG_BYTES));
    return Buffer.concat([decipher.update(wrapped.subarray(NONCE_BYTES + TAG_BYTES)), decipher.final()]);
  }

  /** The same data key, wrapped with the newest master key. */
  rewrap(old: WrappedKey): WrappedKey {
    return this.wrap(old.scope, this.unwrap(old));
  }

  /** All master keys that are still needed, the newest first. */
  all(): readonly Buffer[] {
    return this.masters.map(({ key }) => key);
  }

  /** From now on other master keys are the ones that are needed. */
  use(masters: readonly Buffer[]): void {
    this.masters = masters.map((key) => ({ key, id: fingerprint(key) }));
  }

  private get first(): { readonly key: Buffer; readonly id: string } {
    const [first] = this.masters;
    if (!first) throw new Error('There is no master key');
    return first;
  }
}

const boundTo = (scope: string): Buffer => Buffer.from(`data key of ${scope}`);
