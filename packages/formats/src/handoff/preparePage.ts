import {
  degreesOfSlope,
  doubleParts,
  holdRgba,
  outputGrid,
  pointOfCut,
  renderPage,
  sampleInk,
  sampleParts,
  sampleWords,
  type OutputGrid,
  type PartRaster,
  type RenderedPage,
  type Survey,
} from '@jumble/core';
import type { HandoffInput } from './HandoffInput.ts';

/** Line art of 1 bit at its own size. */
export interface HardInk {
  readonly width: number;
  readonly height: number;
  readonly dpi: number | null;
  /** 255 for ink, else 0. */
  readonly data: Uint8Array;
}

/** A page at the size it goes out: what every format is written from, and what packages are compared with. */
export interface HandoffPage {
  readonly input: HandoffInput;
  readonly width: number;
  readonly height: number;
  readonly dpi: number | null;
  /** px that were made of one px of the page as it was worked on. */
  readonly scale: number;
  readonly flats: RenderedPage;
  /** Ink 0..255; with 1 bit, 0 or 255. */
  readonly inkAlpha: Uint8Array;
  /** Null where the line art is one of 8 bits. */
  readonly hardInk: HardInk | null;
  /** RGBA words of coloured lines, 0 for black ones; null where all are black. */
  readonly holds: Uint32Array | null;
  /** RGBA words of closures; null where they are left out. */
  readonly closures: Uint32Array | null;
  readonly inkName: string;
  /** Brings a raster of numbers from the page as it was worked on to this size. */
  readonly toSize: (parts: PartRaster) => PartRaster;
}

/** Ink is there from half its darkness on. */
const HALF = 128;
const CLOSURE_WORD = 0xff_c8_00_c8;

/** Renders a page once, for any format. */
export function preparePage(input: HandoffInput): HandoffPage {
  const { survey, full, dpi } = input;
  const file = full ?? survey;
  const scale = input.outDpi === undefined || dpi === null ? 1 : input.outDpi / dpi;
  const grid =
    input.box === undefined && scale === 1 ? null : outputGrid(file.width, file.height, input.box ?? null, scale);
  const toSize = (parts: PartRaster): PartRaster => {
    const atFile = full === undefined ? parts : doubleParts(parts, full.width, full.height);
    return grid === null ? atFile : sampleParts(atFile, grid);
  };
  const words = (small: Uint32Array): Uint32Array => {
    const atFile = full === undefined ? small : doubleWords(small, survey.width, full.width, full.height);
    return grid === null ? atFile : sampleWords(atFile, file.width, grid);
  };
  const rendered = renderPage(input);
  const flats = { ...rendered, parts: toSize(rendered.parts) };
  const soft = grid === null ? file.inkAlpha : sampleInk(file.inkAlpha, file.width, file.height, grid);
  const isHard = input.inkBits === 1;
  return {
    input,
    width: flats.parts.width,
    height: flats.parts.height,
    dpi: dpi === null ? null : dpi * scale,
    scale: scale * (full === undefined ? 1 : 2),
    flats,
    inkAlpha: isHard ? hardened(soft) : soft,
    hardInk: isHard ? hardInk(input, file) : null,
    holds: input.holds === undefined ? null : words(new Uint32Array(holdRgba(survey, input.holds.paint).buffer)),
    closures: input.closures === true ? words(drawClosures(survey)) : null,
    inkName: inkLayerName(survey.slopePpm),
    toSize,
  };
}

/** Says by how much the page was turned, because the layer no longer lies as the file it came from. */
function inkLayerName(slopePpm: number): string {
  return slopePpm === 0 ? 'Line art' : `Line art (straightened by ${degreesOfSlope(slopePpm).toFixed(2)} degrees)`;
}

const hardened = (ink: Uint8Array): Uint8Array => ink.map((alpha) => (alpha >= HALF ? 255 : 0));

function hardInk(
  { dpi, inkDpi, box }: HandoffInput,
  { width, height, inkAlpha }: Pick<Survey, 'width' | 'height' | 'inkAlpha'>,
): HardInk {
  const scale = inkDpi === undefined || dpi === null ? 1 : inkDpi / dpi;
  if (scale === 1 && box === undefined) return { width, height, dpi, data: hardened(inkAlpha) };
  const grid: OutputGrid = outputGrid(width, height, box ?? null, scale);
  const data = hardened(sampleInk(inkAlpha, width, height, grid));
  return { width: grid.width, height: grid.height, dpi: dpi === null ? null : dpi * scale, data };
}

function doubleWords(small: Uint32Array, smallWidth: number, width: number, height: number): Uint32Array {
  const words = new Uint32Array(width * height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) words[y * width + x] = small[(y >> 1) * smallWidth + (x >> 1)]!;
  }
  return words;
}

/** Closures that bound colour, three pixels wide. */
function drawClosures({ width, height, closures }: Survey): Uint32Array {
  const words = new Uint32Array(width * height);
  for (const closure of closures) {
    if (!closure.accepted) continue;
    const [[ax, ay], [bx, by]] = [closure.from, closure.to];
    const steps = Math.max(2, Math.ceil(Math.hypot(bx - ax, by - ay) * 3));
    for (let k = 0; k <= steps; k++) {
      const [x, y] = pointOfCut(closure, k / steps).map(Math.round) as [number, number];
      for (let row = Math.max(0, y - 1); row <= Math.min(height - 1, y + 1); row++)
        for (let column = Math.max(0, x - 1); column <= Math.min(width - 1, x + 1); column++)
          words[row * width + column] = CLOSURE_WORD;
    }
  }
  return words;
}
