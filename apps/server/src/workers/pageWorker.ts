import { readFile, writeFile } from 'node:fs/promises';
import { basename } from 'node:path';
import { gunzipSync, gzipSync } from 'node:zlib';
import {
  buildPyramid,
  canRunUnder,
  describeRegions,
  findPanels,
  foundInFull,
  hasLayers,
  halveGrey,
  compose,
  paintOfRegions,
  paintTiles,
  PAPER_WORD,
  readCorrections,
  readInk,
  renderPage,
  resolvePage,
  rgbaWord,
  scenesOfPage,
  scenesShown,
  openSurvey,
  panelOfPoints,
  packCuts,
  compileTrap,
  findLinePieces,
  findPieceSides,
  findTrapInk,
  holdInputOf,
  paintHolds,
  trapOfRegions,
  unpackCuts,
  type ExamplePage,
  type GreyRaster,
  type OpenSurvey,
  type OtherInk,
  type StoredCuts,
} from '@jumble/core';
import { castToCsv, castToJson, castToPdf, castToTokens, setPngFacts, type HandoffInput } from '@jumble/formats';
import { convertToCmyk, decodePage, encodeGrey, encodeRgba, PageFileError } from '@jumble/raster-io';
import { scanSheet } from '@jumble/scanner';
import { pack } from './pack.ts';
import { writeHandoff } from './writeHandoff.ts';
import type {
  CastFileTask,
  DecodeAnswer,
  DecodeTask,
  DrawResult,
  DrawTask,
  ExampleTask,
  HalveTask,
  HandoffAnswer,
  HandoffTask,
  InksAnswer,
  InksTask,
  PageInput,
  ScanTask,
  WorkerTasks,
} from './tasks.ts';

const THUMBNAIL_PX = 360;

/** One task of the pool. The page surveyed last is kept: most tasks follow edits of the same page. */
export default async function pageWorker(
  task: WorkerTasks[keyof WorkerTasks]['task'],
): Promise<WorkerTasks[keyof WorkerTasks]['result']> {
  switch (task.kind) {
    case 'castFile':
      return castFile(task);
    case 'decode':
      return decode(task);
    case 'halve':
      return halve(task);
    case 'draw':
      return draw(task);
    case 'example':
      return example(task);
    case 'handoff':
      return handoff(task);
    case 'pack':
      return pack(task);
    case 'inks':
      return inks(task);
    case 'scan':
      return scan(task);
  }
}

async function decode(task: DecodeTask): Promise<DecodeAnswer> {
  try {
    const { grey, ...facts } = await decodePage(task.path);
    await writeFile(task.greyTarget, gzipSync(grey.data, { level: 1 }));
    return { page: { width: grey.width, height: grey.height, ...facts } };
  } catch (error) {
    if (error instanceof PageFileError) return { fault: error.fault, message: error.message };
    throw error;
  }
}

async function castFile({ format, sheet, title }: CastFileTask): Promise<Uint8Array> {
  if (format === 'pdf') return castToPdf(sheet, title);
  const write = { csv: castToCsv, json: castToJson, tokens: castToTokens }[format];
  return new TextEncoder().encode(write(sheet));
}

let last: { key: string; open: OpenSurvey; cutsKnown: boolean } | undefined;

async function scan({ sheetPath, skewDegrees, target }: ScanTask): Promise<null> {
  const { grey, dpi } = await decodePage(sheetPath);
  // Every sheet has its own dirt and its own light, the same each time it is laid down alike.
  const seed = [...basename(sheetPath)].reduce((sum, letter) => (sum * 31 + letter.charCodeAt(0)) % 9973, 1);
  const scanned = scanSheet(grey, { skewDegrees, seed });
  const png = await encodeGrey(scanned.data, scanned.width, scanned.height);
  await writeFile(target, setPngFacts(png, { dpi }));
  return null;
}

async function halve({ greyPath, width, height, target }: HalveTask): Promise<WorkerTasks['halve']['result']> {
  const half = halveGrey(await readGrey(greyPath, width, height));
  await writeFile(target, gzipSync(half.data, { level: 1 }));
  return { width: half.width, height: half.height };
}

/** The printed ink at the file's own size, read by the same settings as at half of it. */
async function fullInk({ full, others, prep, ownBounds }: PageInput): Promise<HandoffInput['full']> {
  if (full === null) return undefined;
  const { width, height } = full;
  const grey = await readGrey(full.greyPath, width, height);
  const further: OtherInk[] = [];
  for (const { fullGreyPath, bounds } of others) {
    if (fullGreyPath !== null) further.push({ grey: await readGrey(fullGreyPath, width, height), bounds });
  }
  // A speck of one pixel at half size is one of four.
  const atFull = { ...prep, speckLimitPx2: prep.speckLimitPx2 === null ? null : 4 * prep.speckLimitPx2 };
  const { printed } = readInk(grey, atFull, further, ownBounds, (bytes) => new ArrayBuffer(bytes));
  return { width, height, inkAlpha: printed };
}

async function readGrey(path: string, width: number, height: number): Promise<GreyRaster> {
  const data = gunzipSync(await readFile(path));
  const aligned =
    (data.byteOffset & 3) === 0 ? new Uint8Array(data.buffer, data.byteOffset, data.length) : new Uint8Array(data);
  return { width, height, data: aligned };
}

async function openPage(page: PageInput): Promise<OpenSurvey> {
  return (await readPage(page)).open;
}

/** Cuts kept beside the page; null where there are none, or none that can be read: they are found again. */
async function knownCuts({ cutsPath, width, height }: PageInput): Promise<StoredCuts | null> {
  if (cutsPath === null) return null;
  try {
    return unpackCuts(gunzipSync(await readFile(cutsPath)).toString('utf8'), width * height);
  } catch {
    return null;
  }
}

async function readPage(page: PageInput): Promise<NonNullable<typeof last>> {
  const key = JSON.stringify([
    page.greyPath,
    page.prep,
    page.drawn,
    page.rulings,
    page.others,
    page.ownBounds,
    page.solids,
  ]);
  if (last?.key !== key) {
    last = undefined;
    const grey = await readGrey(page.greyPath, page.width, page.height);
    const others: OtherInk[] = [];
    for (const { greyPath, bounds } of page.others) {
      others.push({ grey: await readGrey(greyPath, page.width, page.height), bounds });
    }
    const known = await knownCuts(page);
    const options = {
      known,
      rulings: new Map(page.rulings),
      drawn: page.drawn,
      others,
      ownBounds: page.ownBounds,
      solids: page.solids,
    };
    last = { key, open: openSurvey(grey, page.prep, options), cutsKnown: known !== null };
  }
  return last;
}

async function handoffInput(page: PageInput): Promise<HandoffInput & { filledCount: number }> {
  const open = await openPage(page);
  const { survey } = open;
  const known = new Set(page.groups.flatMap((group) => group.parts.map((part) => part.id)));
  const partOf = (part: string): string | null => (known.has(part) ? part : null);
  const corrections = readCorrections(survey.width, new Map(page.tiles), partOf);
  const { partOfRegion, filledCount } = resolvePage(survey, new Map(page.fills), corrections, partOf);
  const sceneOfRegion = scenesOfPage(survey, page).ofRegion;
  const trap = trapOfRegions(survey, {
    job: page.jobTrap,
    page: { trap: page.trap, areas: new Map(page.areas), panels: page.panels },
    parts: page.groups.flatMap((group) => group.parts),
    partOfRegion,
    dpi: page.dpi,
  });
  const plain: HandoffInput & { filledCount: number } = {
    survey,
    partOfRegion,
    sceneOfRegion,
    groups: page.groups,
    corrections,
    trap,
    trapInk: findTrapInk(survey, trap),
    underlapPx: 0,
    split: 'single',
    dpi: null,
    scratch: false,
    filledCount,
  };
  return page.holds.length + page.lineStrokes.length === 0
    ? plain
    : { ...plain, holds: colourLines(open, page, plain) };
}

/** The lines of a page in the colours of its rules. */
function colourLines(open: OpenSurvey, page: PageInput, input: HandoffInput): NonNullable<HandoffInput['holds']> {
  const pieces = findLinePieces(open.base, open.survey, page.lineEdits);
  const holdInput = holdInputOf({
    pieces,
    sides: findPieceSides(pieces, open.survey),
    groups: page.groups,
    partOfRegion: input.partOfRegion,
    scenes: { ids: scenesShown(page), ofRegion: input.sceneOfRegion! },
    flats: () => {
      const { parts, rgbOfPart } = renderPage(input);
      return { width: parts.width, height: parts.height, data: parts.data, rgb: rgbOfPart };
    },
  });
  return { pieces, paint: paintHolds(holdInput, page.holds, page.lineStrokes).paint };
}

async function draw(task: DrawTask): Promise<DrawResult> {
  const input = await handoffInput(task);
  const { survey } = input;
  const flat = task.groups.flatMap((group) => group.parts);
  const places = new Map(flat.map((part, k) => [part.id, k]));
  const colourIn = (scene: number) => (part: (typeof flat)[number]) =>
    part.empty ? 0 : rgbaWord(scene === 0 ? part.rgb : (part.furtherRgb?.[scene - 1] ?? part.rgb));
  const scenes = scenesShown(task).map((_, scene) => flat.map(colourIn(scene)));
  const partNumbers = Int32Array.from(input.partOfRegion, (id, region) =>
    id === null ? -1 : places.get(id)! + flat.length * input.sceneOfRegion![region]!,
  );
  const paint = {
    ...(input.holds === undefined ? {} : { holds: input.holds.paint }),
    ...paintOfRegions(
      survey,
      partNumbers,
      Uint32Array.from(scenes.flat()),
      compileTrap(survey, input.trap, input.trapInk),
    ),
    corrections: paintTiles(
      survey,
      input.corrections!,
      (id, region) => scenes[input.sceneOfRegion![region] ?? 0]![places.get(id)!]! || PAPER_WORD,
    ),
  };
  const scale = Math.min(1, THUMBNAIL_PX / Math.max(survey.width, survey.height));
  const width = Math.max(1, Math.floor(survey.width * scale));
  const height = Math.max(1, Math.floor(survey.height * scale));
  const out = new Uint32Array(width * height);
  compose(buildPyramid(survey), paint, { x: 0, y: 0, scale, width, height }, out);
  const { open, cutsKnown } = await readPage(task);
  const { found } = open.base;
  return {
    cuts: cutsKnown || found === null || !foundInFull(survey, found) ? null : gzipSync(packCuts(found), { level: 6 }),
    regionCount: survey.regions.count,
    filledCount: input.filledCount,
    thumbnail: await encodeRgba(new Uint8Array(out.buffer), width, height),
  };
}

async function example(task: ExampleTask): Promise<ExamplePage> {
  const { partOfRegion } = await handoffInput(task);
  const open = await openPage(task);
  const { inkAlpha, width, height } = open.survey;
  const panels = task.panels ?? findPanels(inkAlpha, width, height);
  return { traits: describeRegions(open, panels), parts: partOfRegion };
}

async function inks({ rgb, profilePath }: InksTask): Promise<InksAnswer> {
  try {
    const bytes = await convertToCmyk(rgb, profilePath);
    return { inks: rgb.map((_, k) => [...bytes.subarray(k * 4, k * 4 + 4)].map((ink) => (ink * 100) / 255)) };
  } catch (error) {
    if (error instanceof PageFileError) return { fault: error.message };
    throw error;
  }
}

async function handoff(task: HandoffTask): Promise<HandoffAnswer> {
  const { rule } = task;
  const full = await fullInk(task);
  const input: HandoffInput = {
    ...(await handoffInput(task)),
    ...(full === undefined ? {} : { full }),
    ...(task.box === null ? {} : { box: task.box }),
    ...(rule.dpi === null ? {} : { outDpi: rule.dpi }),
    ...(rule.inkDpi === null ? {} : { inkDpi: rule.inkDpi }),
    underlapPx: canRunUnder(rule) ? task.jobTrap.underlapPx : 0,
    split: hasLayers(rule.format) ? rule.layers : 'single',
    layerOrder: rule.layerOrder,
    layerName: rule.layerName,
    lines: rule.holds,
    inkBits: rule.inkBits,
    shading: rule.shading,
    closures: rule.closures,
    dpi: task.fileDpi,
    scratch: task.scratch,
  };
  return writeHandoff(rule.layers === 'panel' ? withPanels(input, task) : input, task);
}

/** Layers by panel need the page's panels, corrected or found. */
function withPanels(input: HandoffInput, { panels }: HandoffTask): HandoffInput {
  const { inkAlpha, width, height, regions } = input.survey;
  const known = panels?.map(({ points }) => ({ points, framed: true })) ?? findPanels(inkAlpha, width, height);
  return { ...input, panelOfRegion: panelOfPoints(known, regions.anchor, width) };
}
