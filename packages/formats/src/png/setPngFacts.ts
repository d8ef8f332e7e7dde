/** What every PNG of ours says about itself. */
export interface PngFacts {
  /** Print resolution; null leaves it out. */
  readonly dpi: number | null;
}

const SIGNATURE_BYTES = 8;
const REPLACED = new Set(['pHYs', 'sRGB', 'gAMA', 'cHRM', 'iCCP', 'cICP']);

/**
 * Writes resolution (pHYs, in pixels per metre) and colour space (sRGB, perceptual intent) into a
 * PNG right after its header, in place of whatever it said about them (PNG specification, third
 * edition, 11.3).
 *
 * @throws TypeError when the bytes are not a PNG.
 */
export function setPngFacts(png: Uint8Array, facts: PngFacts): Uint8Array {
  const chunks = splitChunks(png);
  const kept = chunks.filter(({ type }) => !REPLACED.has(type));
  const added = [makeChunk('sRGB', Uint8Array.of(0))];
  if (facts.dpi !== null) added.push(makeChunk('pHYs', resolution(facts.dpi)));
  const pieces = [
    png.subarray(0, SIGNATURE_BYTES),
    kept[0]!.bytes,
    ...added,
    ...kept.slice(1).map(({ bytes }) => bytes),
  ];
  const out = new Uint8Array(pieces.reduce((sum, piece) => sum + piece.length, 0));
  let at = 0;
  for (const piece of pieces) {
    out.set(piece, at);
    at += piece.length;
  }
  return out;
}

function splitChunks(png: Uint8Array): { type: string; bytes: Uint8Array }[] {
  const view = new DataView(png.buffer, png.byteOffset, png.byteLength);
  if (png.length < 33 || view.getUint32(0) !== 0x89504e47) throw new TypeError('the bytes are not a PNG');
  const chunks: { type: string; bytes: Uint8Array }[] = [];
  for (let at = SIGNATURE_BYTES; at + 12 <= png.length;) {
    const end = at + 12 + view.getUint32(at);
    if (end > png.length) throw new TypeError('the PNG ends in the middle of a chunk');
    const type = String.fromCharCode(...png.subarray(at + 4, at + 8));
    chunks.push({ type, bytes: png.subarray(at, end) });
    at = end;
  }
  return chunks;
}

function resolution(dpi: number): Uint8Array {
  const data = new Uint8Array(9);
  const view = new DataView(data.buffer);
  const perMetre = Math.round(dpi / 0.0254);
  view.setUint32(0, perMetre);
  view.setUint32(4, perMetre);
  data[8] = 1;
  return data;
}

function makeChunk(type: string, data: Uint8Array): Uint8Array {
  const chunk = new Uint8Array(12 + data.length);
  const view = new DataView(chunk.buffer);
  view.setUint32(0, data.length);
  for (let k = 0; k < 4; k++) chunk[4 + k] = type.charCodeAt(k);
  chunk.set(data, 8);
  view.setUint32(8 + data.length, crc32(chunk.subarray(4, 8 + data.length)));
  return chunk;
}

function crc32(bytes: Uint8Array): number {
  let crc = 0xffffffff;
  for (const byte of bytes) {
    crc ^= byte;
    for (let k = 0; k < 8; k++) crc = crc & 1 ? (crc >>> 1) ^ 0xedb88320 : crc >>> 1;
  }
  return ~crc >>> 0;
}
