import type { Viewport } from '@jumble/core';

/** A rectangle of the picture, in its px. */
export interface Rect {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** Composes an area of the page: its RGBA words, row by row. */
export type ComposeArea = (area: Viewport) => Uint32Array<ArrayBuffer>;

/** Outlines look at their neighbours: a rectangle is composed with this much around it. */
const MARGIN = 2;

/**
 * The page as it was composed last, without what lies over it: marks, closures and loops come and go while it
 * stays.
 */
export class Picture {
  readonly words: Uint32Array<ArrayBuffer>;

  constructor(
    readonly width: number,
    readonly height: number,
  ) {
    this.words = new Uint32Array(width * height);
  }

  get all(): Rect {
    return { x: 0, y: 0, width: this.width, height: this.height };
  }

  /** The part of a rectangle that lies in the picture; null for none. */
  clip({ x, y, width, height }: Rect): Rect | null {
    const [x0, y0] = [Math.max(0, x), Math.max(0, y)];
    const [x1, y1] = [Math.min(this.width, x + width), Math.min(this.height, y + height)];
    return x1 <= x0 || y1 <= y0 ? null : { x: x0, y: y0, width: x1 - x0, height: y1 - y0 };
  }

  /** Composes a rectangle of it anew. */
  compose(rect: Rect, view: Viewport, composeArea: ComposeArea): void {
    const inside = this.clip(rect);
    if (inside === null) return;
    const width = inside.width + 2 * MARGIN;
    const pixels = composeArea({
      x: view.x + (inside.x - MARGIN) / view.scale,
      y: view.y + (inside.y - MARGIN) / view.scale,
      scale: view.scale,
      width,
      height: inside.height + 2 * MARGIN,
    });
    for (let y = 0; y < inside.height; y++) {
      const from = (y + MARGIN) * width + MARGIN;
      this.words.set(pixels.subarray(from, from + inside.width), (inside.y + y) * this.width + inside.x);
    }
  }

  /** Composes all of it with a quarter of the pixels, enlarged. */
  composeCoarsely(view: Viewport, composeArea: ComposeArea): void {
    const { words, width, height } = this;
    const coarse = { ...view, scale: view.scale / 2, width: Math.ceil(width / 2), height: Math.ceil(height / 2) };
    const pixels = composeArea(coarse);
    for (let y = 0; y < height; y++) {
      const row = (y >> 1) * coarse.width;
      for (let x = 0; x < width; x++) words[y * width + x] = pixels[row + (x >> 1)]!;
    }
  }

  /** Moves what is there; only the strips that come into view are composed. */
  shift(dx: number, dy: number, view: Viewport, composeArea: ComposeArea): void {
    const { words, width, height } = this;
    const from = Math.max(0, -dx);
    const length = width - Math.abs(dx);
    for (let k = 0; k < height - Math.abs(dy); k++) {
      // From the side it moves to, so that no row is read after it was written over.
      const y = dy > 0 ? height - 1 - k : k;
      const source = (y - dy) * width + from;
      words.copyWithin(y * width + from + dx, source, source + length);
    }
    if (dx !== 0) this.compose({ x: dx > 0 ? 0 : width + dx, y: 0, width: Math.abs(dx), height }, view, composeArea);
    if (dy !== 0) this.compose({ x: 0, y: dy > 0 ? 0 : height + dy, width, height: Math.abs(dy) }, view, composeArea);
  }

  /** Puts a rectangle of it on a canvas of its size. */
  put(context: OffscreenCanvasRenderingContext2D, rect: Rect): void {
    const image = new ImageData(new Uint8ClampedArray(this.words.buffer), this.width, this.height);
    context.putImageData(image, 0, 0, rect.x, rect.y, rect.width, rect.height);
  }
}

/** More rectangles than this become one. */
const MOST_RECTS = 8;

/** Rectangles to be drawn anew: those that overlap are one, those far apart stay two. */
export class DirtyRects {
  private rects: Rect[] = [];

  add(rect: Rect): void {
    let grown = rect;
    this.rects = this.rects.filter((one) => {
      const both = union(one, grown);
      if (areaOf(both) > areaOf(one) + areaOf(grown)) return true;
      grown = both;
      return false;
    });
    this.rects.push(grown);
    if (this.rects.length > MOST_RECTS) this.rects = [this.rects.reduce(union)];
  }

  /** What was added since the last time. */
  take(): readonly Rect[] {
    const taken = this.rects;
    this.rects = [];
    return taken;
  }
}

const areaOf = ({ width, height }: Rect): number => width * height;

function union(a: Rect, b: Rect): Rect {
  const x = Math.min(a.x, b.x);
  const y = Math.min(a.y, b.y);
  return {
    x,
    y,
    width: Math.max(a.x + a.width, b.x + b.width) - x,
    height: Math.max(a.y + a.height, b.y + b.height) - y,
  };
}

/** By how many whole picture pixels the view moved; null when it was zoomed, resized or moved far. */
export function shiftBetween(from: Viewport, to: Viewport): readonly [number, number] | null {
  if (from.scale !== to.scale || from.width !== to.width || from.height !== to.height) return null;
  const dx = (from.x - to.x) * to.scale;
  const dy = (from.y - to.y) * to.scale;
  const [wholeX, wholeY] = [Math.round(dx), Math.round(dy)];
  if (Math.abs(dx - wholeX) > 1e-6 || Math.abs(dy - wholeY) > 1e-6) return null;
  return Math.abs(wholeX) < to.width / 2 && Math.abs(wholeY) < to.height / 2 ? [wholeX, wholeY] : null;
}
