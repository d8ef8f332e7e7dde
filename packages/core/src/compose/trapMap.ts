import { layOver } from './layOver.ts';
import type { TrapTable } from '../trap/TrapTable.ts';
import { asInk, COVERED, lookUnderInk, OUTSIDE, type UnderInkPage } from '../trap/underInk.ts';

/** Tones of the depth that colour reaches under the ink, from the paper inwards: little-endian RGBA words. */
export const DEPTH_TONES: Int32Array = Int32Array.of(
  0xffe6e4d5,
  0xffd2cdae,
  0xffbbb385,
  0xffa2975b,
  0xff877a35,
  0xff5c5013,
);
/** Ink under which no colour runs, hatched; ink beside which paper would show, in checks. */
const BARE = 0xff1d1c1b | 0;
const BARE_LINE = 0xff6e6c6a | 0;
const LIGHT = 0xffffffff | 0;
/** Ink beside a region without a part. */
const IDLE = 0xff9a9894 | 0;
/** Where every so many picture px a line of the hatching runs. */
const HATCH_PX = 6;

/** Draws rows of the map of trap: the page dimmed, and over it the ink in the tone of the depth that colour reaches there. */
export class TrapMap {
  private readonly reach2: Int32Array;
  /** What the ink is at each px of the row: {@link PAPER}, {@link HARD} or {@link SOFT}. */
  private readonly kind: Uint8Array;

  /** @param tonePx width of a tone, in px of the page. @param width of the picture. */
  constructor(
    private readonly page: UnderInkPage,
    private readonly trap: TrapTable,
    private readonly tonePx: number,
    width: number,
  ) {
    this.reach2 = new Int32Array(width);
    this.kind = new Uint8Array(width);
  }

  /**
   * @param columns of the page, -1 outside. @param ink alpha of the picture's ink. @param cells out: as `lookUnderInk` leaves
   * them. @param place of the row's first pixel in the pattern.
   */
  drawRow(
    columns: Int32Array,
    y: number,
    ink: Uint8Array,
    cells: Int32Array,
    colour: Int32Array,
    place: number,
    ground: number,
    paper: number,
    out: Int32Array,
    base: number,
  ): void {
    const { page, trap, reach2, kind } = this;
    sampleRow(page, y * page.width, columns, cells, kind);
    lookUnderInk(page, trap, columns, y, cells, reach2);
    paintMapRow(cells, reach2, kind, ink, colour, this.tonePx, place, ground, paper, out, base);
  }
}

const PAPER = 0;
const HARD = 1;
const SOFT = 2;

function sampleRow(
  { field, inkAlpha }: UnderInkPage,
  base: number,
  columns: Int32Array,
  cells: Int32Array,
  kind: Uint8Array,
): void {
  for (let px = 0; px < cells.length; px++) {
    const at = base + columns[px]!;
    const value = columns[px]! < 0 ? OUTSIDE : field[at]!;
    kind[px] = value >= OUTSIDE ? PAPER : inkAlpha[at] === 255 ? HARD : SOFT;
    cells[px] = value >= OUTSIDE ? value : asInk(value, field.length);
  }
}

function paintMapRow(
  cells: Int32Array,
  reach2: Int32Array,
  kind: Uint8Array,
  ink: Uint8Array,
  colour: Int32Array,
  tonePx: number,
  place: number,
  ground: number,
  paper: number,
  out: Int32Array,
  base: number,
): void {
  for (let px = 0; px < cells.length; px++) {
    const cell = cells[px]!;
    if (cell === OUTSIDE) {
      out[base + px] = ground;
      continue;
    }
    const own = cell >= 0 ? colour[cell]! : 0;
    const under = dimmed(own === 0 ? paper : own);
    const alpha = ink[px]!;
    if (alpha === 0) {
      out[base + px] = under;
      continue;
    }
    let over = IDLE;
    if (kind[px] === PAPER) over = DEPTH_TONES[0]!;
    else if (cell === COVERED) {
      const step = px + place;
      if (kind[px] === SOFT) over = (step & 2) === 0 ? LIGHT : BARE;
      else over = step % HATCH_PX === 0 ? BARE_LINE : BARE;
    } else if (own !== 0) {
      const tone = Math.floor(Math.sqrt(reach2[px]!) / tonePx);
      over = DEPTH_TONES[tone < DEPTH_TONES.length ? tone : DEPTH_TONES.length - 1]!;
    }
    out[base + px] = layOver(under, over, alpha);
  }
}

/** A word four fifths of the way to a pale grey. */
function dimmed(word: number): number {
  return layOver(word, 0xffe8e8e8 | 0, 190);
}
