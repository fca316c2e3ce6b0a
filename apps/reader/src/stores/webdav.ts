import { MAX_FILE_BYTES } from '@lantern/files/reading';
import type { FileStat, WebDAVClient, WebDAVClientError } from 'webdav';
import { type OpenStore, type StoreContent, StoreFault, type StoreItem, type StoreOpening } from './store.js';

/** A share over WebDAV (RFC 4918), folder by folder: a whole tree in one answer is refused by many servers. */
export class WebdavStore implements OpenStore {
  private constructor(private readonly client: WebDAVClient) {}

  static async open({ address, secret }: StoreOpening): Promise<WebdavStore> {
    if (!/^https?:\/\//iu.test(address.at)) throw new StoreFault('wrong-address');
    const { createClient } = await import('webdav');
    const client = createClient(address.at, {
      ...(address.user ? { username: address.user, password: secret ?? '' } : {}),
    });
    const store = new WebdavStore(client);
    await store.folder('/').catch((error: unknown) => {
      throw new StoreFault(problemOf(error));
    });
    return store;
  }

  async *list(skips: (folder: string) => boolean): AsyncIterable<StoreItem> {
    const folders = ['/'];
    const seen = new Set(folders);
    for (let at = folders.pop(); at !== undefined; at = folders.pop()) {
      for (const entry of await this.folder(at)) {
        const path = entry.filename.replace(/^\/+/u, '');
        if (entry.type === 'directory') {
          // A server whose folders lead back to themselves is gone through once.
          if (path !== '' && !seen.has(entry.filename) && !skips(path)) {
            seen.add(entry.filename);
            folders.push(entry.filename);
          }
        } else yield itemOf(path, entry);
      }
    }
  }

  async content(path: string): Promise<StoreContent> {
    try {
      const entry = (await this.client.stat(`/${path}`)) as FileStat;
      if (entry.size > MAX_FILE_BYTES) return { kind: 'unreadable', reason: 'too-large' };
      const bytes = new Uint8Array(
        (await this.client.getFileContents(`/${path}`, { format: 'binary' })) as ArrayBuffer,
      );
      return { kind: 'bytes', name: path, bytes };
    } catch (error) {
      const status = (error as WebDAVClientError).status;
      if (status === 404) return { kind: 'gone' };
      return { kind: 'unreadable', reason: status === 403 ? 'not-allowed' : 'not-reachable' };
    }
  }

  close(): Promise<void> {
    return Promise.resolve();
  }

  private async folder(path: string): Promise<readonly FileStat[]> {
    return (await this.client.getDirectoryContents(path)) as FileStat[];
  }
}

function itemOf(path: string, { size, lastmod, etag }: FileStat): StoreItem {
  const changed = Date.parse(lastmod);
  const changedAt = Number.isNaN(changed) ? null : new Date(changed).toISOString();
  return {
    path,
    bytes: size,
    changedAt,
    marker: (etag ? sameThing(etag) : `${lastmod}-${size}`).slice(0, 200),
  };
}

function problemOf(error: unknown): StoreFault['problem'] {
  switch ((error as WebDAVClientError).status) {
    case 401:
      return 'wrong-secret';
    case 403:
      return 'not-allowed';
    case 404:
      return 'no-such-place';
    case undefined:
      return 'not-reachable';
    default:
      return 'wrong-answer';
  }
}

/**
 * A tag without the mark of a weak one (RFC 9110, 8.8.3): a server gives what has just been written a weak tag, and a second
 * later the same as a strong one.
 */
const sameThing = (etag: string): string => etag.replace(/^W\//, '');
