import { MAX_FILE_BYTES } from '@lantern/files/reading';
import { AwsClient } from 'aws4fetch';
import { SaxesParser } from 'saxes';
import { type OpenStore, type StoreContent, StoreFault, type StoreItem, type StoreOpening } from './store.js';

/** Keys of one page, as every such store allows. */
const KEYS_A_PAGE = 1_000;
/** A store that names no region takes this one in signatures. */
const REGION = 'us-east-1';

/** A bucket of an object store whose interface is that of S3: listed in pages, requests signed (version 4). */
export class ObjectStore implements OpenStore {
  private constructor(
    private readonly client: AwsClient,
    private readonly base: string,
  ) {}

  static async open({ address, secret }: StoreOpening): Promise<ObjectStore> {
    if (!/^https?:\/\//iu.test(address.at) || !address.part) throw new StoreFault('wrong-address');
    if (!address.user || !secret) throw new StoreFault('no-secret');
    const client = new AwsClient({
      ...{ accessKeyId: address.user, secretAccessKey: secret, service: 's3', region: REGION, retries: 2 },
    });
    const store = new ObjectStore(
      client,
      `${address.at.replace(/\/+$/u, '')}/${encodeURIComponent(address.part)}`,
    );
    await store.page(null, 1);
    return store;
  }

  async *list(skips: (folder: string) => boolean): AsyncIterable<StoreItem> {
    let next: string | null = null;
    do {
      const page: Page = await this.page(next, KEYS_A_PAGE);
      for (const { key, size, changed, tag } of page.objects) {
        // A key that ends in a stroke stands for a folder of some programs.
        if (key.endsWith('/') || foldersOf(key).some(skips)) continue;
        const at = Date.parse(changed);
        const changedAt = Number.isNaN(at) ? null : new Date(at).toISOString();
        yield { path: key, bytes: size, changedAt, marker: (tag || `${changed}-${size}`).slice(0, 200) };
      }
      // A store that gives the same mark twice would never end.
      next = page.next === next ? null : page.next;
    } while (next !== null);
  }

  async content(path: string): Promise<StoreContent> {
    const response = await this.fetch(`${this.base}/${path.split('/').map(encodeURIComponent).join('/')}`);
    if (response.status === 404) return { kind: 'gone' };
    if (!response.ok) return { kind: 'unreadable', reason: 'not-allowed' };
    const length = Number(response.headers.get('content-length') ?? 0);
    if (length > MAX_FILE_BYTES) {
      await response.body?.cancel();
      return { kind: 'unreadable', reason: 'too-large' };
    }
    const bytes = await bodyWithin(response, MAX_FILE_BYTES);
    return bytes ? { kind: 'bytes', name: path, bytes } : { kind: 'unreadable', reason: 'too-large' };
  }

  close(): Promise<void> {
    return Promise.resolve();
  }

  private async page(next: string | null, most: number): Promise<Page> {
    const query = new URLSearchParams({ 'list-type': '2', 'max-keys': String(most) });
    if (next !== null) query.set('continuation-token', next);
    const response = await this.fetch(`${this.base}?${query}`);
    if (response.status === 403) throw new StoreFault('wrong-secret');
    if (response.status === 404) throw new StoreFault('no-such-place');
    if (!response.ok) throw new StoreFault('wrong-answer');
    return readPage(await response.text());
  }

  private async fetch(address: string): Promise<Response> {
    try {
      return await this.client.fetch(address, { signal: AbortSignal.timeout(60_000) });
    } catch {
      throw new StoreFault('not-reachable');
    }
  }
}

interface Page {
  readonly objects: readonly { key: string; size: number; changed: string; tag: string }[];
  readonly next: string | null;
}

/** Reads `ListBucketResult`, version 2. Throws `wrong-answer` for what is none. */
export function readPage(text: string): Page {
  const objects: { key: string; size: number; changed: string; tag: string }[] = [];
  const path: string[] = [];
  let isList = false;
  let next: string | null = null;
  let words = '';
  const parser = new SaxesParser();
  parser.on('opentag', ({ name }) => {
    isList ||= path.length === 0 && name === 'ListBucketResult';
    if (name === 'Contents' && path.length === 1) objects.push({ key: '', size: 0, changed: '', tag: '' });
    path.push(name);
    words = '';
  });
  parser.on('text', (more) => (words += more));
  parser.on('closetag', ({ name }) => {
    path.pop();
    const object = path.at(-1) === 'Contents' ? objects.at(-1) : undefined;
    if (object && name === 'Key') object.key = words;
    if (object && name === 'Size') object.size = Math.max(0, Number(words) || 0);
    if (object && name === 'LastModified') object.changed = words;
    if (object && name === 'ETag') object.tag = words.replaceAll('"', '');
    if (path.length === 1 && name === 'NextContinuationToken') next = words;
  });
  try {
    parser.write(text).close();
  } catch {
    throw new StoreFault('wrong-answer');
  }
  if (!isList) throw new StoreFault('wrong-answer');
  return { objects: objects.filter(({ key }) => key !== ''), next };
}

/** The body of an answer; null where it is longer than it may be, whatever its head says. */
async function bodyWithin(response: Response, most: number): Promise<Uint8Array | null> {
  const chunks: Uint8Array[] = [];
  let length = 0;
  for await (const chunk of response.body ?? []) {
    length += chunk.length;
    if (length > most) return null;
    chunks.push(chunk);
  }
  return Buffer.concat(chunks);
}

function foldersOf(key: string): string[] {
  const parts = key.split('/').slice(0, -1);
  return parts.map((_, at) => parts.slice(0, at + 1).join('/'));
}
