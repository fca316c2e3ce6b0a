const { imul } = Math;

/**
 * Signatures of sets by MinHash (Broder: On the resemblance and containment of documents, 1997): the share of equal
 * places of two signatures estimates the Jaccard index of their sets. With {@link SIGNATURE_LENGTH} places the standard
 * error is at most 0.5 / √64 = 0.0625.
 */
export const SIGNATURE_LENGTH = 64;
/** Groups of places that are looked up as one: two sets of Jaccard index s share a group with 1 - (1 - s⁴)¹⁶. */
export const BANDS = 16;
const ROWS = SIGNATURE_LENGTH / BANDS;

/** Smallest hash of a set's members under each of the permutations; null for an empty set. */
export type Signature = Uint32Array;

export function signatureOf(members: Iterable<string>): Signature | null {
  const signature = new Uint32Array(SIGNATURE_LENGTH).fill(0xffffffff);
  let any = false;
  for (const member of members) {
    any = true;
    const hash = hashOf(member);
    for (let at = 0; at < SIGNATURE_LENGTH; at += 1) {
      const permuted = mixed(hash ^ SEEDS[at]!);
      if (permuted < signature[at]!) signature[at] = permuted;
    }
  }
  return any ? signature : null;
}

/** Estimate of the Jaccard index of the sets behind two signatures, 0 to 1. */
export function estimateAlike(one: Signature, other: Signature): number {
  let equal = 0;
  for (let at = 0; at < SIGNATURE_LENGTH; at += 1) if (one[at] === other[at]) equal += 1;
  return equal / SIGNATURE_LENGTH;
}

/**
 * Hashes of the groups of a signature, as hexadecimal of 16 digits, each mixed with `key`: only sets with the same key
 * can share one.
 */
export function bandsOf(signature: Signature, key: string): string[] {
  return Array.from({ length: BANDS }, (_, band) => {
    let [high, low] = [hashOf(`${band} ${key}`), hashOf(`${key} ${band}`)];
    for (let row = 0; row < ROWS; row += 1) {
      const value = signature[band * ROWS + row]!;
      high = mixed(high ^ value);
      low = mixed(imul(low, 31) ^ value);
    }
    return high.toString(16).padStart(8, '0') + low.toString(16).padStart(8, '0');
  });
}

/** FNV-1a over UTF-16 units, then mixed: neighbouring texts must not give neighbouring hashes. */
function hashOf(text: string): number {
  let hash = 0x811c9dc5;
  for (let at = 0; at < text.length; at += 1) hash = imul(hash ^ text.charCodeAt(at), 0x01000193);
  return mixed(hash);
}

/** The final mix of MurmurHash3 (public domain): every bit of the input changes half of the output's. */
function mixed(value: number): number {
  let hash = value >>> 0;
  hash = imul(hash ^ (hash >>> 16), 0x85ebca6b);
  hash = imul(hash ^ (hash >>> 13), 0xc2b2ae35);
  return (hash ^ (hash >>> 16)) >>> 0;
}

/** One number per permutation; fixed, since stored signatures are compared with new ones. */
const SEEDS = Uint32Array.from({ length: SIGNATURE_LENGTH }, (_, at) => mixed(imul(at + 1, 0x9e3779b9)));
