/** A px says most of a region that is so much of it and more. */
export const SLIGHT = 0.1;

/** Least squares of what is left over some px against one change of colour in all of them. */
export class ColourSquares {
  private all = 0;
  private red = 0;
  private green = 0;
  private blue = 0;

  /** @param far a px that is so far off says half. */
  constructor(private readonly far: number) {}

  add(share: number, r: number, g: number, b: number): void {
    const off = (r * r + g * g + b * b) / (this.far * this.far);
    const weight = (share * share) / ((share + SLIGHT) * (1 + off));
    this.all += weight * share;
    this.red += weight * r;
    this.green += weight * g;
    this.blue += weight * b;
  }

  /** By how much the squares grow with another part's colour. */
  change(rgb: Float64Array, now: number, other: number): number {
    const r = rgb[other * 3]! - rgb[now * 3]!;
    const g = rgb[other * 3 + 1]! - rgb[now * 3 + 1]!;
    const b = rgb[other * 3 + 2]! - rgb[now * 3 + 2]!;
    return this.all * (r * r + g * g + b * b) - 2 * (r * this.red + g * this.green + b * this.blue);
  }
}
