import { Int32Stack } from '../raster/growable.ts';

/** From this alpha on a pixel is ink (half coverage). */
export const INK_THRESHOLD = 128;
/** A ridge pixel counts down to this alpha, when it hangs on stronger ink. */
const RIDGE_FLOOR = 64;
/** A ridge pixel at or above this alpha needs nothing to hang on: half coverage less the rounding of a line that lies across two pixels. */
const RIDGE_SEED = 112;

/**
 * The pixels that are ink though they are below half coverage: along ridges ink reaches down to a
 * quarter by hysteresis, so that an anti-aliased hairline does not break into dots (hysteresis
 * after Canny 1986). The ink mask is these and every pixel at {@link INK_THRESHOLD} or above.
 *
 * @returns pixel indices. Cost: one read of the page by words, more only on the fringe of lines.
 */
export function findFaintInk(inkAlpha: Uint8Array, width: number, height: number): Int32Array {
  const ridge = findFaintRidges(inkAlpha, width, height);
  // Ridges start at full ink or at their own seeds and grow along themselves.
  const front = new Int32Stack(Math.max(16, ridge.length));
  const waiting = new Set<number>();
  for (let k = 0; k < ridge.length; k++) {
    const at = ridge.data[k]!;
    if (inkAlpha[at]! >= RIDGE_SEED || touchesInk(inkAlpha, width, at)) front.push(at);
    else waiting.add(at);
  }
  for (let k = 0; k < front.length && waiting.size > 0; k++) {
    const at = front.data[k]!;
    for (let dy = -width; dy <= width; dy += width) {
      for (let dx = -1; dx <= 1; dx++) {
        if (waiting.delete(at + dy + dx)) front.push(at + dy + dx);
      }
    }
  }
  return front.data.slice(0, front.length);
}

/** Pixels between a quarter and half coverage that are the crest of a line in some direction. */
function findFaintRidges(ink: Uint8Array, width: number, height: number): Int32Stack {
  const found = new Int32Stack(1024);
  const words = new Uint32Array(ink.buffer, ink.byteOffset, ink.length >>> 2);
  for (let k = 0; k < words.length; k++) {
    const word = words[k]!;
    if ((word & 0x40404040 & ~(word >>> 1)) === 0) continue;
    for (let at = 4 * k; at < 4 * k + 4; at++) if (isRidge(ink, at, width, height)) found.push(at);
  }
  for (let at = words.length * 4; at < ink.length; at++) if (isRidge(ink, at, width, height)) found.push(at);
  return found;
}

function isRidge(ink: Uint8Array, at: number, width: number, height: number): boolean {
  const a = ink[at]!;
  if (a < RIDGE_FLOOR || a >= INK_THRESHOLD) return false;
  const x = at % width;
  const y = (at - x) / width;
  // The rim of the page shows only half of a line's cross-section: leave it to the threshold.
  if (x === 0 || y === 0 || x === width - 1 || y === height - 1) return false;
  return (
    isCrest(a, ink[at - 1]!, ink[at + 1]!) ||
    isCrest(a, ink[at - width]!, ink[at + width]!) ||
    isCrest(a, ink[at - width - 1]!, ink[at + width + 1]!) ||
    isCrest(a, ink[at - width + 1]!, ink[at + width - 1]!)
  );
}

/** A crest falls off clearly on both sides: to a half of it or less on one, and not above it on the other. */
function isCrest(a: number, before: number, after: number): boolean {
  return before <= a && after <= a && (before * 2 <= a || after * 2 <= a) && before + after <= a + (a >> 1);
}

/** Ridges keep off the rim, so all eight neighbours exist. */
function touchesInk(ink: Uint8Array, width: number, at: number): boolean {
  for (let dy = -width; dy <= width; dy += width) {
    for (let dx = -1; dx <= 1; dx++) if (ink[at + dy + dx]! >= INK_THRESHOLD) return true;
  }
  return false;
}
