import {
  doubleParts,
  EMPTY_PIXEL,
  formatColour,
  PAINTED_PIXEL,
  paintTiles,
  renderPage,
  renderParts,
  underlapLayer,
  type Corrections,
  type HoldPaint,
  type LayerSplit,
  type LinePieces,
  type PlannedGroup,
  type RegionTrap,
  type RenderedPage,
  type Survey,
  type TrapInk,
} from '@jumble/core';
import type { EncodeRgba } from '../png/encodeFlatsPng.ts';

export interface HandoffInput {
  readonly survey: Survey;
  /** Part of each region, null for none. */
  readonly partOfRegion: readonly (string | null)[];
  /** Place of each region's scene among those the parts have colours for. @default all in the first */
  readonly sceneOfRegion?: Int32Array;
  readonly groups: readonly PlannedGroup[];
  /** What was painted over the regions. @default nothing */
  readonly corrections?: Corrections;
  readonly trap: RegionTrap;
  readonly trapInk: TrapInk;
  /** How far layers run under those in front of them, in px of the page as it was worked on. */
  readonly underlapPx: number;
  /** Colours of the lines. @default all black */
  readonly holds?: { readonly pieces: LinePieces; readonly paint: HoldPaint };
  /** Whether the colours of lines are a layer of their own, or the line art is coloured. @default 'layer' */
  readonly lines?: 'layer' | 'coloured';
  readonly split: LayerSplit;
  /** Panel of each region in reading order, -1 for none: what layers by panel go by. @default all in none */
  readonly panelOfRegion?: Int32Array;
  /** Of the files that are made. */
  readonly dpi: number | null;
  /** The printed ink at twice the size the page was worked on: flats are scaled back to it. @default as worked on */
  readonly full?: Pick<Survey, 'width' | 'height' | 'inkAlpha'>;
  /** True when the colours are scratch colours; the layers' names say so. */
  readonly scratch: boolean;
}

export interface HandoffPorts {
  readonly encodeRgba: EncodeRgba;
  /** Called with 0..1 as pictures are finished; may throw to stop. */
  readonly onProgress?: (share: number) => void;
}

/** A finished layer of flats, before it is coloured and put into a container. */
export interface FlatsLayer {
  readonly group: string | null;
  readonly name: string;
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  /** Part number + 1 of each pixel, 0 for none. */
  readonly values: Uint16Array;
}

/** Which part numbers make a layer. */
export interface PlannedLayer {
  readonly group: string | null;
  readonly name: string;
  readonly numbers: readonly number[];
}

/** What layers by panel call all that lies in none. */
const OUTSIDE = 'Outside the panels';

/** Renders the flats of a page once, for any container. */
export function renderFlats(input: HandoffInput): RenderedPage {
  const flats = renderPage(input);
  const { full } = input;
  return full === undefined ? flats : { ...flats, parts: doubleParts(flats.parts, full.width, full.height) };
}

/** The layers of a page that have a pixel, topmost first; none by panel, which are no sets of parts. */
export function planFlatsLayers(input: HandoffInput, { parts, rgbOfPart, partCount }: RenderedPage): PlannedLayer[] {
  const { split, groups, scratch } = input;
  const used = rgbOfPart.flatMap((_, n) => (parts.areaPx[n]! > 0 ? [n] : []));
  if (split === 'single') return [{ group: null, name: scratch ? 'Flats (scratch colours)' : 'Flats', numbers: used }];
  if (split === 'colour') {
    // In the order of the parts that have them.
    const order = [...used].sort((a, b) => (a % partCount) - (b % partCount) || a - b);
    const colours = new Map<number, number[]>();
    for (const n of order) colours.set(rgbOfPart[n]!, [...(colours.get(rgbOfPart[n]!) ?? []), n]);
    return [...colours].map(([rgb, numbers]) => ({ group: null, name: formatColour(rgb), numbers }));
  }
  let first = 0;
  return groups
    .flatMap((group): PlannedLayer[] => {
      const from = first;
      first += group.parts.length;
      const of = (part: number): number[] => used.filter((n) => n % partCount === part);
      if (split === 'part')
        return group.parts.map(({ name }, k) => ({ group: group.name, name, numbers: of(from + k) }));
      return [{ group: null, name: group.name, numbers: group.parts.flatMap((_, k) => of(from + k)) }];
    })
    .filter(({ numbers }) => numbers.length > 0);
}

/** How many layers there will be, for progress. */
export function countLayers(input: HandoffInput, flats: RenderedPage): number {
  return input.split === 'panel' ? panelCount(input) + 1 : planFlatsLayers(input, flats).length;
}

const panelCount = ({ panelOfRegion }: HandoffInput): number =>
  [...(panelOfRegion ?? [])].reduce((most, panel) => Math.max(most, panel + 1), 0);

/**
 * The layers of flats one at a time, topmost first, so that only one is in memory.
 *
 * @throws RangeError for an underlap where layers do not lie in front of each other: there is nothing to run under.
 */
export function* flatsLayers(input: HandoffInput, flats: RenderedPage): Generator<FlatsLayer> {
  const { parts, rgbOfPart } = flats;
  const { width, height } = parts;
  if (input.underlapPx > 0 && (input.split === 'single' || input.split === 'panel'))
    throw new RangeError(
      '`underlapPx` must be 0 for a single layer and for layers by panel: none lies in front of another',
    );
  const plan = planFlatsLayers(input, flats);
  if (input.split === 'panel') yield* panelLayers(input, flats);
  else if (input.split === 'single') {
    for (const { group, name } of plan) yield { group, name, x: 0, y: 0, width, height, values: parts.data };
  } else {
    // Parts without a pixel lie behind all.
    const layerOf = new Int32Array(rgbOfPart.length).fill(plan.length);
    plan.forEach(({ numbers }, k) => numbers.forEach((n) => (layerOf[n] = k)));
    const underlapPx = input.underlapPx * (input.full === undefined ? 1 : 2);
    for (const { group, name, numbers } of plan) {
      const { data, ...box } = underlapLayer(parts, layerOf, numbers, underlapPx);
      yield { group, name, ...box, values: data };
    }
  }
}

/** Everything in each panel, whatever part it has; what lies outside comes last. */
function* panelLayers(input: HandoffInput, { parts }: RenderedPage): Generator<FlatsLayer> {
  const { survey, panelOfRegion, full } = input;
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
  const small = renderParts(survey, numbers, outside + 1, input.trap, input.trapInk, corrections);
  const panels = full === undefined ? small : doubleParts(small, full.width, full.height);
  for (let panel = 0; panel <= outside; panel++) {
    const [x0, y0, x1, y1] = panels.box.subarray(panel * 4, panel * 4 + 4) as unknown as [number, number, number, number]; // prettier-ignore
    if (x1 <= x0) continue;
    const [width, height] = [x1 - x0, y1 - y0];
    const values = new Uint16Array(width * height);
    let hasColour = false;
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        const at = (y + y0) * panels.width + x + x0;
        if (panels.data[at] !== panel + 1) continue;
        values[y * width + x] = parts.data[at]!;
        hasColour ||= parts.data[at] !== 0;
      }
    }
    if (hasColour)
      yield {
        group: null,
        name: panel === outside ? OUTSIDE : `Panel ${panel + 1}`,
        x: x0,
        y: y0,
        width,
        height,
        values,
      };
  }
}
