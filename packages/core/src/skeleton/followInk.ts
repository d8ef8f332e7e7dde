import type { InkGrid } from './InkGrid.ts';
import type { LooseEnds, Stroke } from './traceStrokes.ts';

/** Strokes are followed over so many line widths. */
const LONGEST_WIDTHS = 170;
/** Wider than so many times its own width, the ink is that of another stroke as well ... */
const WIDER = 1.15;
/** ... and from so many times on says nothing of where this one goes: the pen goes straight on ... */
const MUCH_WIDER = 1.5;
/** ... over so many own widths at most. */
const MOST_BLIND = 24;
/** A stroke that was flicked grows wider from its tip, so many times in a step at most. */
const SWELL = 1.03;
/** A tip says little of its stroke, which may be so many times as wide. */
const TIP = 1.3;
/** Across another stroke, up to so many own widths, it is as wide as before. */
const CROSSING = 5;
/** Steps between points, in px. */
const STEP = 1.5;
/** A stroke of hatching bends little: cosine of the most it turns from where it began. */
const MOST_TURN = 0.9;
/** Share of the way's own direction taken over in a step. */
const TURN = 0.15;

/**
 * Follows the ink from a loose end back along its stroke, as the pen went: straight across whatever it
 * crosses, and not along it. It ends where no ink is ahead.
 *
 * @param lineWidth in px of the grid.
 */
export function followInk(
  grid: InkGrid,
  ends: Pick<LooseEnds, 'x' | 'y' | 'dx' | 'dy' | 'radius' | 'body'>,
  end: number,
  lineWidth: number,
): Stroke {
  const own = Math.max(0.75, ends.radius[end]!);
  let [dx, dy] = [-ends.dx[end]!, -ends.dy[end]!];
  let [x, y] = [ends.x[end]!, ends.y[end]!];
  const steps = Math.ceil((LONGEST_WIDTHS * lineWidth) / STEP);
  const { xs, ys, radius } = pointsFor(steps + 1);
  xs[0] = x;
  ys[0] = y;
  radius[0] = own;
  let count = 1;
  let body = 2 * Math.max(own, Math.min(ends.body[end]!, TIP * own)) + 0.5;
  let blind = 0;
  let sure = 1;
  const across: Across = { width: 0, middle: 0 };
  for (let k = 0; k < steps && blind * STEP <= MOST_BLIND * 2 * own; k++) {
    const [px, py] = [x + dx * STEP, y + dy * STEP];
    if (!measureAcross(grid, px, py, -dy, dx, body + 2, across)) break;
    const isOwn = across.width <= WIDER * body + 0.5;
    if (across.width > MUCH_WIDER * body + 0.5) {
      blind++;
      [x, y] = [px, py];
    } else {
      blind = 0;
      [x, y] = [px - dy * across.middle * 0.6, py + dx * across.middle * 0.6];
    }
    xs[count] = x;
    ys[count] = y;
    radius[count++] = isOwn ? Math.max(own, (across.width - 0.5) / 2) : 0;
    if (isOwn) {
      const from = sure;
      if ((count - 1 - from) * STEP <= CROSSING * body)
        for (let p = from; p < count - 1; p++) radius[p] = radius[from - 1]!;
      sure = count;
      body = Math.max(body, Math.min(across.width, body * SWELL));
    }
    if (blind > 0) continue;
    // The direction follows the last few points that lie on the stroke alone.
    const back = Math.max(0, count - 9);
    const [wx, wy] = [x - xs[back]!, y - ys[back]!];
    const norm = Math.sqrt(wx * wx + wy * wy);
    if (count < 9 || norm === 0) continue;
    const [tx, ty] = [dx + (wx / norm - dx) * TURN, dy + (wy / norm - dy) * TURN];
    const turned = Math.sqrt(tx * tx + ty * ty) || 1;
    [dx, dy] = [tx / turned, ty / turned];
    if (dx * -ends.dx[end]! + dy * -ends.dy[end]! < MOST_TURN) break;
  }
  const stroke = { x: new Int32Array(sure), y: new Int32Array(sure), radius: new Float64Array(sure) };
  for (let k = 0; k < sure; k++) {
    stroke.x[k] = Math.round(xs[k]!);
    stroke.y[k] = Math.round(ys[k]!);
    stroke.radius[k] = radius[k]!;
  }
  return { ...stroke, length: (sure - 1) * STEP };
}

/** Points of a stroke while it is followed: room that is used again. */
let points = { xs: new Float64Array(0), ys: new Float64Array(0), radius: new Float64Array(0) };

function pointsFor(count: number): typeof points {
  if (points.xs.length < count) {
    points = { xs: new Float64Array(count), ys: new Float64Array(count), radius: new Float64Array(count) };
  }
  return points;
}

/** The ink on a line across the way. */
interface Across {
  width: number;
  /** Where its middle lies. */
  middle: number;
}

/** A stroke that swerves is found beside the way, within a px and a half. */
const BESIDE = [0, 0.5, -0.5, 1, -1, 1.5, -1.5];

/** Measures the ink on a line across the way; false where there is none. */
function measureAcross(
  grid: InkGrid,
  x: number,
  y: number,
  nx: number,
  ny: number,
  reach: number,
  into: Across,
): boolean {
  for (let k = 0; k < BESIDE.length; k++) {
    const start = BESIDE[k]!;
    if (!isInk(grid, x + nx * start, y + ny * start)) continue;
    let low = start;
    while (low > -reach && isInk(grid, x + nx * (low - 0.5), y + ny * (low - 0.5))) low -= 0.5;
    let high = start;
    while (high < reach && isInk(grid, x + nx * (high + 0.5), y + ny * (high + 0.5))) high += 0.5;
    into.width = high - low + 0.5;
    into.middle = (low + high) / 2;
    return true;
  }
  return false;
}

function isInk({ ink, width, height }: InkGrid, x: number, y: number): boolean {
  const px = Math.round(x);
  const py = Math.round(y);
  return px >= 0 && py >= 0 && px < width && py < height && ink[py * width + px]! >= 128;
}
