import { stat } from 'node:fs/promises';
import { extname, join } from 'node:path';
import {
  DEFAULT_PREP,
  findTouching,
  formatColour,
  parseColour,
  regionAt,
  scratchColours,
  openSurvey,
  widestLine,
  type LayerSplit,
  type PlannedGroup,
  type Survey,
  DEFAULT_JOB_TRAP,
  findTrapInk,
  trapOfRegions,
  type TrapRule,
} from '@jumble/core';
import {
  buildOpenRaster,
  encodeFlatsPng,
  flatsLayers,
  holdsOnPage,
  inkRgba,
  linesRgba,
  renderFlats,
  setPngFacts,
  type FlatsLayer,
  type HandoffInput,
} from '@jumble/formats';
import { decodePage, encodeRgba, PageFileError } from '@jumble/raster-io';
import { colourLines, readHolds } from './holds.ts';
import { readJson } from './readJson.ts';
import { UsageError } from './UsageError.ts';
import { checkNoInput, makeOutputFolder, writeOutput } from './writeOutput.ts';

export interface FlatOptions {
  readonly fills: string;
  readonly out: string;
  readonly maxGap: 'auto' | number;
  readonly trap: TrapRule;
  readonly underlap: number;
  readonly holds?: string;
  readonly layers: LayerSplit;
}

/**
 * Flats one page into an OpenRaster file or a folder of PNGs.
 *
 * @throws UsageError with one line that names the file.
 */
export async function runFlat(file: string, options: FlatOptions): Promise<void> {
  if (options.underlap > 0 && options.layers === 'single')
    throw new UsageError('--underlap: a single layer has none in front of it; leave it out, or take --layers part.');
  const target = await readTarget(options.out);
  const inputs = [file, options.fills, options.holds].filter(
    (one) => one !== undefined && one !== 'scratch',
  ) as string[];
  const rules = options.holds === undefined ? [] : await readHolds(options.holds);
  if (target === 'file') await checkNoInput(options.out, inputs);
  const decoded = await decodePage(file).catch((error: unknown) => {
    throw error instanceof PageFileError ? new UsageError(`${file}: ${error.message}`) : error;
  });
  const page = openSurvey(decoded.grey, { ...DEFAULT_PREP, maxGapPx: options.maxGap });
  const { survey } = page;
  checkTrap(file, options.trap, decoded.dpi, survey);
  const given = options.fills === 'scratch' ? scratchFills(survey) : await readFills(options.fills, survey);
  const trap = trapOfRegions(survey, {
    job: { ...DEFAULT_JOB_TRAP, rule: options.trap },
    page: { trap: null, areas: new Map(), panels: null },
    parts: given.groups.flatMap((group) => group.parts),
    partOfRegion: given.partOfRegion,
    dpi: decoded.dpi,
  });
  const plain: HandoffInput = {
    survey,
    ...given,
    trap,
    trapInk: findTrapInk(survey, trap),
    underlapPx: options.underlap,
    split: options.layers,
    dpi: decoded.dpi,
    scratch: options.fills === 'scratch',
  };
  const input =
    options.holds === undefined ? plain : { ...plain, holds: colourLines(page, plain, options.holds, rules) };
  if (target === 'file') await writeOutput(options.out, await buildOpenRaster(input, { encodeRgba }), inputs);
  else await writeFolder(options.out, input, inputs);
}

/** @throws UsageError for a rule that this page cannot have. */
function checkTrap(file: string, rule: TrapRule, dpi: number | null, survey: Survey): void {
  if ('depthMm' in rule && dpi === null) {
    throw new UsageError(
      `${file}: it states no resolution, so ${rule.depthMm} mm cannot be worked out; give --trap in px.`,
    );
  }
  if (rule.rule !== 'max') return;
  const widest = widestLine(survey);
  if (rule.marginPx > widest) {
    throw new UsageError(
      `${file}: a margin of ${rule.marginPx} px is wider than any line of this page (${widest} px); give less.`,
    );
  }
}

/** Endings that look like a file's: letters alone, as many as such endings have. */
const FILE_ENDING = /^\.[a-z]{2,4}$/i;

/**
 * Whether `--out` names a file or a folder.
 *
 * @throws UsageError for the ending of a format that is not written.
 */
async function readTarget(out: string): Promise<'file' | 'folder'> {
  const isFolder = await stat(out).then(
    (there) => there.isDirectory(),
    () => false,
  );
  if (isFolder || /[/\\]$/.test(out)) return 'folder';
  const ending = extname(out);
  if (ending.toLowerCase() === '.ora') return 'file';
  if (!FILE_ENDING.test(ending)) return 'folder';
  throw new UsageError(
    `${out}: files that end in ${ending} are not written; --out takes a name that ends in .ora, or a folder (end its name with /).`,
  );
}

interface GivenFills {
  readonly groups: readonly PlannedGroup[];
  readonly partOfRegion: readonly (string | null)[];
}

/** Every region a part of its own, in a loud colour unlike its neighbours'. */
function scratchFills(survey: Survey): GivenFills {
  const { count } = survey.regions;
  const { rgb } = scratchColours(count, findTouching(survey));
  // A page may have more regions than a raster has part numbers: regions of one colour share a layer then.
  const shared = count > 60_000;
  const idOf = (region: number): string => (shared ? formatColour(rgb[region]!) : String(region + 1));
  const parts = new Map<string, number>();
  for (let r = 0; r < count; r++) parts.set(idOf(r), rgb[r]!);
  return {
    groups: [
      {
        name: 'Regions',
        parts: [...parts].map(([id, colour]) => ({ id, name: `Region ${id}`, rgb: colour, empty: false })),
      },
    ],
    partOfRegion: Array.from({ length: count }, (_, r) => idOf(r)),
  };
}

/** A raster of parts has no more numbers. */
const MOST_PARTS = 65_534;

async function readFills(path: string, survey: Survey): Promise<GivenFills> {
  const fail = (why: string): never => {
    throw new UsageError(`${path}: ${why}`);
  };
  const document = await readJson(path, 'fills file');
  const { parts, fills } = (document ?? {}) as { parts?: unknown; fills?: unknown };
  if (!Array.isArray(parts) || !Array.isArray(fills)) return fail('it must hold two lists, "parts" and "fills".');

  if (parts.length > MOST_PARTS)
    return fail(
      `it has ${parts.length} parts; at most ${MOST_PARTS} fit on a page. Leave out those that are not used.`,
    );
  const planned = new Map<string, PlannedGroup['parts'][number]>();
  parts.forEach((part: unknown, k) => {
    const { id, name, colour } = (part ?? {}) as Record<string, unknown>;
    if (typeof id !== 'string' || typeof name !== 'string' || typeof colour !== 'string') {
      return fail(`part ${k + 1} must have "id", "name" and "colour" as text.`);
    }
    if (planned.has(id)) return fail(`part "${id}" is there twice; give each part an id of its own.`);
    try {
      planned.set(id, { id, name, rgb: parseColour(colour), empty: false });
    } catch (error) {
      return fail(`part "${id}": ${(error as Error).message}.`);
    }
  });

  const partOfRegion = new Array<string | null>(survey.regions.count).fill(null);
  fills.forEach((fill: unknown, k) => {
    const { x, y, part } = (fill ?? {}) as Record<string, unknown>;
    const where = `fill ${k + 1} at (${String(x)}, ${String(y)})`;
    if (!Number.isInteger(x) || !Number.isInteger(y)) return fail(`${where} must have whole numbers "x" and "y".`);
    if (typeof part !== 'string' || !planned.has(part)) {
      return fail(`${where} names the part "${String(part)}", which is not in "parts".`);
    }
    const [px, py] = [x as number, y as number];
    if (px < 0 || py < 0 || px >= survey.width || py >= survey.height) {
      return fail(`${where} lies outside the page of ${survey.width} x ${survey.height} px.`);
    }
    const region = regionAt(survey, px, py);
    if (region === null) return fail(`${where} lies on ink; move it onto paper.`);
    partOfRegion[region] = part;
  });
  return { groups: [{ name: 'Parts', parts: [...planned.values()] }], partOfRegion };
}

async function writeFolder(out: string, input: HandoffInput, inputs: readonly string[]): Promise<void> {
  await makeOutputFolder(out);
  const { width, height } = input.survey;
  const { dpi } = input;
  const flats = renderFlats(input);
  const write = (name: string, png: Uint8Array): Promise<void> => writeOutput(join(out, `${name}.png`), png, inputs);
  await write('flats', await encodeFlatsPng(flats.parts, flats.rgbOfPart, dpi, encodeRgba));
  const ink = await encodeRgba(inkRgba(input.survey.inkAlpha), width, height);
  await write('ink', setPngFacts(ink, { dpi }));
  if (input.holds !== undefined) {
    const lines = await encodeRgba(linesRgba(input.survey.inkAlpha, holdsOnPage(input)), width, height);
    await write('lines', setPngFacts(lines, { dpi }));
  }
  const taken = new Set(['flats', 'ink', 'lines', 'manifest']);
  for (const layer of flatsLayers(input, flats)) {
    // In a folder nothing tells where a cropped picture goes: every layer has the page's size.
    const png = await encodeRgba(onPage(layer, width, height), width, height);
    await write(fileName(layer.name, taken), setPngFacts(png, { dpi }));
  }
}

function onPage(layer: FlatsLayer, width: number, height: number): Uint8Array {
  if (layer.width === width && layer.height === height) return layer.rgba;
  const page = new Uint8Array(width * height * 4);
  for (let y = 0; y < layer.height; y++) {
    const row = layer.rgba.subarray(y * layer.width * 4, (y + 1) * layer.width * 4);
    page.set(row, ((layer.y + y) * width + layer.x) * 4);
  }
  return page;
}

function fileName(name: string, taken: Set<string>): string {
  const base =
    name
      .normalize('NFKD')
      .replace(/[^\w -]+/g, '')
      .trim()
      .replace(/\s+/g, '-')
      .toLowerCase() || 'layer';
  let candidate = base;
  for (let k = 2; taken.has(candidate); k++) candidate = `${base}-${k}`;
  taken.add(candidate);
  return candidate;
}
