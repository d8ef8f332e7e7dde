import { HALF, type CheckedFlats } from './FlatsColours.ts';
import { labelBlobs } from './labelBlobs.ts';

/** Flats of a page: a part's number + 1 for each pixel, 0 for none, and the colour of each number. */
export interface SentFlats {
  readonly width: number;
  readonly height: number;
  readonly data: Uint16Array;
  /** 0xRRGGBB */
  readonly rgb: readonly number[];
}

export interface ReturnedChanges {
  /** Parts most of whose pixels have one new colour, the largest first. */
  readonly recoloured: readonly { readonly number: number; readonly to: number; readonly areaPx: number }[];
  /** Places that have another part than before, the largest first; null for none. */
  readonly moved: readonly {
    readonly x: number;
    readonly y: number;
    readonly width: number;
    readonly height: number;
    readonly areaPx: number;
    readonly from: number | null;
    readonly to: number | null;
  }[];
  /** What each moved pixel has now: 0 where nothing moved, {@link MOVED_TO_NONE}, else the part's number + 2. */
  readonly partNow: Uint16Array;
  /** Pixels whose colour no part has, old or new. */
  readonly unknownPx: number;
}

export const MOVED_TO_NONE = 1;

/**
 * What became of flats that were sent, by their colours alone, however they lie in layers. Soft edges say nothing.
 *
 * @param sent the page as it is now. @param asSent the colours that went out: what came back as it went says nothing, whatever
 *   was changed on the page since. Null where nobody knows. @throws RangeError where sizes differ.
 */
export function compareReturned(
  sent: SentFlats,
  returned: CheckedFlats,
  asSent: CheckedFlats | null = null,
): ReturnedChanges {
  const { width, height, data, rgb } = sent;
  if (returned.width !== width || returned.height !== height)
    throw new RangeError(`\`returned\` has ${returned.width} x ${returned.height} px, \`sent\` ${width} x ${height}`);
  if (asSent !== null && asSent.data.length !== returned.data.length)
    throw new RangeError('`asSent` must have the size of `returned`');
  const isSame = asSent === null ? () => false : sameAs(asSent, returned);
  const recoloured = findRecoloured(sent, returned, isSame);
  const colourNow = [...rgb];
  for (const { number, to } of recoloured) colourNow[number] = to;
  const partOf = partsByColour(sent, colourNow);

  const partNow = new Uint16Array(width * height);
  let unknownPx = 0;
  for (let at = 0; at < data.length; at++) {
    const value = returned.data[at]!;
    if (value === HALF || isSame(at)) continue;
    const was = data[at]!;
    if (value === 0) {
      if (was !== 0) partNow[at] = MOVED_TO_NONE;
      continue;
    }
    const colour = returned.rgb[value - 1]!;
    if (was !== 0 && colourNow[was - 1] === colour) continue;
    const part = partOf.get(colour);
    if (part === undefined) unknownPx++;
    else partNow[at] = part + 2;
  }
  return { recoloured, moved: placesOf(sent, partNow), partNow, unknownPx };
}

/** Whether a pixel came back in the colour in which it went. */
function sameAs(asSent: CheckedFlats, returned: CheckedFlats): (at: number) => boolean {
  const colourOf = ({ rgb }: CheckedFlats, value: number): number =>
    value === 0 || value === HALF ? -1 - value : rgb[value - 1]!;
  return (at) => colourOf(asSent, asSent.data[at]!) === colourOf(returned, returned.data[at]!);
}

function findRecoloured(
  { data, rgb }: SentFlats,
  returned: CheckedFlats,
  isSame: (at: number) => boolean,
): ReturnedChanges['recoloured'] {
  const counts = rgb.map(() => new Map<number, number>());
  const areaPx = new Uint32Array(rgb.length);
  for (let at = 0; at < data.length; at++) {
    const was = data[at]!;
    if (was === 0) continue;
    areaPx[was - 1] = areaPx[was - 1]! + 1;
    if (isSame(at)) continue;
    const ofPart = counts[was - 1]!;
    const value = returned.data[at]!;
    ofPart.set(value, (ofPart.get(value) ?? 0) + 1);
  }
  return counts
    .flatMap((ofPart, number) => {
      for (const [value, count] of ofPart) {
        const isColour = value !== 0 && value !== HALF;
        if (isColour && count * 2 > areaPx[number]! && returned.rgb[value - 1] !== rgb[number])
          return [{ number, to: returned.rgb[value - 1]!, areaPx: areaPx[number]! }];
      }
      return [];
    })
    .sort((a, b) => b.areaPx - a.areaPx || a.number - b.number);
}

/** Which part a colour means now: of several the one with most pixels. */
function partsByColour({ data, rgb }: SentFlats, colourNow: readonly number[]): Map<number, number> {
  const areaPx = new Uint32Array(rgb.length);
  for (const was of data) if (was !== 0) areaPx[was - 1] = areaPx[was - 1]! + 1;
  const parts = new Map<number, number>();
  colourNow.forEach((colour, number) => {
    const known = parts.get(colour);
    if (areaPx[number]! > 0 && (known === undefined || areaPx[known]! < areaPx[number]!)) parts.set(colour, number);
  });
  return parts;
}

function placesOf({ width, height, data }: SentFlats, partNow: Uint16Array): ReturnedChanges['moved'] {
  const numbers = 65_536;
  const blobs = labelBlobs(
    width,
    height,
    (y, classes) => {
      for (let x = 0, at = y * width; x < width; x++, at++)
        classes[x] = partNow[at] === 0 ? 0 : 1 + data[at]! * numbers + partNow[at]!;
    },
    true,
  );
  return Array.from({ length: blobs.count }, (_, blob) => {
    const [x0, y0, x1, y1] = blobs.box.subarray(blob * 4, blob * 4 + 4) as unknown as [number, number, number, number];
    const one = blobs.of[blob]! - 1;
    const [was, now] = [Math.floor(one / numbers), one % numbers];
    return {
      x: x0,
      y: y0,
      width: x1 - x0,
      height: y1 - y0,
      areaPx: blobs.areaPx[blob]!,
      from: was === 0 ? null : was - 1,
      to: now === MOVED_TO_NONE ? null : now - 2,
    };
  }).sort((a, b) => b.areaPx - a.areaPx || a.y - b.y || a.x - b.x);
}
