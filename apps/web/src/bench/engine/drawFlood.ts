import { UNREACHED, type Flood, type Viewport } from '@jumble/core';

/** How long colour takes to flood over everything it reaches, in ms. */
const SPREAD_MS = 1100;
/** Colour that runs, and its front, as RGB. */
const RUNNING = [197, 64, 120] as const;
const FRONT = [120, 20, 60] as const;
/** Width of the front, in steps. */
const FRONT_STEPS = 4;

let tint: OffscreenCanvas | undefined;

/** Shows how far colour has run after so many ms. @returns whether it still runs. */
export function drawFlood(
  context: OffscreenCanvasRenderingContext2D,
  flood: Flood,
  view: Viewport,
  afterMs: number,
): boolean {
  const share = Math.min(1, afterMs / SPREAD_MS);
  const reached = Math.ceil(share * (flood.mostSteps + 1));
  if (tint === undefined || tint.width !== view.width || tint.height !== view.height)
    tint = new OffscreenCanvas(view.width, view.height);
  const image = new ImageData(view.width, view.height);
  const words = new Uint32Array(image.data.buffer);
  const word = ([r, g, b]: readonly [number, number, number], alpha: number): number =>
    ((alpha << 24) | (b << 16) | (g << 8) | r) >>> 0;
  paintSteps(words, flood, view, reached, word(RUNNING, 120), share < 1 ? word(FRONT, 210) : word(RUNNING, 120));
  tint.getContext('2d')!.putImageData(image, 0, 0);
  context.drawImage(tint, 0, 0);
  return share < 1;
}

function paintSteps(
  words: Uint32Array,
  { steps, width, height, factor }: Flood,
  view: Viewport,
  reached: number,
  running: number,
  front: number,
): void {
  const { floor } = Math;
  for (let y = 0; y < view.height; y++) {
    const gy = floor((view.y + y / view.scale) / factor);
    if (gy < 0 || gy >= height) continue;
    for (let x = 0; x < view.width; x++) {
      const gx = floor((view.x + x / view.scale) / factor);
      if (gx < 0 || gx >= width) continue;
      const step = steps[gy * width + gx]!;
      if (step === UNREACHED || step > reached) continue;
      words[y * view.width + x] = step > reached - FRONT_STEPS ? front : running;
    }
  }
}
