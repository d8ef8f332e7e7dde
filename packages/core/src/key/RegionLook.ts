import { ColourSquares, SLIGHT } from './ColourSquares.ts';
import type { Channels } from './coverOf.ts';
import type { UnderLines } from './UnderLines.ts';
import type { Footprint } from './unmixKey.ts';

/** Taken out: looked up a million times. */
const { max, min } = Math;

/** What a region's lines give to its neighbours: by channel, at each px of its footprint, as it was taken off what is left of the key. */
export type GivenRgb = Channels;

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
  private red = new Float64Array(256);
  private green = new Float64Array(256);
  private blue = new Float64Array(256);

  /**
   * Takes what is left around a region, as it would be if the region's lines gave nothing.
   *
   * @param given what they give now.
   */
  take(region: number, { at, weight }: Footprint, rest: Channels, given?: GivenRgb): void {
    this.size = at.length;
    this.weight = weight;
    this.says = this.saysOf[region] ??= saysOf(weight);
    if (this.red.length < at.length) {
      this.red = new Float64Array(2 * at.length);
      this.green = new Float64Array(2 * at.length);
      this.blue = new Float64Array(2 * at.length);
    }
    takeOut(rest[0], at, given?.[0], this.red);
    takeOut(rest[1], at, given?.[1], this.green);
    takeOut(rest[2], at, given?.[2], this.blue);
  }

  squares(far: number): ColourSquares {
    const { weight, red, green, blue, size } = this;
    const squares = new ColourSquares(far);
    for (let k = 0; k < size; k++) squares.add(weight[k]!, red[k]!, green[k]!, blue[k]!);
    return squares;
  }

  /** How far the key is off with another part, in px that say so; more than `most` need not be told exactly. @param noise squared. */
  errorWith({ dr, dg, db }: OtherPart, noise: number, most: number): number {
    const { weight, says, red, green, blue, size } = this;
    let error = 0;
    for (let k = 0; k < size && error < most; k++) {
      const share = weight[k]!;
      const r = red[k]! - dr * share;
      const g = green[k]! - dg * share;
      const b = blue[k]! - db * share;
      const squares = r * r + g * g + b * b;
      error += (says[k]! * squares) / (noise + squares);
    }
    return error;
  }

  /** How much the region gives to its neighbours with another part, by least squares. @param against what giving costs, in squares. */
  giveOf(other: OtherPart, lines: UnderLines, against: number): number {
    const { weight, says, red, green, blue, size } = this;
    const { dr, dg, db } = other;
    let along = 0;
    let all = against;
    for (let k = 0; k < size; k++) {
      const share = weight[k]!;
      const ink = lines.ink[k]!;
      const r = lines.red[k]! - other.red * ink;
      const g = lines.green[k]! - other.green * ink;
      const b = lines.blue[k]! - other.blue * ink;
      along += says[k]! * (r * (red[k]! - dr * share) + g * (green[k]! - dg * share) + b * (blue[k]! - db * share));
      all += says[k]! * (r * r + g * g + b * b);
    }
    return max(-1, min(1, along / all));
  }

  /** As `errorWith`, with what the region's lines give. */
  errorGiving(other: OtherPart, lines: UnderLines, give: number, noise: number, most: number): number {
    const { weight, says, red, green, blue, size } = this;
    const { dr, dg, db } = other;
    let error = 0;
    for (let k = 0; k < size && error < most; k++) {
      const share = weight[k]!;
      const ink = lines.ink[k]!;
      const r = red[k]! - dr * share - give * (lines.red[k]! - other.red * ink);
      const g = green[k]! - dg * share - give * (lines.green[k]! - other.green * ink);
      const b = blue[k]! - db * share - give * (lines.blue[k]! - other.blue * ink);
      const squares = r * r + g * g + b * b;
      error += (says[k]! * squares) / (noise + squares);
    }
    return error;
  }
}

function takeOut(image: Float64Array, at: Int32Array, given: Float64Array | undefined, out: Float64Array): void {
  if (given === undefined) for (let k = 0; k < at.length; k++) out[k] = image[at[k]!]!;
  else for (let k = 0; k < at.length; k++) out[k] = image[at[k]!]! + given[k]!;
}

function saysOf(weight: Float64Array): Float64Array {
  const says = new Float64Array(weight.length);
  for (let k = 0; k < says.length; k++) says[k] = weight[k]! / (weight[k]! + SLIGHT);
  return says;
}
