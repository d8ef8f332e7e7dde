import { formatColour } from '../colour/hex.ts';
import type { Survey } from '../model/Survey.ts';
import { findColourFaults, HALF, type CheckedFlats, type ColourFault } from './FlatsColours.ts';
import { DEFAULT_CHECK_RULES, FLATS_KINDS, type CheckRules, type Finding, type FindingKind } from '../model/Finding.ts';
import { findPaperFaults, type PaperFault } from './findPaperFaults.ts';
import { findShift } from './findShift.ts';
import { labelBlobs, type Blobs } from './labelBlobs.ts';

export type CheckedPage = Pick<
  Survey,
  'width' | 'height' | 'inkAlpha' | 'field' | 'cellCount' | 'regions' | 'lineWidthPx' | 'crumbLimitPx2'
>;

export interface CheckInput {
  readonly page: CheckedPage;
  readonly flats: CheckedFlats;
  /** Region of each cell: what `empty` and `missed-corner` go by. */
  readonly regionOfCell: Int32Array;
  /** Colours that parts have; null where nobody knows. */
  readonly palette: ReadonlySet<number> | null;
  /** 1 for regions that are to stay without colour. @default none */
  readonly leftEmpty?: Uint8Array;
  /** 1 for cells that are holes in strokes: they take what runs under the stroke, if anything does. @default none */
  readonly isPinhole?: Uint8Array;
  readonly rules?: Partial<CheckRules>;
}

/** So near to paper that lacks its colour a soft pixel belongs to that place, in px. */
const NEAR_EMPTY_PX = 2;
/** A halo of fewer pixels than this is where a line ends or turns. */
const LEAST_HALO_PX = 2;
/** Classes of places that run over paper and ink alike; colours follow. */
const SOFT = 1;
const HALO = 2;
const FIRST_COLOUR = 3;

/**
 * Judges flats by the line art and by their colours: blends, colours that no part has, paper without colour, soft edges
 * without colour, and colour where another one belongs. Each place is called by the first kind that fits.
 *
 * Cost: about four reads of the page.
 */
export function checkFlats(input: CheckInput): Finding[] {
  const { page, flats, palette } = input;
  const rules = { ...DEFAULT_CHECK_RULES, ...input.rules };
  const faults = findColourFaults(flats, palette, rules.off.includes('near-colours') ? 0 : rules.nearColours);
  const paper = findPaperFaults(input, faults);
  const findings = [
    ...placesOfColours(page, flats, faults, paper.colourOfCell),
    ...paper.found.map((fault) => paperFinding(page, flats, fault)),
  ];
  const shift = rules.off.includes('register') ? null : findShift(page, flats);
  if (shift !== null) findings.push(shift);
  return findings.filter(({ kind }) => !rules.off.includes(kind)).sort(byKind);
}

const ORDER = new Map<FindingKind, number>(FLATS_KINDS.map((kind, k) => [kind, k]));

/** By kind, the largest first. */
function byKind(a: Finding, b: Finding): number {
  const [one, two] = [ORDER.get(a.kind) ?? 99, ORDER.get(b.kind) ?? 99];
  return one - two || b.areaPx - a.areaPx || a.y - b.y || a.x - b.x;
}

/** Soft pixels, pixels of colours that are wrong as such, and soft ink without colour. */
function placesOfColours(
  page: CheckedPage,
  flats: CheckedFlats,
  faults: readonly (ColourFault | undefined)[],
  colourOfCell: Int32Array,
): Finding[] {
  const { width, height, inkAlpha } = page;
  const { data } = flats;
  const classOf = new Float64Array(HALF + 1);
  classOf[HALF] = SOFT;
  faults.forEach((fault, k) => {
    if (fault !== undefined) classOf[k + 1] = fault.kind === 'soft' ? SOFT : FIRST_COLOUR + k;
  });
  const blobs = labelBlobs(
    width,
    height,
    (y, classes) => {
      for (let x = 0, at = y * width; x < width; x++, at++) {
        const value = data[at]!;
        const alpha = inkAlpha[at]!;
        classes[x] =
          value !== 0 ? classOf[value]! : alpha > 0 && alpha < 255 && isHalo(page, data, colourOfCell, x, y) ? HALO : 0;
      }
    },
    true,
  );
  const found: Finding[] = [];
  for (let blob = 0; blob < blobs.count; blob++) {
    const one = blobs.of[blob]!;
    const areaPx = blobs.areaPx[blob]!;
    if (one === HALO) {
      if (areaPx < LEAST_HALO_PX) continue;
      const expected = colourBeside(page, flats, blobs.first[blob]!);
      found.push(finding('halo', page, blobs, blob, 'soft edge without colour', -1, expected));
    } else if (one === SOFT) {
      const message = 'half transparent or blended';
      found.push(finding('soft', page, blobs, blob, message, -1, colourBeside(page, flats, blobs.first[blob]!)));
    } else {
      const fault = faults[one - FIRST_COLOUR]!;
      const rgb = flats.rgb[one - FIRST_COLOUR]!;
      if (fault.kind === 'off-palette')
        found.push(finding(fault.kind, page, blobs, blob, `${formatColour(rgb)}, which no part has; nearest is ${formatColour(fault.nearest)}`, rgb, fault.nearest)); // prettier-ignore
      else if (fault.kind === 'near-colours')
        found.push(finding(fault.kind, page, blobs, blob, `${formatColour(rgb)} differs from ${formatColour(fault.other)} by ${fault.difference.toFixed(2)} alone`, rgb, fault.other)); // prettier-ignore
    }
  }
  return found;
}

/** Whether a soft pixel without colour belongs to a coloured cell, and is not the rim of paper in it that lacks its colour. */
function isHalo(
  { width, height, field, inkAlpha }: CheckedPage,
  data: Uint16Array,
  colourOfCell: Int32Array,
  x: number,
  y: number,
): boolean {
  const value = field[y * width + x]!;
  const cell = value >= 0 ? value : (field[~value] ?? -1);
  if (cell < 0 || colourOfCell[cell] === 0) return false;
  for (let py = Math.max(0, y - NEAR_EMPTY_PX); py <= Math.min(height - 1, y + NEAR_EMPTY_PX); py++) {
    for (let px = Math.max(0, x - NEAR_EMPTY_PX); px <= Math.min(width - 1, x + NEAR_EMPTY_PX); px++) {
      const at = py * width + px;
      if (field[at] === cell && data[at] === 0 && inkAlpha[at] === 0) return false;
    }
  }
  return true;
}

/** The colour of the paper nearest to a pixel, 0xRRGGBB; -1 for none. */
function colourBeside({ field }: CheckedPage, { data, rgb }: CheckedFlats, at: number): number {
  const value = field[at]!;
  const paper = value >= 0 ? at : ~value;
  const colour = paper < data.length ? data[paper]! : 0;
  return colour === 0 || colour === HALF ? -1 : rgb[colour - 1]!;
}

function finding(
  kind: FindingKind,
  { width }: Pick<CheckedPage, 'width'>,
  blobs: Blobs,
  blob: number,
  message: string,
  rgb: number,
  expectedRgb: number,
): Finding {
  const [x0, y0, x1, y1] = blobs.box.subarray(blob * 4, blob * 4 + 4) as unknown as [number, number, number, number];
  const at = blobs.first[blob]!;
  return {
    kind,
    x: x0,
    y: y0,
    width: x1 - x0,
    height: y1 - y0,
    areaPx: blobs.areaPx[blob]!,
    at: [at % width, Math.floor(at / width)],
    message,
    rgb,
    expectedRgb,
  };
}

function paperFinding(page: CheckedPage, { rgb }: CheckedFlats, fault: PaperFault): Finding {
  const { kind, blobs, blob, colour, expected, thinPx } = fault;
  const [own, meant] = [colour === 0 ? -1 : rgb[colour - 1]!, expected === 0 ? -1 : rgb[expected - 1]!];
  const other = own < 0 ? '' : `${formatColour(own)} where ${meant < 0 ? 'no colour' : formatColour(meant)} belongs`;
  const words = {
    empty: 'a region without colour',
    'missed-corner': 'paper without colour in a coloured region',
    'show-through': `${other}: it came through the line`,
    stray: other,
    sliver: `${other}, ${thinPx.toFixed(1)} px wide`,
  }[kind];
  return finding(kind, page, blobs, blob, words, own, meant);
}
