import {
  checkRecord,
  findLinePieces,
  findPieceSides,
  holdInputOf,
  holdRuleOfFile,
  paintHolds,
  renderPage,
  type HoldColour,
  type LineSelect,
  type WorkingPage,
} from '@jumble/core';
import type { HandoffInput } from '@jumble/formats';
import { readJson } from './readJson.ts';
import { UsageError } from './UsageError.ts';

/** A rule as the file has it. */
export interface FileHoldRule {
  readonly lines: LineSelect;
  readonly colour: HoldColour;
}

/**
 * Reads HOLDS.json: `{"rules": [{"lines", "colour"}, ...]}`.
 *
 * @throws UsageError with one line that names the file and the rule.
 */
export async function readHolds(path: string): Promise<FileHoldRule[]> {
  const fail = (why: string): never => {
    throw new UsageError(`${path}: ${why}`);
  };
  const document = await readJson(path, 'file of holds');
  const { rules } = (document ?? {}) as { rules?: unknown };
  if (!Array.isArray(rules)) return fail('it must hold a list, "rules".');
  return rules.map((rule: unknown, k) => {
    try {
      return checkRecord(`rule ${k + 1}`, holdRuleOfFile, withTextIds(rule));
    } catch (error) {
      return fail(`${(error as Error).message.replaceAll('`', '"')}.`);
    }
  });
}

/** With `scratch` a part is the number of its region: numbers are ids too. */
function withTextIds(rule: unknown): unknown {
  if (typeof rule !== 'object' || rule === null) return rule;
  const { lines } = rule as { lines?: unknown };
  if (typeof lines !== 'object' || lines === null) return rule;
  const text = (id: unknown): unknown => (typeof id === 'number' ? String(id) : id);
  const select = Object.entries(lines).map(([key, value]) => {
    if (key === 'inside' || key === 'contour') return [key, text(value)] as const;
    return key === 'between' && Array.isArray(value)
      ? ([key, value.map(text)] as const)
      : ([key, value as unknown] as const);
  });
  return { ...rule, lines: Object.fromEntries(select) };
}

/**
 * Colours the lines of a page; a rule that takes none is a warning.
 *
 * @throws UsageError for a rule of a part that is not there.
 */
export function colourLines(
  page: WorkingPage,
  input: HandoffInput,
  path: string,
  rules: readonly FileHoldRule[],
): NonNullable<HandoffInput['holds']> {
  const known = new Set(input.groups.flatMap((group) => group.parts.map(({ id }) => id)));
  rules.forEach(({ lines }, k) => {
    for (const part of partsOf(lines)) {
      if (!known.has(part))
        throw new UsageError(`${path}: rule ${k + 1} names the part "${part}", which is not in "parts".`);
    }
  });
  const pieces = findLinePieces(page.base, page.survey);
  const flats = (): { width: number; height: number; data: Uint16Array; rgb: readonly number[] } => {
    const { parts, rgbOfPart } = renderPage(input);
    return { width: parts.width, height: parts.height, data: parts.data, rgb: rgbOfPart };
  };
  const { groups, partOfRegion } = input;
  const sides = findPieceSides(pieces, page.survey);
  const painted = paintHolds(holdInputOf({ pieces, sides, groups, partOfRegion, flats }), rules);
  painted.counts.forEach((count, k) => {
    if (count === 0) process.stderr.write(`jumble: ${path}: rule ${k + 1} takes no line of this page.\n`);
  });
  return { pieces, paint: painted.paint };
}

function partsOf(lines: LineSelect): readonly string[] {
  if ('inside' in lines) return [lines.inside];
  if ('contour' in lines) return [lines.contour];
  return 'between' in lines ? lines.between : [];
}
