import { writeFile } from 'node:fs/promises';
import { basename } from 'node:path';
import { gzipSync } from 'node:zlib';
import {
  buildPyramid,
  describeRegions,
  findPanels,
  findTrapFaults,
  hatchingPercent,
  gapsToRule,
  foundInFull,
  halveGrey,
  compose,
  paintOfRegions,
  paintTiles,
  PAPER_WORD,
  rgbaWord,
  scenesShown,
  packCuts,
  compileTrap,
  type ExamplePage,
} from '@jumble/core';
import { castToCsv, castToJson, castToPdf, castToTokens, setPngFacts, type HandoffInput } from '@jumble/formats';
import { convertToCmyk, decodePage, encodeGrey, encodeRgba, PageFileError } from '@jumble/raster-io';
import { scanSheet } from '@jumble/scanner';
import { checkForeign, takeForeign } from './foreign.ts';
import { fullInk, handoffInput, inputByRule, openPage, readGrey, readPage } from './openPage.ts';
import { pack } from './pack.ts';
import { compareWithPage } from './returned.ts';
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
    case 'returned':
      return compareWithPage(task);
    case 'foreignCheck':
      return checkForeign(task);
    case 'foreignTake':
      return takeForeign(task);
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
async function draw(task: DrawTask): Promise<DrawResult> {
  const input = await handoffInput(task);
  const { survey } = input;
  const flat = task.groups.flatMap((group) => group.parts);
  const places = new Map(flat.map((part, k) => [part.id, k]));
  const colourIn = (scene: number) => (part: (typeof flat)[number]) =>
    part.empty ? 0 : rgbaWord(scene === 0 ? part.rgb : (part.furtherRgb?.[scene - 1] ?? part.rgb));
  const scenes = scenesShown(task).map((_, scene) => flat.map(colourIn(scene)));
  const partOfRegion = Int32Array.from(input.partOfRegion, (id) => (id === null ? -1 : places.get(id)!));
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
    measures: {
      regions: survey.regions.count,
      gaps: gapsToRule(survey.closures).length + task.rulings.length,
      looseEnds: survey.looseEnds,
      panels: (task.panels ?? findPanels(survey.inkAlpha, survey.width, survey.height)).length,
      hatchingPercent: found === null ? 0 : hatchingPercent(found, open.base.inkMask),
    },
    open: {
      openGaps: gapsToRule(survey.closures).length,
      trapFaults: findTrapFaults(survey, partOfRegion, input.trap, input.trapInk).length,
      faintLines: input.faintLines,
    },
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
    ...(await inputByRule(task, rule)),
    ...(full === undefined ? {} : { full }),
    ...(task.box === null ? {} : { box: task.box }),
    ...(rule.dpi === null ? {} : { outDpi: rule.dpi }),
    ...(rule.inkDpi === null ? {} : { inkDpi: rule.inkDpi }),
    inkBits: rule.inkBits,
    shading: rule.shading,
    closures: rule.closures,
    dpi: task.fileDpi,
    scratch: task.scratch,
  };
  return writeHandoff(input, task);
}
