import { UNSET_COLOUR, type CastSheet } from '@jumble/core';
import Papa from 'papaparse';

/**
 * The cast sheet's colours as design tokens (Design Tokens Community Group layout): scene, then
 * group, then part, each with `$type: color` and `$value`.
 */
export function castToTokens(sheet: CastSheet): string {
  const tokens = noTokens();
  for (const scene of sheet.scenes) {
    const ofScene = noTokens();
    for (const group of sheet.groups) {
      const ofGroup = noTokens();
      for (const part of sheet.parts) {
        if (part.groupId !== group.id || part.empty) continue;
        ofGroup[tokenName(part.name, ofGroup)] = {
          $type: 'color',
          $value: sheet.colours.get(scene.id)?.get(part.id) ?? UNSET_COLOUR,
          $description: `${group.name}: ${part.name}, ${scene.name}`,
        };
      }
      ofScene[tokenName(group.name, ofScene)] = ofGroup;
    }
    tokens[tokenName(scene.name, tokens)] = ofScene;
  }
  return `${JSON.stringify(tokens, null, 2)}\n`;
}

/** An object without a prototype: a part may be called `__proto__` or `constructor`. */
function noTokens(): Record<string, unknown> {
  return Object.create(null) as Record<string, unknown>;
}

/** Token names may not start with `$` nor hold braces or full stops; equal names get a number. */
function tokenName(name: string, taken: Record<string, unknown>): string {
  const base = name.replace(/[{}.$]/g, ' ').trim() || 'unnamed';
  let candidate = base;
  for (let k = 2; candidate in taken; k++) candidate = `${base} ${k}`;
  return candidate;
}

/** The cast sheet's colours as CSV: one line for each part and scene. */
export function castToCsv(sheet: CastSheet): string {
  const group = new Map(sheet.groups.map(({ id, name }) => [id, name]));
  const rows = sheet.scenes.flatMap((scene) =>
    sheet.parts.map((part) => ({
      scene: scene.name,
      group: group.get(part.groupId) ?? '',
      part: part.name,
      key: part.slot ?? '',
      notes: part.notes ?? '',
      colour: part.empty ? '' : (sheet.colours.get(scene.id)?.get(part.id) ?? UNSET_COLOUR),
    })),
  );
  const fields = ['scene', 'group', 'part', 'key', 'colour', 'notes'];
  return tableToCsv(fields, rows);
}

/** A table as CSV. Names from outside do not turn into formulas when the file is opened in a spreadsheet. */
export function tableToCsv(fields: readonly string[], rows: readonly (object | readonly unknown[])[]): string {
  return `${Papa.unparse({ fields: [...fields], data: [...rows] }, { escapeFormulae: true, newline: '\n' })}\n`;
}

/** The cast sheet's colours as JSON: groups with their parts, each with its colour in every scene by the scene's name. */
export function castToJson(sheet: CastSheet): string {
  const groups = sheet.groups.map(({ id, name }) => ({
    name,
    parts: sheet.parts
      .filter((part) => part.groupId === id)
      .map((part) => ({
        name: part.name,
        empty: part.empty,
        colours: sheet.scenes.map((scene) => ({
          scene: scene.name,
          colour: part.empty ? null : (sheet.colours.get(scene.id)?.get(part.id) ?? UNSET_COLOUR),
        })),
      })),
  }));
  return `${JSON.stringify({ groups }, null, 2)}\n`;
}
