import { LAYER_SPLITS, MAX_TRAP_DEPTH_MM, MAX_TRAP_DEPTH_PX, MAX_UNDERLAP_PX, type TrapRule } from '@jumble/core';
import { Command, CommanderError, InvalidArgumentError } from 'commander';
import { runCheck, type CheckOptions } from './runCheck.ts';
import { runDiff, type DiffOptions } from './runDiff.ts';
import { runFlat, type FlatOptions } from './runFlat.ts';
import { runRegions, type RegionsOptions } from './runRegions.ts';
import { UsageError } from './UsageError.ts';

/**
 * Runs the command line.
 *
 * @returns the exit code: 0, 1 when a check found something, 2 when an argument or a file was no good, or 3 when the
 * fault lies here.
 */
export async function main(argv: readonly string[]): Promise<number> {
  let code = 0;
  const program = new Command('jumble')
    .description('Reads line art and makes flats, without the interface.')
    .exitOverride()
    .configureOutput({ outputError: (text, write) => write(text.replace(/^error: /, 'jumble: ')) });

  program
    .command('regions')
    .description('write the regions of each page as a picture of labels and a JSON report')
    .argument('<files...>', 'page files')
    .requiredOption('--out <dir>', 'folder for the results')
    .option('--max-gap <px>', 'largest gap to close: auto, or px, 0 for none', maxGap, 'auto')
    .option('--no-labels', 'leave out the picture of labels')
    .option('--panels', 'find panels and balloons too', false)
    .option('--repeat <n>', 'measure the best of n runs', repeatCount, 1)
    .action(async (files: string[], options: RegionsOptions) => {
      code = await runRegions(files, options);
    });

  program
    .command('flat')
    .description('make layered flats of one page')
    .argument('<file>', 'page file')
    .requiredOption('--fills <file>', 'FILLS.json, or the word scratch')
    .requiredOption('--out <target>', 'OUT.ora, OUT.tif, OUT.svg, OUT.pdf, or a folder')
    .option('--max-gap <px>', 'largest gap to close: auto, or px, 0 for none', maxGap, 'auto')
    .option('--trap <rule>', 'middle, a depth (2.5 or 0.3mm), or max- with the margin in px (max-2)', trapRule, {
      rule: 'middle',
    })
    .option('--underlap <px>', 'how far layers run under those in front of them', underlap, 0)
    .option('--holds <file>', 'HOLDS.json: rules that colour lines')
    .option('--layers <split>', LAYER_SPLITS.join(', '), layerSplit, 'part')
    .option('--cmyk', 'colours for print, in .tif and .pdf')
    .option('--profile <file>', 'FILE.icc of the printer; a generic one without')
    .action(async (file: string, options: FlatOptions) => {
      await runFlat(file, options);
    });

  program
    .command('check')
    .description('check flats of any origin against their line art')
    .argument('<ink>', 'line art')
    .argument('<flats>', 'flats: PNG, TIFF or OpenRaster')
    .option('--palette <file>', 'CAST.json or CAST.csv: the colours that parts have')
    .option('--rules <file>', 'RULES.json: what is looked for')
    .option('--report <file>', 'where the findings go as JSON, else to standard output')
    .action(async (ink: string, flats: string, options: CheckOptions) => {
      code = await runCheck(ink, flats, options);
    });

  program
    .command('diff')
    .description('say what became of flats that were sent')
    .argument('<sent>', 'OUT.ora, OUT.tif or a folder')
    .argument('<returned>', 'what came back')
    .option('--report <file>', 'where it goes as JSON, else to standard output')
    .action(async (sent: string, returned: string, options: DiffOptions) => {
      code = await runDiff(sent, returned, options);
    });

  try {
    await program.parseAsync(argv as string[]);
    return code;
  } catch (error) {
    if (error instanceof CommanderError) return error.exitCode === 0 ? 0 : 2;
    if (error instanceof UsageError) {
      process.stderr.write(`jumble: ${error.message}\n`);
      return 2;
    }
    process.stderr.write(`jumble: this should not have happened: ${String((error as Error).stack ?? error)}\n`);
    return 3;
  }
}

function maxGap(text: string): 'auto' | number {
  if (text === 'auto') return text;
  const px = Number(text);
  if (text.trim() !== '' && Number.isFinite(px) && px >= 0 && px <= 4000) return px;
  throw new InvalidArgumentError('it must be "auto" or a number of px from 0 to 4000.');
}

function repeatCount(text: string): number {
  const count = Number(text);
  if (Number.isInteger(count) && count >= 1 && count <= 1000) return count;
  throw new InvalidArgumentError('it must be a whole number from 1 to 1000.');
}

function trapRule(text: string): TrapRule {
  const [, margin, digits, mm] = /^(max-)?(\d+(?:\.\d+)?)(mm)?$/.exec(text) ?? [];
  const length = Number(digits);
  if (text === 'middle') return { rule: 'middle' };
  if (digits !== undefined && margin === undefined && mm !== undefined && length <= MAX_TRAP_DEPTH_MM)
    return { rule: 'depth', depthMm: length };
  if (digits !== undefined && mm === undefined && length <= MAX_TRAP_DEPTH_PX)
    return margin === undefined ? { rule: 'depth', depthPx: length } : { rule: 'max', marginPx: length };
  throw new InvalidArgumentError(
    `it must be "middle", a number of px from 0 to ${MAX_TRAP_DEPTH_PX}, of mm from 0 to ${MAX_TRAP_DEPTH_MM} (0.3mm), or a margin in px (max-2).`,
  );
}

function underlap(text: string): number {
  const px = Number(text);
  if (text.trim() !== '' && Number.isInteger(px) && px >= 0 && px <= MAX_UNDERLAP_PX) return px;
  throw new InvalidArgumentError(`it must be a whole number of px from 0 to ${MAX_UNDERLAP_PX}.`);
}

function layerSplit(text: string): FlatOptions['layers'] {
  const split = LAYER_SPLITS.find((one) => one === text);
  if (split !== undefined) return split;
  throw new InvalidArgumentError(`it must be one of ${LAYER_SPLITS.join(', ')}.`);
}
