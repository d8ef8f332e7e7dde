import { ColourSquares, SLIGHT } from './ColourSquares.ts';
import type { UnderLines } from './UnderLines.ts';
import type { Footprint } from './FootprintProducts.ts';

/** Taken out: looked up a million times. */
const { max, min } = Math;

/** What changes around a region when it has another part than now. */
export interface OtherPart {
  /** Its colour. */
  readonly red: number;
  readonly green: number;
  readonly blue: number;
  /** That less the colour it has now. */
  readonly dr: number;
  readonly dg: number;
  readonly db: number;
}

/** What is left of the key around one region, taken out of the key px by px so that many parts can be held against it. */
export class RegionLook {
  private size = 0;
  private weight: Float64Array = new Float64Array(0);
  /** How much each px says of the region, by place in its footprint; and that for every region that was looked at. */
  private says: Float64Array = new Float64Array(0);
  private readonly saysOf: (Float64Array | undefined)[] = [];
  /** RGB of what is left at each px of the footprint. */
  private left = new Float64Array(768);

  /**
   * Takes what is left around a region, as it would be without mixing under the region's lines.
   *
   * @param rest RGB of what is left at each px of the key. @param lineMixing RGB that the mixing adds now at each px of the footprint.
   */
  take(region: number, { at, weight }: Footprint, rest: Float64Array, lineMixing?: Float64Array): void {
    this.size = at.length;
    this.weight = weight;
    this.says = this.saysOf[region] ??= saysOf(weight);
    if (this.left.length < 3 * at.length) this.left = new Float64Array(6 * at.length);
    takeOut(rest, at, this.left);
    if (lineMixing !== undefined) addTo(this.left, lineMixing);
  }

  squares(far: number): ColourSquares {
    const { weight, left, size } = this;
    const squares = new ColourSquares(far);
    for (let k = 0; k < size; k++) squares.add(weight[k]!, left[3 * k]!, left[3 * k + 1]!, left[3 * k + 2]!);
    return squares;
  }

  /** How far the key is off with another part, in px that say so; more than `most` need not be told exactly. @param noise squared. */
  errorWith({ dr, dg, db }: OtherPart, noise: number, most: number): number {
    const { weight, says, left, size } = this;
    let error = 0;
    for (let k = 0; k < size && error < most; k++) {
      const share = weight[k]!;
      const r = left[3 * k]! - dr * share;
      const g = left[3 * k + 1]! - dg * share;
      const b = left[3 * k + 2]! - db * share;
      const squares = r * r + g * g + b * b;
      error += (says[k]! * squares) / (noise + squares);
    }
    return error;
  }

  /** The mixing coefficient under the region's lines with another part, by least squares. @param against what mixing costs, in squares. */
  mixingOf(other: OtherPart, lines: UnderLines, against: number): number {
    const { weight, says, left, size } = this;
    const { dr, dg, db } = other;
    const { ink, rgb } = lines;
    let along = 0;
    let all = against;
    for (let k = 0; k < size; k++) {
      const share = weight[k]!;
      const r = rgb[3 * k]! - other.red * ink[k]!;
      const g = rgb[3 * k + 1]! - other.green * ink[k]!;
      const b = rgb[3 * k + 2]! - other.blue * ink[k]!;
      const rest =
        r * (left[3 * k]! - dr * share) + g * (left[3 * k + 1]! - dg * share) + b * (left[3 * k + 2]! - db * share);
      along += says[k]! * rest;
      all += says[k]! * (r * r + g * g + b * b);
    }
    return max(-1, min(1, along / all));
  }

  /** As `errorWith`, with mixing under the region's lines. */
  errorMixing(other: OtherPart, lines: UnderLines, mixing: number, noise: number, most: number): number {
    const { weight, says, left, size } = this;
    const { dr, dg, db } = other;
    const { ink, rgb } = lines;
    let error = 0;
    for (let k = 0; k < size && error < most; k++) {
      const share = weight[k]!;
      const r = left[3 * k]! - dr * share - mixing * (rgb[3 * k]! - other.red * ink[k]!);
      const g = left[3 * k + 1]! - dg * share - mixing * (rgb[3 * k + 1]! - other.green * ink[k]!);
      const b = left[3 * k + 2]! - db * share - mixing * (rgb[3 * k + 2]! - other.blue * ink[k]!);
      const squares = r * r + g * g + b * b;
      error += (says[k]! * squares) / (noise + squares);
    }
    return error;
  }
}

function takeOut(image: Float64Array, at: Int32Array, out: Float64Array): void {
  for (let k = 0; k < at.length; k++) {
    const px = 3 * at[k]!;
    out[3 * k] = image[px]!;
    out[3 * k + 1] = image[px + 1]!;
    out[3 * k + 2] = image[px + 2]!;
  }
}

function addTo(sum: Float64Array, more: Float64Array): void {
  for (let k = 0; k < more.length; k++) sum[k] = sum[k]! + more[k]!;
}

function saysOf(weight: Float64Array): Float64Array {
  const says = new Float64Array(weight.length);
  for (let k = 0; k < says.length; k++) says[k] = weight[k]! / (weight[k]! + SLIGHT);
  return says;
}
