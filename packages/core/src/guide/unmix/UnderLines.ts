import type { GuideRaster } from '../register/registerGuide.ts';
import type { Cover } from './coverOf.ts';
import type { Footprint } from './FootprintProducts.ts';

/** Taken out: looked up a million times. */
const { abs, max, min } = Math;

const NONE: Float64Array = new Float64Array(0);

/** Where the ink of a region's lines gets to: of the i-th px the entries `first[i] .. first[i + 1] - 1`. */
interface Reach {
  /** Of all px together, by place in the footprint. */
  readonly ink: Float64Array;
  readonly px: Int32Array;
  readonly first: Int32Array;
  readonly place: Int32Array;
  readonly much: Float64Array;
  /** The regions beyond, what each was when they were looked at last, and how much of their colours there is. */
  readonly beyond: Int32Array;
  readonly was: Int32Array;
  looks: number;
  /** By place in the footprint, `px * 3`. */
  readonly rgb: Float64Array;
}

/**
 * What a key shows under the lines around a region: its own colour or that of its neighbours, nobody knows how far.
 * It holds, for the region that was looked at last, how much of each px of its footprint is under its lines, and
 * what colour that would have if the neighbours reached up to the region's paper.
 */
export class UnderLines {
  /** How much of each px of the footprint is under the region's lines, blurred as the key is. */
  ink = NONE;
  /** That much of the colours of the regions beyond, RGB of each px. */
  rgb = NONE;
  /** Times that what is beyond the lines of the region looked at was another than before. */
  looks = 0;
  private readonly reaches: (Reach | undefined)[];
  /** Where in the footprint each px of the key is, -1 for outside. */
  private readonly slot: Int32Array;
  /** What is noted of one region's ink: places in its footprint, how much gets there, and how many of both. */
  private place = new Int32Array(0);
  private much = NONE;
  private spreadSize = 0;

  /** @param colours RGB of each part. @param own part of each region, as it is whenever a region is looked at. */
  constructor(
    private readonly guide: GuideRaster,
    private readonly cover: Cover,
    private readonly kernel: Float64Array,
    private readonly colours: Float64Array,
    private readonly own: Int32Array,
  ) {
    this.reaches = Array.from({ length: own.length });
    const pixels = guide.width * guide.height;
    this.slot = new Int32Array(pixels).fill(-1);
  }

  /** The regions that share a px of the key with one. */
  beside(region: number): number[] {
    const { cover } = this;
    const { start, px } = cover.byRegion;
    const found = new Set<number>();
    for (let i = start[region]!; i < start[region + 1]!; i++) {
      const p = px[i]!;
      for (let k = cover.row[p]!; k < cover.row[p + 1]!; k++) found.add(cover.region[k]!);
    }
    found.delete(region);
    return [...found];
  }

  /** Works out what is under a region's lines, as its neighbours are now. */
  lookAt(region: number, footprint: Footprint): void {
    const { cover, own, colours } = this;
    const reach = (this.reaches[region] ??= this.reachOf(region, footprint));
    const { rgb, beyond, was } = reach;
    this.ink = reach.ink;
    this.rgb = rgb;
    let same = true;
    for (let k = 0; k < beyond.length; k++) {
      const part = own[beyond[k]!]!;
      if (was[k] === part) continue;
      was[k] = part;
      same = false;
    }
    if (!same) reach.looks++;
    this.looks = reach.looks;
    if (same) return;
    rgb.fill(0);
    for (let i = 0; i < reach.px.length; i++) {
      const p = reach.px[i]!;
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
        r += share * colours[part]!;
        g += share * colours[part + 1]!;
        b += share * colours[part + 2]!;
      }
      r /= others;
      g /= others;
      b /= others;
      const end = reach.first[i + 1]!;
      for (let j = reach.first[i]!; j < end; j++) {
        const k = 3 * reach.place[j]!;
        const much = reach.much[j]!;
        rgb[k] = rgb[k]! + much * r;
        rgb[k + 1] = rgb[k + 1]! + much * g;
        rgb[k + 2] = rgb[k + 2]! + much * b;
      }
    }
  }

  /** Where the ink of each px of a region's lines gets to when it is blurred. */
  private reachOf(region: number, { at }: Footprint): Reach {
    const { slot, cover } = this;
    const { start, entry, px: pxOf } = cover.byRegion;
    for (let k = 0; k < at.length; k++) slot[at[k]!] = k;
    const ink = new Float64Array(at.length);
    const [px, first]: [number[], number[]] = [[], [0]];
    const beyond: number[] = [];
    this.spreadSize = 0;
    for (let i = start[region]!; i < start[region + 1]!; i++) {
      const p = pxOf[i]!;
      const inked = cover.inked[entry[i]!]!;
      // Where no other region is, what is under a line is the region's own.
      if (inked === 0 || cover.row[p + 1]! - cover.row[p]! < 2) continue;
      this.spread(p, inked, ink);
      for (let k = cover.row[p]!; k < cover.row[p + 1]!; k++) {
        const other = cover.region[k]!;
        if (other !== region && !beyond.includes(other)) beyond.push(other);
      }
      px.push(p);
      first.push(this.spreadSize);
    }
    for (let k = 0; k < at.length; k++) slot[at[k]!] = -1;
    return {
      ink,
      px: Int32Array.from(px),
      first: Int32Array.from(first),
      place: this.place.slice(0, this.spreadSize),
      much: this.much.slice(0, this.spreadSize),
      beyond: Int32Array.from(beyond),
      was: new Int32Array(beyond.length).fill(-1),
      looks: 0,
      rgb: new Float64Array(3 * at.length),
    };
  }

  /** Notes where in the footprint the ink of a px gets to, and how much of it. */
  private spread(p: number, inked: number, ink: Float64Array): void {
    const { slot, kernel, guide, cover } = this;
    const half = kernel.length - 1;
    this.makeRoom((2 * half + 1) ** 2);
    const { place, much } = this;
    const x = p % guide.width;
    const y = (p - x) / guide.width;
    const right = min(guide.width - 1, x + half);
    const bottom = min(guide.height - 1, y + half);
    let size = this.spreadSize;
    for (let py = max(0, y - half); py <= bottom; py++) {
      const ofRow = inked * kernel[abs(py - y)]!;
      const row = py * guide.width;
      for (let px = max(0, x - half); px <= right; px++) {
        const k = slot[row + px]!;
        if (k < 0) continue;
        const value = ofRow * kernel[abs(px - x)]! * cover.trust[row + px]!;
        place[size] = k;
        much[size++] = value;
        ink[k] = ink[k]! + value;
      }
    }
    this.spreadSize = size;
  }

  private makeRoom(more: number): void {
    if (this.spreadSize + more <= this.place.length) return;
    const [place, much] = [this.place, this.much];
    this.place = new Int32Array(2 * (place.length + more));
    this.much = new Float64Array(this.place.length);
    this.place.set(place);
    this.much.set(much);
  }
}
