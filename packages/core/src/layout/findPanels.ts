import { areaOf, type Panel } from './Panel.ts';
import { coarseInk, type CoarseInk } from './coarseInk.ts';
import { findGutter, type Block } from './findGutter.ts';
import { fitFrame } from './fitFrame.ts';
import { insetsIn, labelPaper, piecesIn } from './panelPieces.ts';

/** What is smaller than this share of the page is no panel. */
const LEAST_SHARE = 0.012;

/**
 * Finds the panels of a page in reading order: it is cut along its gutters, row by row and then
 * column by column (the X-Y cut of Nagy and Seth 1984, with slanted cuts that need a frame on both
 * sides and forgive balloons and figures across them); each piece is then closed in by its frame. Panels
 * that stand inside others come after them. A drawing without any frame is one panel: the page.
 *
 * @param inkAlpha ink of the page, 0..255 a pixel.
 * @returns polygons in px of the page. Cost: a read of the page; the rest is on a small picture of it.
 */
export function findPanels(inkAlpha: Uint8Array, width: number, height: number): Panel[] {
  const page = coarseInk(inkAlpha, width, height);
  if (!page.ink.includes(1)) return [];
  const paper = labelPaper(page);
  const blocks: Block[] = [];
  cutBlock(
    page,
    {
      corners: [
        [0, 0],
        [page.width, 0],
        [page.width, page.height],
        [0, page.height],
      ],
    },
    0,
    blocks,
  );

  const found: Panel[] = [];
  let hasFrame = false;
  const least = LEAST_SHARE * page.width * page.height;
  for (const block of blocks) {
    const pieces = piecesIn(page, paper, block, least);
    const fitted = pieces.length > 1 ? null : fitFrame(page, block);
    const panels = fitted !== null ? [fitted] : pieces.length > 1 ? pieces : [];
    for (const panel of panels) {
      if (areaOf(panel.points) < least) continue;
      found.push(panel, ...insetsIn(page, paper, panel, least));
      // Beside a gutter one side will do: the others run off the page.
      hasFrame ||= panel.framed || (blocks.length > 1 && fitted !== null && fitted.frameSides > 0);
    }
  }
  if (!hasFrame) return [wholePage(width, height)];
  return found.map(({ points, framed }) => ({
    framed,
    points: points.map((point) => toPage(point, page, width, height)),
  }));
}

function wholePage(width: number, height: number): Panel {
  return {
    framed: false,
    points: [
      [0, 0],
      [width, 0],
      [width, height],
      [0, height],
    ],
  };
}

/** A page has no more rows of columns of rows than this. */
const MOST_CUTS = 7;

function cutBlock(page: CoarseInk, block: Block, depth: number, out: Block[]): void {
  const gutter = depth < MOST_CUTS ? findGutter(page, block) : null;
  if (gutter === null) {
    out.push(block);
    return;
  }
  for (const part of gutter) cutBlock(page, part, depth + 1, out);
}

function toPage([x, y]: readonly [number, number], page: CoarseInk, width: number, height: number): [number, number] {
  return [
    Math.min(width, Math.max(0, Math.round(x * page.factor))),
    Math.min(height, Math.max(0, Math.round(y * page.factor))),
  ];
}
