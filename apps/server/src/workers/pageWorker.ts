import { readFile, writeFile } from 'node:fs/promises';
import { gunzipSync, gzipSync } from 'node:zlib';
import {
  buildPyramid,
  compose,
  paintOfRegions,
  resolveFills,
  rgbaWord,
  surveyPage,
  trapDepth2,
  type Survey,
} from '@jumble/core';
import { buildFlatsPng, buildOpenRaster, type HandoffInput } from '@jumble/formats';
import { decodePage, encodeRgba, PageFileError } from '@jumble/raster-io';
import type { DecodeAnswer, DecodeTask, DrawResult, DrawTask, HandoffTask, PageInput } from './tasks.ts';

const THUMBNAIL_PX = 360;

/** One task of the pool. The page surveyed last is kept: most tasks follow edits of the same page. */
export default async function pageWorker(
  task: DecodeTask | DrawTask | HandoffTask,
): Promise<DecodeAnswer | DrawResult | null> {
  switch (task.kind) {
    case 'decode':
      return decode(task);
    case 'draw':
      return draw(task);
    case 'handoff':
      return handoff(task);
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

let last: { key: string; survey: Survey } | undefined;

async function surveyOf(page: PageInput): Promise<Survey> {
  const key = JSON.stringify([page.greyPath, page.prep, page.drawn, page.rulings]);
  if (last?.key !== key) {
    last = undefined;
    const data = gunzipSync(await readFile(page.greyPath));
    const aligned =
      (data.byteOffset & 3) === 0 ? new Uint8Array(data.buffer, data.byteOffset, data.length) : new Uint8Array(data);
    const grey = { width: page.width, height: page.height, data: aligned };
    last = { key, survey: surveyPage(grey, page.prep, { rulings: new Map(page.rulings), drawn: page.drawn }) };
  }
  return last.survey;
}

async function handoffInput(
  page: PageInput,
  split: HandoffTask['split'],
  dpi: number | null,
  scratch: boolean,
): Promise<HandoffInput & { filledCount: number }> {
  const survey = await surveyOf(page);
  const known = new Set(page.groups.flatMap((group) => group.parts.map((part) => part.id)));
  const { partOfRegion, filledCount } = resolveFills(survey, new Map(page.fills), (part) => known.has(part));
  return { survey, partOfRegion, groups: page.groups, trap: page.trap, split, dpi, scratch, filledCount };
}

async function draw(task: DrawTask): Promise<DrawResult> {
  const input = await handoffInput(task, 'single', null, false);
  const { survey } = input;
  const flat = task.groups.flatMap((group) => group.parts);
  const numbers = new Map(flat.map((part, k) => [part.id, k]));
  const partNumbers = Int32Array.from(input.partOfRegion, (id) => (id === null ? -1 : numbers.get(id)!));
  const paint = paintOfRegions(
    survey,
    partNumbers,
    Uint32Array.from(flat, (part) => (part.empty ? 0 : rgbaWord(part.rgb))),
    trapDepth2(task.trap),
  );
  const scale = Math.min(1, THUMBNAIL_PX / Math.max(survey.width, survey.height));
  const width = Math.max(1, Math.floor(survey.width * scale));
  const height = Math.max(1, Math.floor(survey.height * scale));
  const out = new Uint32Array(width * height);
  compose(buildPyramid(survey), paint, { x: 0, y: 0, scale, width, height }, out);
  return {
    regionCount: survey.regions.count,
    filledCount: input.filledCount,
    thumbnail: await encodeRgba(new Uint8Array(out.buffer), width, height),
  };
}

async function handoff(task: HandoffTask): Promise<null> {
  const input = await handoffInput(task, task.split, task.dpi, task.scratch);
  const report = (share: number): void => task.progress.postMessage(share);
  report(0.05);
  const bytes =
    task.container === 'ora'
      ? await buildOpenRaster(input, { encodeRgba, onProgress: (share) => report(0.05 + 0.9 * share) })
      : await buildFlatsPng(input, { encodeRgba });
  await writeFile(task.target, bytes);
  report(1);
  return null;
}
