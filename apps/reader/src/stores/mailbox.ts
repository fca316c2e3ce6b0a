import { MAX_FILE_BYTES } from '@lantern/files/reading';
import { ImapFlow } from 'imapflow';
import { type OpenStore, type StoreContent, StoreFault, type StoreItem, type StoreOpening } from './store.js';

/** Mails whose facts are asked for at once. */
const MAILS_A_PAGE = 500;
const PORTS = { plain: 143, secure: 993 } as const;

/** A mailbox over IMAP (RFC 9051), read without marking anything as seen. Each mail is an item `folder/UID.eml`. */
export class MailboxStore implements OpenStore {
  private constructor(
    private readonly client: ImapFlow,
    private readonly only: string | null,
  ) {}

  /** `at` is `host`, `host:port`, `imap://host:port` or `imaps://host`; a secure connection is the rule. */
  static async open({ address, secret }: StoreOpening): Promise<MailboxStore> {
    const found = /^(?:(imaps?):\/\/)?([\w.-]+|\[[\da-f:]+\])(?::(\d{1,5}))?\/?$/iu.exec(address.at.trim());
    if (!found) throw new StoreFault('wrong-address');
    if (!address.user || secret === null) throw new StoreFault('no-secret');
    const secure = found[1]?.toLowerCase() !== 'imap';
    const client = new ImapFlow({
      ...{ host: found[2] ?? '', port: Number(found[3] ?? (secure ? PORTS.secure : PORTS.plain)), secure },
      ...{ auth: { user: address.user, pass: secret }, logger: false, emitLogs: false },
    });
    client.on('error', () => undefined);
    try {
      await client.connect();
    } catch (error) {
      client.close();
      const refused = (error as { authenticationFailed?: boolean }).authenticationFailed;
      throw new StoreFault(refused ? 'wrong-secret' : 'not-reachable');
    }
    return new MailboxStore(client, address.part || null);
  }

  async *list(skips: (folder: string) => boolean): AsyncIterable<StoreItem> {
    const folders = (await this.client.list()).filter(({ flags, path }) => {
      if (flags.has('\\Noselect') || flags.has('\\NonExistent')) return false;
      return this.only === null || path === this.only;
    });
    if (this.only !== null && folders.length === 0) throw new StoreFault('no-such-place');
    for (const { path: folder } of folders) {
      const name = nameOf(folder);
      if (skips(name)) continue;
      const lock = await this.client.getMailboxLock(folder, { readOnly: true });
      try {
        const { mailbox } = this.client;
        const [uids, validity] = mailbox
          ? [await this.client.search({ all: true }, { uid: true }), mailbox.uidValidity]
          : [[], 0n];
        for (const some of pages(uids || []))
          for await (const mail of this.client.fetch(
            some.join(','),
            { uid: true, size: true, internalDate: true },
            { uid: true },
          )) {
            const at = mail.internalDate ? new Date(mail.internalDate) : null;
            yield {
              ...{
                path: `${name}/${mail.uid}.eml`,
                bytes: mail.size ?? 0,
                changedAt: at?.toISOString() ?? null,
              },
              // A mail never changes under one UID of one validity (RFC 9051, 2.3.1.1).
              marker: `${validity}-${mail.uid}`,
            };
          }
      } finally {
        lock.release();
      }
    }
  }

  async content(path: string): Promise<StoreContent> {
    const found = /^(.*)\/(\d+)\.eml$/u.exec(path);
    if (!found) return { kind: 'gone' };
    const [, name = '', uid = ''] = found;
    const folder = (await this.client.list()).find((each) => nameOf(each.path) === name)?.path;
    if (folder === undefined) return { kind: 'gone' };
    const lock = await this.client.getMailboxLock(folder, { readOnly: true });
    try {
      const mail = await this.client.fetchOne(
        uid,
        { source: { maxLength: MAX_FILE_BYTES + 1 } },
        { uid: true },
      );
      if (!mail || !mail.source) return { kind: 'gone' };
      if (mail.source.length > MAX_FILE_BYTES) return { kind: 'unreadable', reason: 'too-large' };
      return { kind: 'bytes', name: 'mail.eml', bytes: mail.source };
    } finally {
      lock.release();
    }
  }

  async close(): Promise<void> {
    await this.client.logout().catch(() => this.client.close());
  }
}

/** Folders are divided by whatever sign their server uses; here by a stroke. */
const nameOf = (folder: string): string => folder.replaceAll('.', '/');

function* pages(uids: readonly number[]): Generator<number[]> {
  for (let at = 0; at < uids.length; at += MAILS_A_PAGE) yield uids.slice(at, at + MAILS_A_PAGE);
}
