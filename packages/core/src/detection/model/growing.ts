/** A row of whole numbers that grows as it is filled; a plain array of numbers takes four times the room. */
export class GrowingNumbers {
  values: Int32Array;
  length = 0;

  constructor(capacity = 1024) {
    this.values = new Int32Array(capacity);
  }

  push(value: number): void {
    if (this.length === this.values.length) {
      const next = new Int32Array(this.values.length * 2);
      next.set(this.values);
      this.values = next;
    }
    this.values[this.length] = value;
    this.length += 1;
  }

  /** Makes it a row of `count` zeros. */
  zeros(count: number): void {
    if (this.values.length < count) this.values = new Int32Array(count * 2);
    else this.values.fill(0, 0, Math.max(count, this.length));
    this.length = count;
  }

  /** Place of the first of the first `end` numbers that is at least `number`; they must be in order. */
  firstFrom(number: number, end = this.length): number {
    let low = 0;
    let high = end;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (this.values[middle]! < number) low = middle + 1;
      else high = middle;
    }
    return low;
  }

  /** Forgets the first `count` numbers. */
  dropFirst(count: number): void {
    this.values.copyWithin(0, count, this.length);
    this.length -= count;
  }
}
