import {
  EMPTY_PIXEL,
  fillPattern,
  formatColour,
  PAINTED_PIXEL,
  paintTiles,
  renderParts,
  underlapLayer,
} from '@jumble/core';
import type { HandoffInput } from './HandoffInput.ts';
import type { HandoffPage } from './preparePage.ts';

/** Which layer it is. */
export interface LayerNames {
  readonly group: string | null;
  readonly name: string;
}

/** A finished layer of flats, before it is coloured and put into a container. */
export interface FlatsLayer extends LayerNames {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  /** Part number + 1 of each pixel, 0 for none. */
  readonly values: Uint16Array;
}

/** Which part numbers, or which panel, make a layer. */
interface PlannedLayer extends LayerNames {
  readonly numbers: readonly number[];
  /** Its place from the front. */
  readonly place: number;
}

/** What layers by panel call all that lies in none. */
const OUTSIDE = 'Outside the panels';

/** What the layer or group of all flats is called. */
export const flatsName = ({ scratch }: HandoffInput): string => (scratch ? 'Flats (scratch colours)' : 'Flats');

/** The layers of a page that have a pixel, in the order and by the names they are handed off. */
export function planFlatsLayers(page: HandoffPage): PlannedLayer[] {
  const { layerName = '{name}', layerOrder = 'stack' } = page.input;
  const plan = (page.input.split === 'panel' ? planPanels(page) : planParts(page)).map((layer, place) => ({
    ...layer,
    place,
  }));
  if (layerOrder === 'name') plan.sort((a, b) => (a.group ?? '').localeCompare(b.group ?? '') || a.name.localeCompare(b.name)); // prettier-ignore
  const digits = Math.max(2, String(plan.length).length);
  return plan.map((layer, k) => ({
    ...layer,
    name: fillPattern(layerName, {
      name: layer.name,
      group: layer.group ?? '',
      number: String(k + 1).padStart(digits, '0'),
    }).trim() || layer.name, // prettier-ignore
  }));
}

type Unplaced = Omit<PlannedLayer, 'place'>;

function planParts({ input, flats: { parts, rgbOfPart, partCount } }: HandoffPage): Unplaced[] {
  const { split, groups } = input;
  const used = rgbOfPart.flatMap((_, n) => (parts.areaPx[n]! > 0 ? [n] : []));
  if (split === 'single') return [{ group: null, name: flatsName(input), numbers: used }];
  if (split === 'colour') {
    // In the order of the parts that have them.
    const order = [...used].sort((a, b) => (a % partCount) - (b % partCount) || a - b);
    const colours = new Map<number, number[]>();
    for (const n of order) colours.set(rgbOfPart[n]!, [...(colours.get(rgbOfPart[n]!) ?? []), n]);
    return [...colours].map(([rgb, numbers]) => ({ group: null, name: formatColour(rgb), numbers }));
  }
  let first = 0;
  return groups
    .flatMap((group): Unplaced[] => {
      const from = first;
      first += group.parts.length;
      const of = (part: number): number[] => used.filter((n) => n % partCount === part);
      if (split === 'part')
        return group.parts.map(({ name }, k) => ({ group: group.name, name, numbers: of(from + k) }));
      return [{ group: null, name: group.name, numbers: group.parts.flatMap((_, k) => of(from + k)) }];
    })
    .filter(({ numbers }) => numbers.length > 0);
}

const panelCount = ({ panelOfRegion }: HandoffInput): number =>
  [...(panelOfRegion ?? [])].reduce((most, panel) => Math.max(most, panel + 1), 0);

/** The panels, and what lies outside them last. */
function planPanels({ input }: HandoffPage): Unplaced[] {
  const count = panelCount(input);
  return Array.from({ length: count + 1 }, (_, panel) => ({
    group: null,
    name: panel === count ? OUTSIDE : `Panel ${panel + 1}`,
    numbers: [panel],
  }));
}

/** How many layers there will be at most, for progress. */
export function countLayers(page: HandoffPage): number {
  return page.input.split === 'panel' ? panelCount(page.input) + 1 : planFlatsLayers(page).length;
}

/**
 * The layers of flats one at a time, so that only one is in memory.
 *
 * @throws RangeError for an underlap where layers do not lie in front of each other: there is nothing to run under.
 */
export function* flatsLayers(page: HandoffPage): Generator<FlatsLayer> {
  const { input, flats, scale } = page;
  const { parts, rgbOfPart } = flats;
  const { width, height } = parts;
  if (input.underlapPx > 0 && (input.split === 'single' || input.split === 'panel'))
    throw new RangeError(
      '`underlapPx` must be 0 for a single layer and for layers by panel: none lies in front of another',
    );
  const plan = planFlatsLayers(page);
  if (input.split === 'panel') yield* panelLayers(page, plan);
  else if (input.split === 'single') {
    for (const { group, name } of plan) yield { group, name, x: 0, y: 0, width, height, values: parts.data };
  } else {
    // Parts without a pixel lie behind all.
    const layerOf = new Int32Array(rgbOfPart.length).fill(plan.length);
    for (const { numbers, place } of plan) numbers.forEach((n) => (layerOf[n] = place));
    const underlapPx = Math.round(input.underlapPx * scale);
    for (const { group, name, numbers } of plan) {
      const { data, ...box } = underlapLayer(parts, layerOf, numbers, underlapPx);
      yield { group, name, ...box, values: data };
    }
  }
}

/** Everything in each panel, whatever part it has. */
function* panelLayers({ input, flats, toSize }: HandoffPage, plan: readonly PlannedLayer[]): Generator<FlatsLayer> {
  const { survey, panelOfRegion } = input;
  const { parts } = flats;
  const outside = panelCount(input);
  const panelOf = (region: number): number => {
    const panel = panelOfRegion?.[region] ?? -1;
    return panel < 0 ? outside : panel;
  };
  const numbers = Int32Array.from(input.partOfRegion, (part, region) => (part === null ? -1 : panelOf(region)));
  const corrections =
    input.corrections === undefined
      ? undefined
      : paintTiles(survey, input.corrections, (_, region) => (region < 0 ? EMPTY_PIXEL : PAINTED_PIXEL + panelOf(region))); // prettier-ignore
  const panels = toSize(renderParts(survey, numbers, outside + 1, input.trap, input.trapInk, corrections));
  for (const {
    group,
    name,
    numbers: [panel],
  } of plan) {
    const [x0, y0, x1, y1] = panels.box.subarray(panel! * 4, panel! * 4 + 4) as unknown as [number, number, number, number]; // prettier-ignore
    if (x1 <= x0) continue;
    const [width, height] = [x1 - x0, y1 - y0];
    const values = new Uint16Array(width * height);
    let hasColour = false;
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        const at = (y + y0) * panels.width + x + x0;
        if (panels.data[at] !== panel! + 1) continue;
        values[y * width + x] = parts.data[at]!;
        hasColour ||= parts.data[at] !== 0;
      }
    }
    if (hasColour) yield { group, name, x: x0, y: y0, width, height, values };
  }
}
