import { buffer as streamBuffer } from 'node:stream/consumers';
import type yauzl from 'yauzl';
import type { UnreadableReason } from '@lantern/core/movement';
import type { Budget } from './budget.js';

/** A file inside a zip container, not yet expanded. */
export interface ZipEntry {
  readonly name: string;
  readonly encrypted: boolean;
  readonly expandedBytes: number;
  read(): Promise<Buffer>;
}

export type ZipListing =
  | { readonly status: 'listed'; readonly entries: readonly ZipEntry[] }
  | { readonly status: 'unreadable'; readonly reason: UnreadableReason };

export type Expanded =
  | { readonly status: 'expanded'; readonly bytes: Buffer }
  | { readonly status: 'unreadable'; readonly reason: UnreadableReason };

/** Entries listed at most; the budget stops their expansion far earlier. */
const MAX_LISTED = 20_000;

/** Lists a zip container by its central directory, expanding nothing. */
export async function listZip(bytes: Uint8Array): Promise<ZipListing> {
  const { default: reader } = await import('yauzl');
  return new Promise((resolve) => {
    const corrupt = () => resolve({ status: 'unreadable', reason: 'corrupt' });
    const buffer = Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    reader.fromBuffer(buffer, { lazyEntries: true, validateEntrySizes: true }, (error, archive) => {
      if (error || !archive) return corrupt();
      const entries: ZipEntry[] = [];
      archive.on('error', corrupt);
      archive.on('end', () => resolve({ status: 'listed', entries }));
      archive.on('entry', (entry: yauzl.Entry) => {
        if (entries.length >= MAX_LISTED) return resolve({ status: 'unreadable', reason: 'expands-too-far' });
        if (!entry.fileName.endsWith('/')) entries.push(toEntry(archive, entry));
        archive.readEntry();
      });
      archive.readEntry();
    });
  });
}

function toEntry(archive: yauzl.ZipFile, entry: yauzl.Entry): ZipEntry {
  return {
    name: entry.fileName,
    encrypted: (entry.generalPurposeBitFlag & 1) === 1,
    expandedBytes: entry.uncompressedSize,
    read: () =>
      new Promise((resolve, reject) => {
        archive.openReadStream(entry, (error, stream) => {
          if (error || !stream) reject(error ?? new Error('no stream'));
          else streamBuffer(stream).then(resolve, reject);
        });
      }),
  };
}

/**
 * Expands one entry within the budget. The size is taken from the directory and held to while expanding, so that a
 * directory that lies ends as corrupt, not as memory.
 */
export async function expand(entry: ZipEntry, budget: Budget): Promise<Expanded> {
  if (entry.encrypted) return { status: 'unreadable', reason: 'encrypted' };
  if (!budget.spend(entry.expandedBytes)) return { status: 'unreadable', reason: 'expands-too-far' };
  try {
    return { status: 'expanded', bytes: await entry.read() };
  } catch {
    return { status: 'unreadable', reason: 'corrupt' };
  }
}
