import Flatbush from 'flatbush';
import type { LooseEnds } from '../../skeleton/traceStrokes.ts';

/** Strokes count in full from this many line widths on. */
const FULL_LENGTH = 5;

/** Strokes thinner than the line draw folds and grain more often than outlines; the least they count. */
const THINNEST = 0.15;
/** Lines that hang together count in full from this many line widths on; the least they count. */
const LARGE_WEB = 30;
const SMALLEST = 0.1;

type EndColumns = Pick<LooseEnds, 'x' | 'y' | 'dx' | 'dy'>;

/** How many other ends lie near each end. */
export interface EndNeighbours {
  /** Within {@link NEAR} line widths, side by side and the same way: hatching. */
  readonly parallel: Int32Array;
  /** Within the same distance, whichever way. */
  readonly near: Int32Array;
  /** Within {@link AROUND} line widths. */
  readonly around: Int32Array;
}

const NEAR = 6;
const AROUND = 15;
/** Ends that look the same way: cosine between them. Two that face each other are one broken line. */
const SAME_WAY = 0.88;

export function countNeighbours({ x, y, dx, dy }: EndColumns, lineWidth: number): EndNeighbours {
  const count = x.length;
  const parallel = new Int32Array(count);
  const near = new Int32Array(count);
  const around = new Int32Array(count);
  if (count === 0) return { parallel, near, around };
  const index = new Flatbush(count);
  for (let k = 0; k < count; k++) index.add(x[k]!, y[k]!);
  index.finish();
  const reach = NEAR * lineWidth;
  const far = AROUND * lineWidth;
  for (let a = 0; a < count; a++) {
    index.search(x[a]! - far, y[a]! - far, x[a]! + far, y[a]! + far, (b) => {
      const vx = x[b]! - x[a]!;
      const vy = y[b]! - y[a]!;
      const d2 = vx * vx + vy * vy;
      if (a === b || d2 > far * far) return false;
      around[a] = around[a]! + 1;
      if (d2 > reach * reach) return false;
      near[a] = near[a]! + 1;
      if (dx[a]! * dx[b]! + dy[a]! * dy[b]! >= SAME_WAY) parallel[a] = parallel[a]! + 1;
      return false;
    });
  }
  return { parallel, near, around };
}

/** An end of a stroke in hatching says this much of what another one says. */
const IN_TEXTURE = 0.1;

/** Long strokes count full; an end among parallel ones is discounted by their number, one in hatching nearly wholly. */
export function weighEnds(
  { radius, length, web }: Pick<LooseEnds, 'radius' | 'length' | 'web'>,
  { parallel }: Pick<EndNeighbours, 'parallel'>,
  inTexture: Uint8Array,
  lineWidth: number,
): Float64Array {
  const weights = new Float64Array(radius.length);
  for (let k = 0; k < weights.length; k++) {
    weights[k] =
      weightOf(radius[k]!, length[k]!, web[k]!, inTexture[k] === 1, lineWidth) /
      (1 + (parallel[k]! > 1 ? parallel[k]! : 0));
  }
  return weights;
}

/** What the stroke of an end says. */
function weightOf(radius: number, length: number, web: number, inTexture: boolean, lineWidth: number): number {
  const share = Math.min(1, (2 * radius + 0.5) / lineWidth);
  const thinness = Math.max(THINNEST, share * share);
  // Letters and specks are small pieces of ink on their own.
  const alone = Math.max(SMALLEST, Math.min(1, web / (LARGE_WEB * lineWidth)));
  return Math.min(1, length / (FULL_LENGTH * lineWidth)) * (inTexture ? IN_TEXTURE : 1) * thinness * alone;
}
