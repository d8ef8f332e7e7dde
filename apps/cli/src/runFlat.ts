import { access, stat } from 'node:fs/promises';
import { extname } from 'node:path';
import {
  DEFAULT_PREP,
  findPanels,
  findTouching,
  panelOfPoints,
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
import type { CmykColours, HandoffInput } from '@jumble/formats';
import { convertToCmyk, decodePage, PageFileError } from '@jumble/raster-io';
import { colourLines, readHolds } from './holds.ts';
import { readJson } from './readJson.ts';
import { UsageError } from './UsageError.ts';
import { writeFlats, type FlatsTarget } from './writeFlats.ts';
import { checkNoInput } from './writeOutput.ts';

export interface FlatOptions {
  readonly fills: string;
  readonly out: string;
  readonly maxGap: 'auto' | number;
  readonly trap: TrapRule;
  readonly underlap: number;
  readonly holds?: string;
  readonly layers: LayerSplit;
  readonly cmyk?: true;
  readonly profile?: string;
}

/**
 * Flats one page into an OpenRaster file or a folder of PNGs.
 *
 * @throws UsageError with one line that names the file.
 */
export async function runFlat(file: string, options: FlatOptions): Promise<void> {
  if (options.underlap > 0 && (options.layers === 'single' || options.layers === 'panel'))
    throw new UsageError('--underlap: these layers have none in front of them; leave it out, or take --layers part.');
  const target = await readTarget(options.out);
  checkCmyk(options, target);
  const inputs = [file, options.fills, options.holds, options.profile].filter(
    (one) => one !== undefined && one !== 'scratch',
  ) as string[];
  const rules = options.holds === undefined ? [] : await readHolds(options.holds);
  if (target !== 'folder') await checkNoInput(options.out, inputs);
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
  await writeFlats(target, { out: options.out, input: withPanels(input), inputs, file, cmyk: await readCmyk(options) });
}

/** Layers by panel need the panels of the page. */
function withPanels(input: HandoffInput): HandoffInput {
  if (input.split !== 'panel') return input;
  const { inkAlpha, width, height, regions } = input.survey;
  const panels = findPanels(inkAlpha, width, height);
  return { ...input, panelOfRegion: panelOfPoints(panels, regions.anchor, width) };
}

/** @throws UsageError where colours for print are asked for in a format that has none. */
function checkCmyk({ cmyk, profile }: FlatOptions, target: FlatsTarget): void {
  if (profile !== undefined && cmyk === undefined)
    throw new UsageError('--profile: it says how colours are printed; give --cmyk with it.');
  if (cmyk === true && target !== 'tif' && target !== 'pdf')
    throw new UsageError('--cmyk: only .tif and .pdf hold colours for print; take one of these for --out.');
}

/** @throws UsageError for a profile that is none. */
async function readCmyk({ cmyk, profile }: FlatOptions): Promise<CmykColours | undefined> {
  if (cmyk === undefined) return undefined;
  const path = profile ?? null;
  if (path !== null) await access(path).catch(() => Promise.reject(new UsageError(`${path}: the profile cannot be opened; check its name.`))); // prettier-ignore
  const convert: CmykColours['convert'] = (rgb) => convertToCmyk(rgb, path);
  await convert([0]).catch((error: unknown) => {
    throw error instanceof PageFileError ? new UsageError(`${path ?? '--cmyk'}: ${error.message}`) : error;
  });
  return { convert };
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

const TARGETS: Readonly<Record<string, FlatsTarget>> = {
  '.ora': 'ora',
  '.tif': 'tif',
  '.tiff': 'tif',
  '.svg': 'svg',
  '.pdf': 'pdf',
};

/**
 * What `--out` names: a file of a format, or a folder.
 *
 * @throws UsageError for the ending of a format that is not written.
 */
async function readTarget(out: string): Promise<FlatsTarget> {
  const isFolder = await stat(out).then(
    (there) => there.isDirectory(),
    () => false,
  );
  if (isFolder || /[/\\]$/.test(out)) return 'folder';
  const ending = extname(out);
  const target = TARGETS[ending.toLowerCase()];
  if (target !== undefined) return target;
  if (!FILE_ENDING.test(ending)) return 'folder';
  throw new UsageError(
    `${out}: files that end in ${ending} are not written; --out takes a name that ends in .ora, .tif, .svg or .pdf, or a folder (end its name with /).`,
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
  const groupOf = new Map<string, string>();
  parts.forEach((part: unknown, k) => {
    const { id, name, colour, group } = (part ?? {}) as Record<string, unknown>;
    if (typeof id !== 'string' || typeof name !== 'string' || typeof colour !== 'string') {
      return fail(`part ${k + 1} must have "id", "name" and "colour" as text.`);
    }
    if (group !== undefined && (typeof group !== 'string' || group === ''))
      return fail(`part "${id}": "group" must be the name of a group.`);
    groupOf.set(id, group ?? 'Parts');
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
  const groups = new Map<string, PlannedGroup['parts'][number][]>();
  for (const [id, part] of planned) groups.set(groupOf.get(id)!, [...(groups.get(groupOf.get(id)!) ?? []), part]);
  return { groups: [...groups].map(([name, members]) => ({ name, parts: members })), partOfRegion };
}
