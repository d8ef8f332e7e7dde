import { readFile } from 'node:fs/promises';
import {
  checkFlats,
  checkRecord,
  checkRulesOfFile,
  contourGroups,
  DEFAULT_CHECK_RULES,
  DEFAULT_PREP,
  findInkLimit,
  parseColour,
  surveyPage,
  wholeFileFindings,
  type CheckedFlats,
  type CheckRules,
  type Finding,
} from '@jumble/core';
import { readCastFile } from '@jumble/formats';
import { convertToCmyk, decodePage, PageFileError, readFlats } from '@jumble/raster-io';
import { readJson } from './readJson.ts';
import { UsageError } from './UsageError.ts';
import { writeOutput } from './writeOutput.ts';

export interface CheckOptions {
  readonly palette?: string;
  readonly rules?: string;
  readonly report?: string;
}

/** No opening holds: regions end at ink alone. */
const BY_INK_ALONE = 2;

/**
 * Checks flats of whatever origin against their line art.
 *
 * @returns 0 without findings, 1 with. @throws UsageError with one line that names the file.
 */
export async function runCheck(ink: string, flats: string, options: CheckOptions): Promise<number> {
  const palette = options.palette === undefined ? null : await readPalette(options.palette);
  const rules = options.rules === undefined ? DEFAULT_CHECK_RULES : await readRules(options.rules);
  const page = await decodePage(ink).catch(naming(ink));
  const read = await readFlats(flats, palette).catch(naming(flats));
  const { width, height } = page.grey;
  if (read.flats.width !== width || read.flats.height !== height)
    throw new UsageError(
      `${flats}: it has ${read.flats.width} x ${read.flats.height} px, the line art ${width} x ${height}; export both at one size.`,
    );
  const survey = surveyPage(page.grey, DEFAULT_PREP);
  const regionOfCell = contourGroups(survey, BY_INK_ALONE).ofCell;
  const findings = [
    ...checkFlats({ page: survey, flats: read.flats, regionOfCell, palette, rules }),
    ...wholeFileFindings({ width, height, dpi: read.dpi, mode: read.mode }, rules),
    ...(await inkLimit(read.flats, rules)),
  ];
  const report = `${JSON.stringify({ width, height, findings: findings.map(reported) }, null, 2)}\n`;
  const inputs = [ink, flats, options.palette, options.rules].filter((one) => one !== undefined);
  if (options.report === undefined) process.stdout.write(report);
  else await writeOutput(options.report, report, inputs, '--report');
  return findings.length === 0 ? 0 : 1;
}

/** Says which file an error is about. */
const naming =
  (path: string) =>
  (error: unknown): never => {
    throw error instanceof PageFileError ? new UsageError(`${path}: ${error.message}`) : error;
  };

/** Colours that take too much ink, where the rules limit it, by the generic profile. */
async function inkLimit(flats: CheckedFlats, { inkLimitPercent, off }: CheckRules): Promise<Finding[]> {
  if (inkLimitPercent === null || off.includes('ink-limit')) return [];
  const inks = await convertToCmyk(flats.rgb, null);
  const sums = flats.rgb.map((_, k) => [0, 1, 2, 3].reduce((sum, ink) => sum + (inks[k * 4 + ink]! * 100) / 255, 0));
  return findInkLimit(flats, sums, inkLimitPercent);
}

function reported({ kind, x, y, width, height, areaPx, message }: Finding): object {
  return { kind, x, y, width, height, areaPx, message };
}

/** The colours of a cast file, in every scene: of a cast sheet as CSV or design tokens, or of a file of fills. */
async function readPalette(path: string): Promise<ReadonlySet<number>> {
  const text = await readFile(path, 'utf8').catch(() => {
    throw new UsageError(`${path}: the cast cannot be opened; check its name.`);
  });
  try {
    const colours = partsOf(text) ?? readCastFile(text).flatMap(({ colour }) => colour ?? []);
    if (colours.length === 0) throw new TypeError('it names no colour');
    return new Set(colours.map(parseColour));
  } catch (error) {
    throw new UsageError(`${path}: it is no cast sheet (${(error as Error).message}).`);
  }
}

/** Colours of `{"parts": [{"colour"}, ...]}`; null where the text is something else. */
function partsOf(text: string): string[] | null {
  if (!text.trimStart().startsWith('{')) return null;
  const { parts } = JSON.parse(text) as { parts?: unknown };
  if (!Array.isArray(parts)) return null;
  return parts.map((part: unknown) => String((part as { colour?: unknown } | null)?.colour));
}

async function readRules(path: string): Promise<CheckRules> {
  const given = await readJson(path, 'file of rules');
  try {
    return { ...DEFAULT_CHECK_RULES, ...checkRecord('rules', checkRulesOfFile, given) };
  } catch (error) {
    throw new UsageError(`${path}: ${(error as Error).message.replaceAll('`', '"')}.`);
  }
}
