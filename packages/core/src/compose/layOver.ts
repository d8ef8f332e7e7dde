/** Black ink of this alpha over an opaque word, each channel rounded to the nearest step. @returns a signed word */
export function darken(word: number, alpha: number): number {
  const rest = 255 - alpha;
  if (rest === 0) return 0xff000000 | 0;
  let r = (word & 255) * rest + 128;
  let g = ((word >>> 8) & 255) * rest + 128;
  let b = ((word >>> 16) & 255) * rest + 128;
  r = (r + (r >> 8)) >> 8;
  g = (g + (g >> 8)) >> 8;
  b = (b + (b >> 8)) >> 8;
  return 0xff000000 | (b << 16) | (g << 8) | r;
}

/** A colour of this alpha over an opaque word, each channel rounded to the nearest step. @returns a signed word */
export function layOver(word: number, over: number, alpha: number): number {
  const rest = 255 - alpha;
  let r = (word & 255) * rest + (over & 255) * alpha + 128;
  let g = ((word >>> 8) & 255) * rest + ((over >>> 8) & 255) * alpha + 128;
  let b = ((word >>> 16) & 255) * rest + ((over >>> 16) & 255) * alpha + 128;
  r = (r + (r >> 8)) >> 8;
  g = (g + (g >> 8)) >> 8;
  b = (b + (b >> 8)) >> 8;
  return 0xff000000 | (b << 16) | (g << 8) | r;
}
