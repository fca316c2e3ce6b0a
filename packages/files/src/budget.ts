import { MAX_EXPANDED_BYTES, MAX_PARTS } from './limits.js';

/** What one item may still cost; shared by everything nested in it, so that bombs cannot multiply. */
export class Budget {
  private bytesLeft: number;
  private partsLeft: number;

  constructor(bytes: number = MAX_EXPANDED_BYTES, parts: number = MAX_PARTS) {
    this.bytesLeft = bytes;
    this.partsLeft = parts;
  }

  /** Bytes that may still be expanded. */
  get left(): number {
    return this.bytesLeft;
  }

  /** Takes `bytes` and one part off the budget; false when that is more than is left. */
  spend(bytes: number): boolean {
    if (bytes > this.bytesLeft || this.partsLeft === 0) return false;
    this.bytesLeft -= bytes;
    this.partsLeft -= 1;
    return true;
  }
}
