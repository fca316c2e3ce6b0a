import { createHash, createHmac, hkdfSync, timingSafeEqual } from 'node:crypto';
import type { TrailCheck } from '@lantern/contracts';

/** What is chained of an entry. */
export interface ChainedEntry {
  readonly number: number;
  readonly at: Date;
  readonly actor: string;
  readonly action: string;
  readonly target: string;
  readonly facts: Readonly<Record<string, string>>;
  readonly previous: string;
  readonly hash: string;
}

/** What stands before the first entry. */
export const BEGINNING = '0'.repeat(64);

/** SHA-256 over an entry and the hash of the one before it, as hexadecimal digits. */
export function entryHash(entry: Omit<ChainedEntry, 'hash'>): string {
  const { number, at, actor, action, target, facts, previous } = entry;
  const sorted = Object.entries(facts).sort(([left], [right]) => (left < right ? -1 : 1));
  const written = JSON.stringify([previous, number, at.toISOString(), actor, action, target, sorted]);
  return createHash('sha256').update(written).digest('hex');
}

/** Signature of the end of a trail, with a key derived from one outside the database (RFC 5869). */
export function headSignature(key: Buffer, number: number, hash: string): string {
  const own = Buffer.from(hkdfSync('sha256', key, '', 'uncut-lantern trail head', 32));
  return createHmac('sha256', own).update(`${number} ${hash}`).digest('hex');
}

/** Where a part of the trail ended that was deleted by age. */
export type RemovedPart = WrittenHead;

/** An end of the trail as it once was, written down where the database cannot reach it. */
export interface WrittenHead {
  readonly number: number;
  readonly hash: string;
  readonly signature: string;
}

/**
 * Heads of a file of lines of JSON. A line that is cut off, or that nobody with the key has signed, is none: whoever can
 * write there could only make the check fail by it, and not make it pass.
 */
export function readHeads(text: string, key: Buffer): WrittenHead[] {
  return text.split('\n').flatMap((line) => {
    try {
      const { number, hash, signature } = JSON.parse(line) as WrittenHead;
      return isSigned({ number, hash, signature }, key) ? [{ number, hash, signature }] : [];
    } catch {
      return [];
    }
  });
}

function isSigned({ number, hash, signature }: WrittenHead, key: Buffer): boolean {
  const signed = Buffer.from(headSignature(key, number, hash));
  const given = Buffer.from(String(signature));
  return signed.length === given.length && timingSafeEqual(signed, given);
}

/**
 * Follows a trail entry by entry, in its order, past the heads that were written down. It begins behind the part that was
 * deleted by age, whose signed end is kept.
 */
export class ChainCheck {
  private expected: string;
  private last: number;
  private broken: Pick<TrailCheck, 'brokenAt' | 'why'> | null = null;
  private readonly written: ReadonlyMap<number, string>;

  constructor(
    heads: readonly WrittenHead[] = [],
    private readonly removed: RemovedPart | null = null,
  ) {
    this.expected = removed?.hash ?? BEGINNING;
    this.last = removed?.number ?? 0;
    this.written = new Map(
      heads.filter(({ number }) => number > 0).map(({ number, hash }) => [number, hash]),
    );
  }

  add(entry: ChainedEntry): void {
    if (this.broken) return;
    if (entry.number !== this.last + 1) this.broken = { brokenAt: this.last + 1, why: 'missing' };
    else if (entry.previous !== this.expected || entryHash(entry) !== entry.hash)
      this.broken = { brokenAt: entry.number, why: 'changed' };
    else if ((this.written.get(entry.number) ?? entry.hash) !== entry.hash)
      // The chain fits, and was another one when its end was written down: it was made anew.
      this.broken = { brokenAt: entry.number, why: 'changed' };
    this.expected = entry.hash;
    this.last = entry.number;
  }

  /** What came of it, beside the signed end; null where there is none yet. */
  end(
    head: { readonly number: number; readonly hash: string; readonly signature: string } | null,
    key: Buffer,
  ): TrailCheck {
    const before = this.removed?.number ?? 0;
    const entries = this.last - before;
    if (this.removed && !isSigned(this.removed, key))
      return { whole: false, entries, brokenAt: before, why: 'not-signed' };
    if (this.broken) return { whole: false, entries, ...this.broken };
    const latest = Math.max(0, ...this.written.keys());
    if (latest > this.last) return { whole: false, entries, brokenAt: this.last + 1, why: 'cut-off' };
    if (!head)
      return { whole: this.last === 0, entries, brokenAt: null, why: this.last === 0 ? null : 'not-signed' };
    if (!isSigned(head, key)) return { whole: false, entries, brokenAt: null, why: 'not-signed' };
    if (head.number > this.last) return { whole: false, entries, brokenAt: this.last + 1, why: 'cut-off' };
    if (head.number < this.last || head.hash !== this.expected)
      return { whole: false, entries, brokenAt: head.number + 1, why: 'changed' };
    return { whole: true, entries, brokenAt: null, why: null };
  }
}
