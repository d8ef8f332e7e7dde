import { inflateSync } from 'node:zlib';

/**
 * The tags that say what the pixels are (TIFF 6.0, 1992, with its supplements for JPEG, Deflate and ICC). What
 * else stands in a file, known or not, is no business of the picture's.
 */
const PIXEL_TAGS = new Set([
  254, 255, 256, 257, 258, 259, 262, 266, 273, 274, 277, 278, 279, 280, 281, 282, 283, 284, 292, 293, 296, 301, 317,
  318, 319, 320, 322, 323, 324, 325, 332, 338, 339, 347, 512, 513, 514, 515, 517, 518, 519, 520, 521, 529, 530, 531,
  532, 34675,
]);
const COMPRESSION = 259;
/** Offsets and byte counts of the pieces a picture is stored in: strips, or tiles. */
const PIECES = [
  [273, 279],
  [324, 325],
] as const;
const DEFLATE = new Set([8, 32946]);
/** Bytes of a value, by its type; types a tag of the pixels does not have are left out. */
const BYTES_OF_TYPE: Readonly<Record<number, number>> = { 1: 1, 3: 2, 4: 4, 13: 4, 16: 8, 18: 8 };

/** Where things stand in the first directory of a file: classic, or with 64-bit offsets. */
interface Directory {
  readonly view: DataView;
  readonly little: boolean;
  readonly big: boolean;
  /** First byte of the first entry. */
  readonly entries: number;
  readonly count: number;
  readonly entryBytes: number;
}

/**
 * Makes a TIFF file say nothing but what its pixels are, so that whatever its decoder complains of after that is
 * damage. Its first directory is written over in place: entries in their order, no further directory.
 *
 * @throws RangeError when the directory points outside the file; an Error of zlib when a deflated piece does not
 *   keep its checksum, which the decoder does not look at.
 */
export function plainTiff(bytes: Uint8Array): void {
  const directory = findDirectory(bytes);
  keepPixelTags(directory);
  checkDeflated(bytes, directory);
}

function findDirectory(bytes: Uint8Array): Directory {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const little = view.getUint8(0) === 0x49;
  const big = view.getUint16(2, little) === 43;
  const at = big ? Number(view.getBigUint64(8, little)) : view.getUint32(4, little);
  const count = big ? Number(view.getBigUint64(at, little)) : view.getUint16(at, little);
  const entries = at + (big ? 8 : 2);
  const entryBytes = big ? 20 : 12;
  if (entries + count * entryBytes + (big ? 8 : 4) > bytes.length) throw new RangeError('its directory is cut short');
  return { view, little, big, entries, count, entryBytes };
}

function keepPixelTags({ view, little, big, entries, count, entryBytes }: Directory): void {
  const kept: { tag: number; bytes: Uint8Array }[] = [];
  for (let k = 0; k < count; k++) {
    const at = entries + k * entryBytes;
    const tag = view.getUint16(at, little);
    const bytes = new Uint8Array(view.buffer, view.byteOffset + at, entryBytes).slice();
    if (PIXEL_TAGS.has(tag) && !kept.some((one) => one.tag === tag)) kept.push({ tag, bytes });
  }
  kept.sort((a, b) => a.tag - b.tag);
  const out = new Uint8Array(view.buffer, view.byteOffset + entries, count * entryBytes + (big ? 8 : 4));
  out.fill(0);
  kept.forEach(({ bytes }, k) => out.set(bytes, k * entryBytes));
  if (big) view.setBigUint64(entries - 8, BigInt(kept.length), little);
  else view.setUint16(entries - 2, kept.length, little);
}

function checkDeflated(bytes: Uint8Array, directory: Directory): void {
  if (!DEFLATE.has(valuesOf(directory, COMPRESSION)[0] ?? 0)) return;
  for (const [offsetTag, lengthTag] of PIECES) {
    const lengths = valuesOf(directory, lengthTag);
    valuesOf(directory, offsetTag).forEach((offset, k) => {
      const length = lengths[k] ?? 0;
      // An empty piece stands for one that was never written: the decoder takes it as such.
      if (length > 0) inflateSync(bytes.subarray(offset, offset + length));
    });
  }
}

/** The whole numbers of a tag; none where it is not there. */
function valuesOf({ view, little, big, entries, count, entryBytes }: Directory, wanted: number): number[] {
  for (let k = 0; k < count; k++) {
    const at = entries + k * entryBytes;
    if (view.getUint16(at, little) !== wanted) continue;
    const size = BYTES_OF_TYPE[view.getUint16(at + 2, little)];
    if (size === undefined) return [];
    const number = big ? Number(view.getBigUint64(at + 4, little)) : view.getUint32(at + 4, little);
    const own = at + (big ? 12 : 8);
    const inEntry = number * size <= (big ? 8 : 4);
    const first = inEntry ? own : big ? Number(view.getBigUint64(own, little)) : view.getUint32(own, little);
    if (first + number * size > view.byteLength) throw new RangeError('a list in its directory is cut short');
    return Array.from({ length: number }, (_, n) => wholeNumber(view, first + n * size, size, little));
  }
  return [];
}

function wholeNumber(view: DataView, at: number, size: number, little: boolean): number {
  if (size === 1) return view.getUint8(at);
  if (size === 2) return view.getUint16(at, little);
  return size === 4 ? view.getUint32(at, little) : Number(view.getBigUint64(at, little));
}
