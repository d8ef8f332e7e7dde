import { labelBlobs } from './labelBlobs.ts';

/** A layer of flats on the whole page. */
export interface DiffLayer {
  readonly group: string | null;
  readonly name: string;
  /** Straight RGBA of the box. */
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  readonly data: Uint8Array;
}

export interface LayerDiff {
  /** Parts most of whose pixels have one new colour. Colours as 0xRRGGBB. */
  readonly recoloured: readonly { readonly part: string; readonly from: number; readonly to: number }[];
  /** Places that have another part than before; null for none. */
  readonly moved: readonly {
    readonly x: number;
    readonly y: number;
    readonly width: number;
    readonly height: number;
    readonly areaPx: number;
    readonly from: string | null;
    readonly to: string | null;
  }[];
  readonly added: readonly string[];
  readonly removed: readonly string[];
}

/** Alpha from which a pixel counts as there: layers that came back may have soft edges. */
const THERE = 128;

const keyOf = ({ group, name }: Pick<DiffLayer, 'group' | 'name'>): string => JSON.stringify([group, name]);

/**
 * What became of flats that were sent: layers are matched by group and name, and each pixel belongs to the topmost layer that
 * has one there.
 *
 * @param sent, returned the layers, topmost first.
 */
export function diffLayers(
  width: number,
  height: number,
  sent: readonly DiffLayer[],
  returned: readonly DiffLayer[],
): LayerDiff {
  const names = new Map<string, number>();
  for (const layer of sent) if (!names.has(keyOf(layer))) names.set(keyOf(layer), names.size + 1);
  const known = new Set(returned.map(keyOf));
  const was = ownersOf(width, height, sent, names);
  const is = ownersOf(width, height, returned, names);
  const partOf = new Map(sent.map((layer) => [names.get(keyOf(layer))!, layer.name]));
  return {
    recoloured: recolouredIn(sent, returned),
    moved: movedIn(width, height, was, is, partOf),
    added: returned.filter((layer) => !names.has(keyOf(layer))).map(({ name }) => name),
    removed: sent.filter((layer) => !known.has(keyOf(layer))).map(({ name }) => name),
  };
}

/** Number of the layer each pixel belongs to, 0 for none; layers that were not sent own nothing. */
function ownersOf(
  width: number,
  height: number,
  layers: readonly DiffLayer[],
  names: ReadonlyMap<string, number>,
): Uint16Array {
  const owners = new Uint16Array(width * height);
  for (const layer of layers) {
    const number = names.get(keyOf(layer));
    if (number === undefined) continue;
    eachPixel(layer, width, height, (at, from) => {
      if (owners[at] === 0 && layer.data[from + 3]! >= THERE) owners[at] = number;
    });
  }
  return owners;
}

function eachPixel(
  { x, y, width: columns, height: rows }: DiffLayer,
  width: number,
  height: number,
  visit: (at: number, from: number) => void,
): void {
  for (let row = Math.max(0, -y); row < Math.min(rows, height - y); row++) {
    for (let column = Math.max(0, -x); column < Math.min(columns, width - x); column++)
      visit((row + y) * width + column + x, (row * columns + column) * 4);
  }
}

/** The colour most pixels of a layer have, and how many do; -1 for a layer without any. */
function mainColour({ data }: DiffLayer): { readonly rgb: number; readonly share: number } {
  const counts = new Map<number, number>();
  let all = 0;
  for (let at = 0; at < data.length; at += 4) {
    if (data[at + 3]! < THERE) continue;
    all++;
    const rgb = (data[at]! << 16) | (data[at + 1]! << 8) | data[at + 2]!;
    counts.set(rgb, (counts.get(rgb) ?? 0) + 1);
  }
  let [rgb, most] = [-1, 0];
  for (const [one, count] of counts) if (count > most) [rgb, most] = [one, count];
  return { rgb, share: all === 0 ? 0 : most / all };
}

function recolouredIn(sent: readonly DiffLayer[], returned: readonly DiffLayer[]): LayerDiff['recoloured'] {
  const back = new Map(returned.map((layer) => [keyOf(layer), layer]));
  return sent.flatMap((layer) => {
    const now = back.get(keyOf(layer));
    if (now === undefined) return [];
    const [from, to] = [mainColour(layer), mainColour(now)];
    return from.rgb < 0 || to.rgb < 0 || from.rgb === to.rgb || to.share <= 0.5
      ? []
      : [{ part: layer.name, from: from.rgb, to: to.rgb }];
  });
}

function movedIn(
  width: number,
  height: number,
  was: Uint16Array,
  is: Uint16Array,
  partOf: ReadonlyMap<number, string>,
): LayerDiff['moved'] {
  const numbers = 65_536;
  const blobs = labelBlobs(
    width,
    height,
    (y, classes) => {
      for (let x = 0, at = y * width; x < width; x++, at++)
        classes[x] = was[at] === is[at] ? 0 : 1 + was[at]! * numbers + is[at]!;
    },
    true,
  );
  return Array.from({ length: blobs.count }, (_, blob) => {
    const [x0, y0, x1, y1] = blobs.box.subarray(blob * 4, blob * 4 + 4) as unknown as [number, number, number, number];
    const one = blobs.of[blob]! - 1;
    return {
      x: x0,
      y: y0,
      width: x1 - x0,
      height: y1 - y0,
      areaPx: blobs.areaPx[blob]!,
      from: partOf.get(Math.floor(one / numbers)) ?? null,
      to: partOf.get(one % numbers) ?? null,
    };
  }).sort((a, b) => b.areaPx - a.areaPx || a.y - b.y || a.x - b.x);
}
