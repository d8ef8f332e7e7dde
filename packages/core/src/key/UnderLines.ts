import type { KeyRaster } from './registerKey.ts';
import type { Cover, Footprint } from './unmixKey.ts';

/** Taken out: looked up a million times. */
const { abs, max, min } = Math;

/**
 * What a key shows under the lines around a region: its own colour or that of its neighbours, nobody knows how far.
 * It holds, for the region that was looked at last, how much of each px of its footprint is under its lines, and
 * what colour that would have if the neighbours reached up to the region's paper.
 */
export class UnderLines {
  /** How much of each px of the footprint is under the region's lines, blurred as the key is. */
  readonly ink: Float64Array;
  /** That much of the colours of the regions beyond. */
  readonly red: Float64Array;
  readonly green: Float64Array;
  readonly blue: Float64Array;
  /** Entries of a region in the cover: `entryOf[startOf[region]] ..`, with the px each lies in. */
  private readonly startOf: Int32Array;
  private readonly pxOf: Int32Array;
  private readonly entryOf: Int32Array;
  /** Where in the footprint each px of the key is, -1 for outside. */
  private readonly slot: Int32Array;

  /** @param rgb of each part. @param own part of each region, as it is whenever a region is looked at. */
  constructor(
    private readonly key: KeyRaster,
    private readonly cover: Cover,
    private readonly kernel: Float64Array,
    private readonly rgb: Float64Array,
    private readonly own: Int32Array,
  ) {
    const entries = cover.region.length;
    this.startOf = new Int32Array(own.length + 1);
    for (let k = 0; k < entries; k++) this.startOf[cover.region[k]! + 1] = this.startOf[cover.region[k]! + 1]! + 1;
    for (let r = 0; r < own.length; r++) this.startOf[r + 1] = this.startOf[r + 1]! + this.startOf[r]!;
    const next = this.startOf.slice();
    this.pxOf = new Int32Array(entries);
    this.entryOf = new Int32Array(entries);
    for (let p = 0; p + 1 < cover.row.length; p++) {
      for (let k = cover.row[p]!; k < cover.row[p + 1]!; k++) {
        const at = next[cover.region[k]!]!;
        next[cover.region[k]!] = at + 1;
        this.pxOf[at] = p;
        this.entryOf[at] = k;
      }
    }
    const pixels = key.width * key.height;
    this.slot = new Int32Array(pixels).fill(-1);
    this.ink = new Float64Array(pixels);
    this.red = new Float64Array(pixels);
    this.green = new Float64Array(pixels);
    this.blue = new Float64Array(pixels);
  }

  /** The regions that share a px of the key with one. */
  beside(region: number): number[] {
    const { cover, pxOf } = this;
    const found = new Set<number>();
    for (let i = this.startOf[region]!; i < this.startOf[region + 1]!; i++) {
      const p = pxOf[i]!;
      for (let k = cover.row[p]!; k < cover.row[p + 1]!; k++) found.add(cover.region[k]!);
    }
    found.delete(region);
    return [...found];
  }

  lookAt(region: number, { at }: Footprint): void {
    const { slot, ink, red, green, blue, cover, own, rgb, pxOf, entryOf } = this;
    for (let k = 0; k < at.length; k++) {
      slot[at[k]!] = k;
      ink[k] = 0;
      red[k] = 0;
      green[k] = 0;
      blue[k] = 0;
    }
    const end = this.startOf[region + 1]!;
    for (let i = this.startOf[region]!; i < end; i++) {
      const inked = cover.inked[entryOf[i]!]!;
      if (inked === 0) continue;
      const p = pxOf[i]!;
      let others = 0;
      let r = 0;
      let g = 0;
      let b = 0;
      for (let k = cover.row[p]!; k < cover.row[p + 1]!; k++) {
        const other = cover.region[k]!;
        if (other === region) continue;
        const share = cover.share[k]!;
        const part = own[other]! * 3;
        others += share;
        r += share * rgb[part]!;
        g += share * rgb[part + 1]!;
        b += share * rgb[part + 2]!;
      }
      if (others > 0) this.spread(p, inked, r / others, g / others, b / others);
    }
    for (let k = 0; k < at.length; k++) slot[at[k]!] = -1;
  }

  /** Ink of a px with the colour beyond, blurred over the footprint. */
  private spread(p: number, inked: number, r: number, g: number, b: number): void {
    const { slot, ink, red, green, blue, kernel, key, cover } = this;
    const half = kernel.length - 1;
    const x = p % key.width;
    const y = (p - x) / key.width;
    const left = max(0, x - half);
    const right = min(key.width - 1, x + half);
    const bottom = min(key.height - 1, y + half);
    for (let py = max(0, y - half); py <= bottom; py++) {
      const down = inked * kernel[abs(py - y)]!;
      for (let px = left; px <= right; px++) {
        const q = py * key.width + px;
        const k = slot[q]!;
        if (k < 0) continue;
        const v = down * kernel[abs(px - x)]! * cover.trust[q]!;
        ink[k] = ink[k]! + v;
        red[k] = red[k]! + v * r;
        green[k] = green[k]! + v * g;
        blue[k] = blue[k]! + v * b;
      }
    }
  }
}
