/**
 * Reads `#rrggbb` (or `#rgb`) into 0xRRGGBB.
 *
 * @throws TypeError when the text is not such a colour.
 */
export function parseColour(text: string): number {
  const short = /^#([0-9a-f])([0-9a-f])([0-9a-f])$/i.exec(text);
  if (short !== null) return parseInt(`${short[1]}${short[1]}${short[2]}${short[2]}${short[3]}${short[3]}`, 16);
  if (/^#[0-9a-f]{6}$/i.test(text)) return parseInt(text.slice(1), 16);
  throw new TypeError(`\`colour\` must look like #a0b1c2; received ${JSON.stringify(text).slice(0, 40)}`);
}

/** Writes 0xRRGGBB as `#rrggbb`. */
export function formatColour(rgb: number): string {
  return `#${rgb.toString(16).padStart(6, '0')}`;
}

/** An opaque pixel as a little-endian word of RGBA bytes. */
export function rgbaWord(rgb: number): number {
  return (0xff000000 | ((rgb & 0xff) << 16) | (rgb & 0xff00) | (rgb >>> 16)) >>> 0;
}
