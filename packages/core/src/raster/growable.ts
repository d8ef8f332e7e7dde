/** A growing Int32 stack: the hot loops push to it without making objects. */
export class Int32Stack {
  data: Int32Array;
  length = 0;

  constructor(capacity = 1024) {
    this.data = new Int32Array(Math.max(1, capacity));
  }

  push(value: number): void {
    if (this.length === this.data.length) this.grow();
    this.data[this.length++] = value;
  }

  /** Makes room for `more` further values, so that callers may write to `data` directly. */
  reserve(more: number): void {
    while (this.data.length - this.length < more) this.grow();
  }

  private grow(): void {
    const next = new Int32Array(this.data.length * 2);
    next.set(this.data);
    this.data = next;
  }
}
