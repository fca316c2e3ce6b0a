/**
 * SipHash-2-4 (J.-P. Aumasson, D. J. Bernstein, SipHash: a fast short-input PRF, 2012) over UTF-16 units, two bytes each.
 * Without the key nobody can tell which value a hash stands for, not even by trying all of them.
 */
export class KeyedHash {
  private readonly k0l: number;
  private readonly k0h: number;
  private readonly k1l: number;
  private readonly k1h: number;
  /** Halves of the last hash. */
  low = 0;
  high = 0;

  private v0l = 0;
  private v0h = 0;
  private v1l = 0;
  private v1h = 0;
  private v2l = 0;
  private v2h = 0;
  private v3l = 0;
  private v3h = 0;

  /** `key` is 16 bytes. */
  constructor(key: Uint8Array) {
    if (key.length !== 16) throw new Error('A key has 16 bytes');
    const view = new DataView(key.buffer, key.byteOffset, 16);
    this.k0l = view.getInt32(0, true);
    this.k0h = view.getInt32(4, true);
    this.k1l = view.getInt32(8, true);
    this.k1h = view.getInt32(12, true);
  }

  /** Hashes a text; the result stands in {@link low} and {@link high}. */
  text(text: string): void {
    const bytes = new Uint8Array(text.length * 2);
    for (let index = 0; index < text.length; index += 1) {
      const unit = text.charCodeAt(index);
      bytes[index * 2] = unit & 255;
      bytes[index * 2 + 1] = unit >> 8;
    }
    this.bytes(bytes);
  }

  bytes(bytes: Uint8Array): void {
    this.v0l = this.k0l ^ 0x70736575;
    this.v0h = this.k0h ^ 0x736f6d65;
    this.v1l = this.k1l ^ 0x6e646f6d;
    this.v1h = this.k1h ^ 0x646f7261;
    this.v2l = this.k0l ^ 0x6e657261;
    this.v2h = this.k0h ^ 0x6c796765;
    this.v3l = this.k1l ^ 0x79746573;
    this.v3h = this.k1h ^ 0x74656462;
    const { length } = bytes;
    const whole = length - (length % 8);
    for (let at = 0; at < whole; at += 8) this.block(wordAt(bytes, at), wordAt(bytes, at + 4));
    let low = 0;
    let high = (length & 255) << 24;
    for (let at = whole; at < length; at += 1) {
      const shift = (at - whole) * 8;
      if (shift < 32) low |= bytes[at]! << shift;
      else high |= bytes[at]! << (shift - 32);
    }
    this.block(low, high);
    this.v2l ^= 0xff;
    for (let round = 0; round < 4; round += 1) this.round();
    this.low = (this.v0l ^ this.v1l ^ this.v2l ^ this.v3l) >>> 0;
    this.high = (this.v0h ^ this.v1h ^ this.v2h ^ this.v3h) >>> 0;
  }

  private block(low: number, high: number): void {
    this.v3l ^= low;
    this.v3h ^= high;
    this.round();
    this.round();
    this.v0l ^= low;
    this.v0h ^= high;
  }

  private round(): void {
    let { v0l, v0h, v1l, v1h, v2l, v2h, v3l, v3h } = this;
    let sum = (v0l >>> 0) + (v1l >>> 0);
    v0h = (v0h + v1h + (sum > 0xffffffff ? 1 : 0)) | 0;
    v0l = sum | 0;
    let kept = v1l;
    v1l = ((v1l << 13) | (v1h >>> 19)) ^ v0l;
    v1h = ((v1h << 13) | (kept >>> 19)) ^ v0h;
    kept = v0l;
    v0l = v0h;
    v0h = kept;
    sum = (v2l >>> 0) + (v3l >>> 0);
    v2h = (v2h + v3h + (sum > 0xffffffff ? 1 : 0)) | 0;
    v2l = sum | 0;
    kept = v3l;
    v3l = ((v3l << 16) | (v3h >>> 16)) ^ v2l;
    v3h = ((v3h << 16) | (kept >>> 16)) ^ v2h;
    sum = (v0l >>> 0) + (v3l >>> 0);
    v0h = (v0h + v3h + (sum > 0xffffffff ? 1 : 0)) | 0;
    v0l = sum | 0;
    kept = v3l;
    v3l = ((v3l << 21) | (v3h >>> 11)) ^ v0l;
    v3h = ((v3h << 21) | (kept >>> 11)) ^ v0h;
    sum = (v2l >>> 0) + (v1l >>> 0);
    v2h = (v2h + v1h + (sum > 0xffffffff ? 1 : 0)) | 0;
    v2l = sum | 0;
    kept = v1l;
    v1l = ((v1l << 17) | (v1h >>> 15)) ^ v2l;
    v1h = ((v1h << 17) | (kept >>> 15)) ^ v2h;
    kept = v2l;
    v2l = v2h;
    v2h = kept;
    this.v0l = v0l;
    this.v0h = v0h;
    this.v1l = v1l;
    this.v1h = v1h;
    this.v2l = v2l;
    this.v2h = v2h;
    this.v3l = v3l;
    this.v3h = v3h;
  }
}

const wordAt = (bytes: Uint8Array, at: number): number =>
  bytes[at]! | (bytes[at + 1]! << 8) | (bytes[at + 2]! << 16) | (bytes[at + 3]! << 24);
