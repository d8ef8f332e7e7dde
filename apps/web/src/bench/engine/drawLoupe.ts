import { compose, type CellPaint, type PyramidLevel } from '@jumble/core';

/** Picture px per page px in the loupe. */
export const LOUPE_ZOOM = 12;
/** Diameter of the loupe in px. */
export const LOUPE_PX = 204;
/** Between two loupes side by side. */
const BETWEEN_PX = 4;
/** Width of the loupe while it compares two rules of trap. */
export const TWO_LOUPES_PX = 2 * LOUPE_PX + BETWEEN_PX;

const CELLS = LOUPE_PX / LOUPE_ZOOM;
/** How much of the ink's black is laid over what lies under it. */
const INK_SHARE = 0.4;

/** True pixels around a page point, with a grid and a frame round the one that is meant. */
export function drawLoupe(
  context: OffscreenCanvasRenderingContext2D,
  at: readonly [number, number],
  levels: readonly PyramidLevel[],
  paint: CellPaint,
): void {
  setWidth(context, LOUPE_PX);
  const place = placeOf(at);
  drawPixels(context, 0, place, levels, paint, true);
  drawGrid(context, 0, place);
}

/** The same place under two traps, side by side: the colour under the ink, with the ink's edge. */
export function drawTwoTraps(
  context: OffscreenCanvasRenderingContext2D,
  at: readonly [number, number],
  levels: readonly PyramidLevel[],
  now: CellPaint,
  other: CellPaint,
  otherWords: string,
): void {
  setWidth(context, TWO_LOUPES_PX);
  context.fillStyle = '#fff';
  context.fillRect(LOUPE_PX, 0, BETWEEN_PX, LOUPE_PX);
  const place = placeOf(at);
  for (const [left, paint, words] of [
    [0, now, 'now'],
    [LOUPE_PX + BETWEEN_PX, other, otherWords],
  ] as const) {
    drawPixels(context, left, place, levels, paint, false);
    drawInk(context, left, place, levels[0]!);
    drawGrid(context, left, place);
    context.font = '600 12px "IBM Plex Sans", sans-serif';
    const width = context.measureText(words).width + 12;
    context.fillStyle = '#fff';
    context.fillRect(left + (LOUPE_PX - width) / 2, LOUPE_PX - 24, width, 18);
    context.fillStyle = '#1b1c1d';
    context.fillText(words, left + (LOUPE_PX - width) / 2 + 6, LOUPE_PX - 11);
  }
}

interface Place {
  readonly x: number;
  readonly y: number;
  readonly left: number;
  readonly top: number;
}

function placeOf(at: readonly [number, number]): Place {
  const [x, y] = [Math.floor(at[0]), Math.floor(at[1])];
  return { x, y, left: x - Math.floor(CELLS / 2), top: y - Math.floor(CELLS / 2) };
}

function setWidth({ canvas }: OffscreenCanvasRenderingContext2D, width: number): void {
  // Setting it wipes the canvas.
  if (canvas.width !== width) canvas.width = width;
}

function drawPixels(
  context: OffscreenCanvasRenderingContext2D,
  at: number,
  { left, top }: Place,
  levels: readonly PyramidLevel[],
  paint: CellPaint,
  showInk: boolean,
): void {
  const out = new Uint32Array(LOUPE_PX * LOUPE_PX);
  const view = { x: left, y: top, scale: LOUPE_ZOOM, width: LOUPE_PX, height: LOUPE_PX };
  compose(levels, paint, view, out, { markMissing: true, showInk });
  context.putImageData(new ImageData(new Uint8ClampedArray(out.buffer), LOUPE_PX, LOUPE_PX), at, 0);
}

/** The ink as a veil, and a line where it begins. */
function drawInk(
  context: OffscreenCanvasRenderingContext2D,
  at: number,
  { left, top }: Place,
  { width, height, inkAlpha, field }: PyramidLevel,
): void {
  const isInk = (x: number, y: number): boolean =>
    x >= 0 && y >= 0 && x < width && y < height && field[y * width + x]! < 0;
  context.strokeStyle = '#1b1c1d';
  context.lineWidth = 2;
  context.beginPath();
  for (let row = 0; row < CELLS; row++) {
    for (let column = 0; column < CELLS; column++) {
      const [x, y] = [left + column, top + row];
      const [px, py] = [at + column * LOUPE_ZOOM, row * LOUPE_ZOOM];
      if (x < 0 || y < 0 || x >= width || y >= height) continue;
      context.fillStyle = `rgba(0,0,0,${(INK_SHARE * inkAlpha[y * width + x]!) / 255})`;
      context.fillRect(px, py, LOUPE_ZOOM, LOUPE_ZOOM);
      if (column > 0 && isInk(x, y) !== isInk(x - 1, y)) {
        context.moveTo(px, py);
        context.lineTo(px, py + LOUPE_ZOOM);
      }
      if (row > 0 && isInk(x, y) !== isInk(x, y - 1)) {
        context.moveTo(px, py);
        context.lineTo(px + LOUPE_ZOOM, py);
      }
    }
  }
  context.stroke();
}

function drawGrid(context: OffscreenCanvasRenderingContext2D, at: number, { x, y, left, top }: Place): void {
  context.strokeStyle = 'rgba(128,128,128,0.45)';
  context.lineWidth = 1;
  context.beginPath();
  for (let k = 0; k <= CELLS; k++) {
    context.moveTo(at + k * LOUPE_ZOOM + 0.5, 0);
    context.lineTo(at + k * LOUPE_ZOOM + 0.5, LOUPE_PX);
    context.moveTo(at, k * LOUPE_ZOOM + 0.5);
    context.lineTo(at + LOUPE_PX, k * LOUPE_ZOOM + 0.5);
  }
  context.stroke();
  context.strokeStyle = '#2f5d68';
  context.lineWidth = 2;
  context.strokeRect(at + (x - left) * LOUPE_ZOOM, (y - top) * LOUPE_ZOOM, LOUPE_ZOOM + 1, LOUPE_ZOOM + 1);
}
