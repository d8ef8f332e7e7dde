/** A small picture of a page: 1 where there is ink. */
export interface CoarseInk {
  readonly ink: Uint8Array;
  readonly width: number;
  readonly height: number;
  /** Page px per px here. */
  readonly factor: number;
}

/** Longer side of the small picture, in px. */
const SIDE_PX = 900;

/** A square is ink when this much of it is: thin lines are seen, narrow gutters stay open. */
const INK_SHARE = 0.3;

/** Reduces the ink of a page. Cost: a read of the page. */
export function coarseInk(inkAlpha: Uint8Array, width: number, height: number): CoarseInk {
  const factor = Math.max(1, Math.ceil(Math.max(width, height) / SIDE_PX));
  const w = Math.ceil(width / factor);
  const h = Math.ceil(height / factor);
  const counts = new Uint16Array(w * h);
  const words = new Uint32Array(inkAlpha.buffer, inkAlpha.byteOffset, inkAlpha.length >>> 2);
  for (let y = 0; y < height; y++) {
    const out = Math.floor(y / factor) * w;
    countRow(inkAlpha, words, y * width, width, counts, out, factor);
  }
  const least = INK_SHARE * factor * factor;
  const ink = Uint8Array.from(counts, (count) => (count >= least ? 1 : 0));
  return { ink, width: w, height: h, factor };
}

function countRow(
  inkAlpha: Uint8Array,
  words: Uint32Array,
  base: number,
  width: number,
  counts: Uint16Array,
  out: number,
  factor: number,
): void {
  for (let x = 0; x < width;) {
    const at = base + x;
    if ((at & 3) === 0 && x + 4 <= width && (words[at >>> 2]! & 0x80808080) === 0) {
      x += 4;
      continue;
    }
    if (inkAlpha[at]! >= 128) counts[out + Math.floor(x / factor)]!++;
    x++;
  }
}
