interface Entry {
  readonly score: number;
  readonly pair: number;
  /** Of the pair when it was queued: whoever takes it out knows whether it still holds. */
  readonly version: number;
}

/** A heap of pairs: the lowest score first, ties to the lower pair. */
export class WeakestFirst {
  private readonly entries: Entry[] = [];

  push(entry: Entry): void {
    const { entries } = this;
    let at = entries.push(entry) - 1;
    while (at > 0) {
      const up = (at - 1) >> 1;
      if (!before(entry, entries[up]!)) break;
      entries[at] = entries[up]!;
      at = up;
    }
    entries[at] = entry;
  }

  pop(): Entry | undefined {
    const { entries } = this;
    const first = entries[0];
    const last = entries.pop();
    if (first === undefined || last === undefined || entries.length === 0) return first;
    let at = 0;
    for (;;) {
      let child = 2 * at + 1;
      if (child >= entries.length) break;
      if (child + 1 < entries.length && before(entries[child + 1]!, entries[child]!)) child++;
      if (!before(entries[child]!, last)) break;
      entries[at] = entries[child]!;
      at = child;
    }
    entries[at] = last;
    return first;
  }
}

function before(a: Entry, b: Entry): boolean {
  return a.score < b.score || (a.score === b.score && a.pair < b.pair);
}
