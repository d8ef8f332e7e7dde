/** Numbers pairs of whole numbers from 0 on, in the order they come: a map that makes no objects. */
export class PairNumbers {
  count = 0;
  private one = new Int32Array(512);
  private two = new Int32Array(512);
  /** Number of the pair in each slot, counted from 1; 0 for none. Twice as many as there is room for pairs, a power of two. */
  private slots = new Int32Array(1024);

  /** The number of a pair, a new one where it was not asked for before. */
  numberOf(one: number, two: number): number {
    let slot = this.slotOf(one, two);
    if (this.slots[slot] === 0) {
      if (this.count === this.one.length) {
        this.grow();
        slot = this.slotOf(one, two);
      }
      this.one[this.count] = one;
      this.two[this.count] = two;
      this.slots[slot] = ++this.count;
    }
    return this.slots[slot]! - 1;
  }

  /** Where a pair is, or would be. */
  private slotOf(one: number, two: number): number {
    const last = this.slots.length - 1;
    let slot = (Math.imul(one, 0x9e3779b1) ^ Math.imul(two, 0x85ebca6b)) >>> 7;
    for (;;) {
      slot &= last;
      const number = this.slots[slot]!;
      if (number === 0 || (this.one[number - 1] === one && this.two[number - 1] === two)) return slot;
      slot++;
    }
  }

  private grow(): void {
    const { one, two } = this;
    this.one = new Int32Array(2 * one.length);
    this.two = new Int32Array(2 * two.length);
    this.one.set(one);
    this.two.set(two);
    this.slots = new Int32Array(2 * this.slots.length);
    for (let number = 0; number < this.count; number++) {
      this.slots[this.slotOf(one[number]!, two[number]!)] = number + 1;
    }
  }
}
