import type { Viewport } from '@jumble/core';

/** Grey of the ground around the page. */
const GROUND = 138;
/** Zoomed out, a picture px is the mean of at most so many page px a side. */
const MOST_SAMPLES = 4;

/** Shows a file as it came, grey for grey, at the place the page is shown at. */
export function drawOriginal(
  context: OffscreenCanvasRenderingContext2D,
  grey: Uint8Array,
  width: number,
  height: number,
  view: Viewport,
): void {
  const { canvas } = context;
  if (canvas.width !== view.width || canvas.height !== view.height) {
    canvas.width = view.width;
    canvas.height = view.height;
  }
  const words = new Uint32Array(view.width * view.height);
  const step = 1 / view.scale;
  const samples = Math.max(1, Math.min(MOST_SAMPLES, Math.floor(step)));
  for (let y = 0; y < view.height; y++) {
    sampleRow(grey, width, height, view.x, view.y + y * step, step, samples, words, y * view.width, view.width);
  }
  context.putImageData(new ImageData(new Uint8ClampedArray(words.buffer), view.width, view.height), 0, 0);
}

function sampleRow(
  grey: Uint8Array,
  width: number,
  height: number,
  x0: number,
  y0: number,
  step: number,
  samples: number,
  out: Uint32Array,
  base: number,
  count: number,
): void {
  const { floor } = Math;
  const part = step / samples;
  for (let k = 0; k < count; k++) {
    let sum = 0;
    for (let j = 0; j < samples; j++) {
      const py = floor(y0 + (j + 0.5) * part);
      for (let i = 0; i < samples; i++) {
        const px = floor(x0 + k * step + (i + 0.5) * part);
        sum += px < 0 || py < 0 || px >= width || py >= height ? GROUND : grey[py * width + px]!;
      }
    }
    const value = floor(sum / (samples * samples));
    out[base + k] = 0xff000000 | (value << 16) | (value << 8) | value;
  }
}
