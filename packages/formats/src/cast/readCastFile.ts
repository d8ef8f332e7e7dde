import { CastFileError, cleanName, cleanText, type CastLine } from '@jumble/core';
import Papa from 'papaparse';

/** Cast files larger than this are none. */
export const MAX_CAST_FILE_CHARS = 4_000_000;

/**
 * Reads a cast file: CSV with the columns scene, group, part, key, colour and, if it has them, notes; or
 * design tokens in JSON (scene, then group, then part).
 *
 * @throws CastFileError when it is neither.
 */
export function readCastFile(text: string): CastLine[] {
  if (text.length > MAX_CAST_FILE_CHARS) throw new CastFileError(['The file is too large for a cast sheet.']);
  return text.trimStart().startsWith('{') ? readTokens(text) : readCsv(text);
}

function readCsv(text: string): CastLine[] {
  const { data, meta } = Papa.parse<Record<string, string>>(text.replace(/^\uFEFF/, ''), {
    header: true,
    skipEmptyLines: true,
    transformHeader: (name) => name.trim().toLowerCase(),
  });
  const missing = ['scene', 'group', 'part', 'colour'].filter((name) => meta.fields?.includes(name) !== true);
  if (missing.length > 0)
    throw new CastFileError([
      `The first line must name the columns scene, group, part, key and colour; ${missing.join(', ')} is missing.`,
    ]);
  return data.map((row, k) => ({
    where: `Line ${k + 2}`,
    scene: plain(row.scene),
    group: plain(row.group),
    part: plain(row.part),
    slot: plain(row.key) || null,
    colour: plain(row.colour) || null,
    notes: cleanText(unquoted(row.notes)),
  }));
}

/** A cell that is a name: what may not stand in one is stripped. */
function plain(cell: string | undefined): string {
  return cleanName(unquoted(cell));
}

/** A cell without the quote that keeps spreadsheets from reading it as a formula. */
function unquoted(cell: string | undefined): string {
  return (cell ?? '').trim().replace(/^'(?=[=+\-@])/, '');
}

function readTokens(text: string): CastLine[] {
  let tokens: unknown;
  try {
    tokens = JSON.parse(text);
  } catch (error) {
    throw new CastFileError([`The file is no JSON: ${(error as Error).message}.`]);
  }
  const lines: CastLine[] = [];
  for (const [scene, groups] of entries(tokens)) {
    for (const [group, parts] of entries(groups)) {
      for (const [part, token] of entries(parts)) {
        const value = (token as { $value?: unknown } | null)?.$value;
        lines.push({
          where: `${scene} / ${group} / ${part}`,
          scene,
          group,
          part,
          slot: null,
          colour: typeof value === 'string' ? value : 'missing',
          notes: '',
        });
      }
    }
  }
  return lines;
}

function entries(value: unknown): [string, unknown][] {
  return typeof value === 'object' && value !== null && !Array.isArray(value)
    ? Object.entries(value).flatMap(([name, one]) => (name.startsWith('$') ? [] : [[cleanName(name), one]]))
    : [];
}
