import type { SearchText } from '../../text/search-text.js';
import { toSearchText } from '../../text/search-text.js';
import { fingerprintsOf } from './fingerprints.js';

/** A text that others are compared with. */
export interface SampleText {
  readonly id: string;
  readonly name: string;
  readonly text: string;
}

/** A sample as it is looked for. */
export interface LikenessSample {
  readonly id: string;
  readonly name: string;
  /** Different fingerprints that count. */
  readonly fingerprints: number;
}

/** Fingerprints of all samples, by hash; equal hashes of several samples stand next to each other. */
export interface LikenessIndex {
  readonly samples: readonly LikenessSample[];
  readonly hashes: Uint32Array;
  /** Place of the sample of each hash. */
  readonly owners: Uint16Array;
}

/** Fewer fingerprints than this tell nothing: some hundred letters, a signature or a greeting. */
export const LEAST_FINGERPRINTS = 12;
/** Samples of one pattern. */
export const MAX_SAMPLES = 500;
/** Fingerprints of all samples of one pattern together: some 40 MB of text, 12 MB of memory. */
export const MAX_FINGERPRINTS = 2_000_000;

/**
 * Indexes samples. What stands in `unlike` texts as well, a letterhead or the usual terms, does not count. Samples left
 * with too little keep a count of 0 and are never found.
 */
export function indexLikeness(samples: readonly SampleText[], unlike: readonly string[]): LikenessIndex {
  const common = new Set<number>();
  for (const text of unlike)
    for (const hash of fingerprintsOf(toSearchText(text).units).hashes) common.add(hash);
  const entries: { hash: number; owner: number }[] = [];
  const counted = samples.map(({ id, name, text }, owner): LikenessSample => {
    const own = new Set(fingerprintsOf(toSearchText(text).units).hashes);
    for (const hash of common) own.delete(hash);
    const enough = own.size >= LEAST_FINGERPRINTS && entries.length + own.size <= MAX_FINGERPRINTS;
    if (enough) for (const hash of own) entries.push({ hash, owner });
    return { id, name, fingerprints: enough ? own.size : 0 };
  });
  entries.sort((left, right) => left.hash - right.hash || left.owner - right.owner);
  return {
    samples: counted,
    hashes: Uint32Array.from(entries, ({ hash }) => hash),
    owners: Uint16Array.from(entries, ({ owner }) => owner),
  };
}

/** How much of a sample stands in a text, and where. */
export interface Reappearance {
  readonly sample: LikenessSample;
  /** Share of its fingerprints, 0 to 1. */
  readonly share: number;
  /** Stretches of the searched text, in order, end exclusive. */
  readonly stretches: readonly { readonly start: number; readonly end: number; readonly pieces: number }[];
}

/** Blanks that were filled in and sentences that were put in between do not end a stretch. */
const LONGEST_GAP = 300;
const FILTER_BITS = 18;

/** Looks for samples in texts; made once for an index. */
export class LikenessMatcher {
  private readonly filter = new Uint8Array(1 << (FILTER_BITS - 3));

  constructor(private readonly index: LikenessIndex) {
    for (const hash of index.hashes) this.filter[(hash >>> 3) & this.mask]! |= 1 << (hash & 7);
  }

  /** Samples of which at least `least` (0 to 1) stands in a text, the fullest first. */
  find({ units }: Pick<SearchText, 'units'>, least: number): Reappearance[] {
    const { hashes, starts, ends } = fingerprintsOf(units);
    const seen = new Set<number>();
    const places = new Map<number, number[]>();
    for (let at = 0; at < hashes.length; at += 1) {
      for (
        let entry = this.first(hashes[at]!);
        entry >= 0 && this.index.hashes[entry] === hashes[at];
        entry += 1
      ) {
        seen.add(entry);
        const owner = this.index.owners[entry]!;
        const known = places.get(owner);
        if (known) known.push(at);
        else places.set(owner, [at]);
      }
    }
    const matched = new Map<number, number>();
    for (const entry of seen) {
      const owner = this.index.owners[entry]!;
      matched.set(owner, (matched.get(owner) ?? 0) + 1);
    }
    return [...places]
      .map(([owner, at]): Reappearance => {
        const sample = this.index.samples[owner]!;
        const share = (matched.get(owner) ?? 0) / sample.fingerprints;
        return { sample, share, stretches: share < least ? [] : stretchesOf(at, starts, ends) };
      })
      .filter(({ share }) => share >= least)
      .sort((left, right) => right.share - left.share || (left.sample.id < right.sample.id ? -1 : 1));
  }

  private readonly mask = (1 << (FILTER_BITS - 3)) - 1;

  /** First entry of a hash, or -1. */
  private first(hash: number): number {
    if ((this.filter[(hash >>> 3) & this.mask]! & (1 << (hash & 7))) === 0) return -1;
    const { hashes } = this.index;
    let low = 0;
    let high = hashes.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (hashes[middle]! < hash) low = middle + 1;
      else high = middle;
    }
    return hashes[low] === hash ? low : -1;
  }
}

function stretchesOf(
  places: readonly number[],
  starts: Uint32Array,
  ends: Uint32Array,
): { start: number; end: number; pieces: number }[] {
  const stretches: { start: number; end: number; pieces: number }[] = [];
  for (const at of places) {
    const last = stretches.at(-1);
    if (last && starts[at]! - last.end <= LONGEST_GAP) {
      last.end = Math.max(last.end, ends[at]!);
      last.pieces += 1;
    } else stretches.push({ start: starts[at]!, end: ends[at]!, pieces: 1 });
  }
  return stretches;
}
