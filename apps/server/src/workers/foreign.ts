import { writeFile } from 'node:fs/promises';
import {
  checkFlats,
  contourGroups,
  darken,
  DEFAULT_CHECK_RULES,
  DEFAULT_PREP,
  findInkLimit,
  HALF,
  paintOnTiles,
  PAPER_WORD,
  rgbaWord,
  surveyPage,
  wholeFileFindings,
  type CheckedFlats,
  type Finding,
  type RecordEdit,
  type Survey,
} from '@jumble/core';
import { convertToCmyk, decodePage, encodeRgba, PageFileError, readFlats } from '@jumble/raster-io';
import { openPage } from './openPage.ts';
import type { ForeignAnswer, ForeignCheckTask, ForeignTakeAnswer, ForeignTakeTask } from './tasks.ts';

/** No opening holds: regions end at ink alone. */
const BY_INK_ALONE = 2;

/** Checks flats of whatever origin by their line art, and draws both together. */
export async function checkForeign(task: ForeignCheckTask): Promise<ForeignAnswer> {
  try {
    const palette = task.palette === null ? null : new Set(task.palette);
    const page = await decodePage(task.inkPath);
    const { flats, dpi, mode } = await readFlats(task.flatsPath, palette);
    const { width, height } = page.grey;
    const fault = sizeFault(flats, width, height);
    if (fault !== null) return { fault };
    const survey = surveyPage(page.grey, DEFAULT_PREP);
    const rules = { ...DEFAULT_CHECK_RULES, ...task.rules };
    const regionOfCell = contourGroups(survey, BY_INK_ALONE).ofCell;
    const findings = [
      ...checkFlats({ page: survey, flats, regionOfCell, palette, rules }),
      ...wholeFileFindings({ width, height, dpi, mode }, rules),
      ...(await overInked(flats, rules.inkLimitPercent)),
    ];
    await writeFile(task.pictureTarget, await encodeRgba(drawTogether(survey, flats), width, height));
    return { width, height, regionCount: survey.regions.count, colours: countColours(flats), findings };
  } catch (error) {
    if (error instanceof PageFileError) return { fault: error.message };
    throw error;
  }
}

/** Colours that take too much ink by the generic profile. */
async function overInked(flats: CheckedFlats, most: number | null): Promise<Finding[]> {
  if (most === null) return [];
  const inks = await convertToCmyk(flats.rgb, null);
  const sums = flats.rgb.map((_, k) =>
    inks.subarray(k * 4, k * 4 + 4).reduce((sum, ink) => sum + (ink * 100) / 255, 0),
  );
  return findInkLimit(flats, sums, most);
}

function sizeFault(flats: CheckedFlats, width: number, height: number): string | null {
  return flats.width === width && flats.height === height
    ? null
    : `The flats have ${flats.width} x ${flats.height} px, the line art ${width} x ${height}; export both at one size.`;
}

function countColours({ data, rgb }: CheckedFlats): { rgb: number; areaPx: number }[] {
  const areaPx = new Uint32Array(rgb.length);
  for (const value of data) if (value !== 0 && value !== HALF) areaPx[value - 1] = areaPx[value - 1]! + 1;
  return rgb.map((one, k) => ({ rgb: one, areaPx: areaPx[k]! })).sort((a, b) => b.areaPx - a.areaPx);
}

function drawTogether({ inkAlpha }: Survey, { data, rgb }: CheckedFlats): Uint8Array {
  const words = rgb.map((one) => rgbaWord(one) | 0);
  const out = new Int32Array(data.length);
  for (let at = 0; at < data.length; at++) {
    const value = data[at]!;
    const below = value === 0 ? PAPER_WORD | 0 : value === HALF ? 0xffb0b0b0 | 0 : words[value - 1]!;
    out[at] = inkAlpha[at] === 0 ? below : darken(below, inkAlpha[at]!);
  }
  return new Uint8Array(out.buffer);
}

/** Gives each region of a new page the part of most of its pixels; coloured pixels of other parts become corrections. */
export async function takeForeign(task: ForeignTakeTask): Promise<ForeignTakeAnswer> {
  try {
    const { survey } = await openPage(task);
    const { flats } = await readFlats(task.flatsPath, task.palette === null ? null : new Set(task.palette));
    const fault = sizeFault(flats, survey.width, survey.height);
    if (fault !== null) return { fault };
    return { edits: editsOf(survey, flats, new Map(task.parts)) };
  } catch (error) {
    if (error instanceof PageFileError) return { fault: error.message };
    throw error;
  }
}

function editsOf(survey: Survey, flats: CheckedFlats, parts: ReadonlyMap<number, string>): RecordEdit[] {
  const { width, height, field, regions } = survey;
  const partOfValue = flats.rgb.map((rgb) => parts.get(rgb) ?? null);
  const counts = Array.from({ length: regions.count }, () => new Map<number, number>());
  const regionAt = (at: number): number => (field[at]! < 0 ? -1 : regions.ofCell[field[at]!]!);
  for (let at = 0; at < field.length; at++) {
    const [region, value] = [regionAt(at), flats.data[at]!];
    if (region < 0 || value === HALF) continue;
    const ofRegion = counts[region]!;
    ofRegion.set(value, (ofRegion.get(value) ?? 0) + 1);
  }
  const valueOf = counts.map(
    (ofRegion) => [...ofRegion].reduce((most, one) => (one[1] > most[1] ? one : most), [0, 0])[0],
  );
  const fills = valueOf.flatMap((value, region): RecordEdit[] => {
    const part = value === 0 ? null : partOfValue[value - 1]!;
    if (part === null) return [];
    const anchor = regions.anchor[region]!;
    const point = [anchor % width, Math.floor(anchor / width)];
    return [{ key: `fill/${point.join(',')}`, value: { part, anchors: [point], stamp: 0 } }];
  });
  const partAt = (x: number, y: number): string | null => {
    const at = y * width + x;
    const [region, value] = [regionAt(at), flats.data[at]!];
    if (region < 0 || value === 0 || value === HALF || value === valueOf[region]) return null;
    return partOfValue[value - 1]!;
  };
  return [...fills, ...paintOnTiles(width, height, partAt, new Map())];
}
