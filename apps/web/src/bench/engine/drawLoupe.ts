import { compose, type CellPaint, type PyramidLevel } from '@jumble/core';

/** Picture px per page px in the loupe. */
export const LOUPE_ZOOM = 12;
/** Diameter of the loupe in px. */
export const LOUPE_PX = 204;

/** True pixels around a page point, with a grid and a frame round the one that is meant. */
export function drawLoupe(
  context: OffscreenCanvasRenderingContext2D,
  at: readonly [number, number] | null,
  levels: readonly PyramidLevel[],
  paint: CellPaint,
): void {
  if (at === null) return;
  const cells = LOUPE_PX / LOUPE_ZOOM;
  const [x, y] = [Math.floor(at[0]), Math.floor(at[1])];
  const out = new Uint32Array(LOUPE_PX * LOUPE_PX);
  const left = x - Math.floor(cells / 2);
  const top = y - Math.floor(cells / 2);
  compose(levels, paint, { x: left, y: top, scale: LOUPE_ZOOM, width: LOUPE_PX, height: LOUPE_PX }, out, {
    markMissing: true,
  });
  context.putImageData(new ImageData(new Uint8ClampedArray(out.buffer), LOUPE_PX, LOUPE_PX), 0, 0);
  context.strokeStyle = 'rgba(128,128,128,0.45)';
  context.lineWidth = 1;
  context.beginPath();
  for (let k = 0; k <= cells; k++) {
    context.moveTo(k * LOUPE_ZOOM + 0.5, 0);
    context.lineTo(k * LOUPE_ZOOM + 0.5, LOUPE_PX);
    context.moveTo(0, k * LOUPE_ZOOM + 0.5);
    context.lineTo(LOUPE_PX, k * LOUPE_ZOOM + 0.5);
  }
  context.stroke();
  context.strokeStyle = '#2f5d68';
  context.lineWidth = 2;
  context.strokeRect((x - left) * LOUPE_ZOOM, (y - top) * LOUPE_ZOOM, LOUPE_ZOOM + 1, LOUPE_ZOOM + 1);
}
