/** A small picture of a page: 1 where there is any ink. */
export interface CoarseInk {
  readonly ink: Uint8Array;
  readonly width: number;
  readonly height: number;
  /** Page px per px here. */
  readonly factor: number;
}

/** Longer side of the small picture, in px. */
const SIDE_PX = 900;

/** Reduces the ink of a page so that the thinnest line is still seen. Cost: a read of the page. */
export function coarseInk(inkAlpha: Uint8Array, width: number, height: number): CoarseInk {
  const factor = Math.max(1, Math.ceil(Math.max(width, height) / SIDE_PX));
  const w = Math.ceil(width / factor);
  const h = Math.ceil(height / factor);
  const ink = new Uint8Array(w * h);
  const words = new Uint32Array(inkAlpha.buffer, inkAlpha.byteOffset, inkAlpha.length >>> 2);
  for (let y = 0; y < height; y++) {
    const out = Math.floor(y / factor) * w;
    markRow(inkAlpha, words, y * width, width, ink, out, factor);
  }
  return { ink, width: w, height: h, factor };
}

function markRow(
  inkAlpha: Uint8Array,
  words: Uint32Array,
  base: number,
  width: number,
  ink: Uint8Array,
  out: number,
  factor: number,
): void {
  for (let x = 0; x < width;) {
    const at = base + x;
    if ((at & 3) === 0 && x + 4 <= width && (words[at >>> 2]! & 0x80808080) === 0) {
      x += 4;
      continue;
    }
    if (inkAlpha[at]! >= 128) ink[out + Math.floor(x / factor)] = 1;
    x++;
  }
}
