/** A page of a TIFF file, by its directory. */
export interface TiffPageFacts {
  /** PageName; empty for none. */
  readonly name: string;
  readonly width: number;
  readonly height: number;
}

const [WIDTH, HEIGHT, PAGE_NAME] = [256, 257, 285];
const SHORT = 3;
/** More pages than this no page has layers. */
const MOST_PAGES = 10_000;

/**
 * Lists the pages of a TIFF file with their names, in either byte order.
 *
 * @throws TypeError where it is none, or its directories lead nowhere or in a ring.
 */
export function readTiffPages(bytes: Uint8Array): TiffPageFacts[] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  const order = bytes.length < 8 ? '' : String.fromCharCode(bytes[0]!, bytes[1]!);
  const little = order === 'II';
  if ((!little && order !== 'MM') || view.getUint16(2, little) !== 42) throw new TypeError('it is not a TIFF file');
  const pages: TiffPageFacts[] = [];
  for (let at = view.getUint32(4, little); at !== 0;) {
    if (pages.length >= MOST_PAGES || at + 2 > bytes.length) throw new TypeError('its list of pages is damaged');
    const count = view.getUint16(at, little);
    const end = at + 2 + count * 12;
    if (end + 4 > bytes.length) throw new TypeError('its list of pages is cut short');
    let [name, width, height] = ['', 0, 0];
    for (let entry = at + 2; entry < end; entry += 12) {
      const tag = view.getUint16(entry, little);
      const value = view.getUint16(entry + 2, little) === SHORT ? view.getUint16(entry + 8, little) : view.getUint32(entry + 8, little); // prettier-ignore
      if (tag === WIDTH) width = value;
      else if (tag === HEIGHT) height = value;
      else if (tag === PAGE_NAME) {
        const size = view.getUint32(entry + 4, little);
        const from = size <= 4 ? entry + 8 : value;
        if (from + size > bytes.length) throw new TypeError('the name of a page is cut short');
        name = new TextDecoder('latin1').decode(bytes.subarray(from, from + size)).replace(/\0.*$/s, '');
      }
    }
    pages.push({ name, width, height });
    at = view.getUint32(end, little);
  }
  return pages;
}
