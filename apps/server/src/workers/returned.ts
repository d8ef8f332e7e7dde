import {
  compareReturned,
  FlatsBuilder,
  formatColour,
  MOVED_TO_NONE,
  paintOnTiles,
  scenesShown,
  type CheckedFlats,
} from '@jumble/core';
import { asciiName, planFlatsLayers, preparePage } from '@jumble/formats';
import { kindOfFlats, PageFileError, readFlats, readLayers } from '@jumble/raster-io';
import { inputByRule } from './openPage.ts';
import type { ReturnedAnswer, ReturnedTask } from './tasks.ts';

/** Most moved places that are listed. */
const MOST_LISTED = 500;

interface CameBack {
  readonly flats: CheckedFlats;
  readonly ownLayers: readonly string[];
  readonly removedLayers: readonly string[];
}

/** Compares a file that came back with the page as it is now, at the size the page is worked on. */
export async function compareWithPage(task: ReturnedTask): Promise<ReturnedAnswer> {
  try {
    return await compare(task);
  } catch (error) {
    if (error instanceof PageFileError) return { fault: error.message };
    throw error;
  }
}

async function compare(task: ReturnedTask): Promise<ReturnedAnswer> {
  const page = preparePage(await inputByRule(task, task.rule));
  const { parts, rgbOfPart, partCount } = page.flats;
  const layers = planFlatsLayers(page).map(({ group, name }) => ({ group, name }));
  const cameBack = await readBackFlats(task.path, layers);
  const { width, height } = task.full ?? task;
  if (cameBack.flats.width !== width || cameBack.flats.height !== height)
    return {
      fault: `It has ${cameBack.flats.width} x ${cameBack.flats.height} px, the page ${width} x ${height}. It is another page, or was sent at another size or cut; hand the page off as the whole file at its own resolution to get it back.`,
    };
  const atPage = (flats: CheckedFlats): CheckedFlats =>
    task.full === null ? flats : everySecond(flats, task.width, task.height);
  const sent = task.sentPath === null ? null : (await readBackFlats(task.sentPath, layers)).flats;
  const hasItsSize = sent !== null && sent.width === width && sent.height === height;
  const returned = atPage(cameBack.flats);
  const changes = compareReturned(
    { width: task.width, height: task.height, data: parts.data, rgb: rgbOfPart },
    returned,
    hasItsSize ? atPage(sent) : null,
  );
  const all = task.groups.flatMap((group) => group.parts);
  const scenes = scenesShown(task);
  const partId = (number: number | null): string | null => (number === null ? null : all[number % partCount]!.id);
  const none = all.find((part) => part.empty)?.id ?? null;
  const partAt = (x: number, y: number): string | null => {
    const now = changes.partNow[y * task.width + x]!;
    if (now === 0) return null;
    return now === MOVED_TO_NONE ? none : partId(now - 2);
  };
  return {
    report: {
      recoloured: changes.recoloured.map(({ number, to, areaPx }) => ({
        partId: partId(number)!,
        sceneId: scenes[Math.floor(number / partCount)] ?? null,
        from: formatColour(rgbOfPart[number]!),
        to: formatColour(to),
        areaPx,
      })),
      moved: changes.moved.slice(0, MOST_LISTED).map((one) => ({ ...one, from: partId(one.from), to: partId(one.to) })),
      movedCount: changes.moved.length,
      movedPx: changes.moved.reduce((sum, { areaPx }) => sum + areaPx, 0),
      ownLayers: cameBack.ownLayers,
      removedLayers: cameBack.removedLayers,
      unknownPx: changes.unknownPx,
    },
    edits: paintOnTiles(task.width, task.height, partAt, new Map(task.tiles)),
  };
}

interface LayerName {
  readonly group: string | null;
  readonly name: string;
}

/** Flats of the layers that were sent; what the colourist added lies beside them. */
async function readBackFlats(path: string, sent: readonly LayerName[]): Promise<CameBack> {
  const kind = await kindOfFlats(path);
  const plain = { flats: null, ownLayers: [], removedLayers: [] };
  if (kind === 'other') return { ...plain, flats: (await readFlats(path, null)).flats };
  const layered = await readLayers(path);
  // Names in TIFF files are plain ASCII.
  const keyOf = ({ group, name }: LayerName): string => asciiName(JSON.stringify([group, name]));
  const known = new Set(sent.map(keyOf));
  const cameBack = new Set(layered.layers.map(keyOf));
  const matching = layered.layers.filter((layer) => known.has(keyOf(layer)));
  const isOurs = matching.length > 0;
  const builder = new FlatsBuilder(layered.width, layered.height);
  for (const layer of isOurs ? matching : layered.layers) builder.add(layer, false, layer.opacity);
  return {
    flats: builder.build(),
    ownLayers: isOurs ? layered.layers.filter((layer) => !known.has(keyOf(layer))).map(({ name }) => name) : [],
    removedLayers: isOurs ? sent.filter((layer) => !cameBack.has(keyOf(layer))).map(({ name }) => name) : [],
  };
}

function everySecond({ width, data, rgb }: CheckedFlats, smallWidth: number, smallHeight: number): CheckedFlats {
  const small = new Uint16Array(smallWidth * smallHeight);
  for (let y = 0; y < smallHeight; y++)
    for (let x = 0; x < smallWidth; x++) small[y * smallWidth + x] = data[y * 2 * width + x * 2]!;
  return { width: smallWidth, height: smallHeight, data: small, rgb };
}
