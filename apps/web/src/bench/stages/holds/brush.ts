import {
  editLineStroke,
  formatColour,
  LineBrush,
  MOST_LINE_POINTS,
  simplifyLine,
  TILE_AREA,
  TILE_PX,
  type Point,
} from '@jumble/core';
import { counted } from '../../../measures.ts';
import { refreshView } from '../../page/look.ts';
import type { Bench } from '../../state/Bench.ts';
import type { BenchState } from '../../state/benchState.ts';
import { stepSize } from '../../tools/penSizes.ts';
import { lineAt } from './draft.ts';
import type { HoldBrush } from './holdsState.ts';

/** How much a stroke's way is smoothed, in page px: less than can be seen. */
const SMOOTH_PX = 0.4;

export function setBrush(bench: Bench, change: Partial<HoldBrush>): void {
  bench.set({ holdBrush: { ...bench.state.holdBrush, ...change } });
  // Marks beside chosen lines would be in the way.
  if (change.on !== undefined) refreshView(bench);
}

export function stepBrushSize(bench: Bench, direction: 1 | -1): void {
  setBrush(bench, { sizePx: stepSize(bench.state.holdBrush.sizePx, direction) });
}

/** Takes the colour of the line at a point into the brush. */
export function pickLineColour(bench: Bench, [x, y]: Point, reachPx: number): void {
  const piece = lineAt(bench.state, x, y, reachPx);
  if (piece !== null) setBrush(bench, { colour: formatColour(Math.max(0, bench.state.holds!.rgb[piece]!)) });
}

/** The strokes that were painted on some lines and no others. @param isChosen of each piece. */
export function strokesOnlyOn(
  { document: page, holds, survey }: BenchState,
  isChosen: (piece: number) => boolean,
): string[] {
  if (page === null || holds === null || survey === null) return [];
  const { ofPixel } = holds.paint;
  return [...page.lineStrokes].flatMap(([id, stroke]) => {
    const brush = new LineBrush(survey, ofPixel);
    brush.paint({ ...stroke, colour: stroke.colour ?? '#000000' });
    const { raster } = brush;
    const isOnlyOn = [...(raster?.tiles ?? [])].every(([number, words]) => {
      const [left, top] = [
        (number % raster!.tilesPerRow) * TILE_PX,
        Math.floor(number / raster!.tilesPerRow) * TILE_PX,
      ];
      return words.every(
        (word, at) =>
          word === 0 || isChosen(ofPixel[(top + Math.floor(at / TILE_PX)) * survey.width + left + (at % TILE_PX)]! - 1),
      );
    });
    return isOnlyOn ? [id] : [];
  });
}

/** All that was painted on the lines of the page goes, as one step. */
export function removeStrokes(bench: Bench): void {
  const ids = [...(bench.state.document?.lineStrokes.keys() ?? [])];
  if (ids.length > 0)
    bench.push({
      label: `Remove ${counted(ids.length, 'brush stroke')} on lines`,
      edits: ids.map((id) => editLineStroke(id, null)),
    });
}

/** A stroke of the brush, from where it is put down to where it is lifted or given up. */
export class BrushStroke {
  private readonly brush: LineBrush;
  private readonly points: Point[] = [];

  /** @param colour null takes away what was painted. */
  constructor(
    private readonly bench: Bench,
    private readonly colour: string | null,
  ) {
    const { survey, holds } = bench.state;
    this.brush = new LineBrush(survey!, holds!.paint.ofPixel);
  }

  lineTo(at: Point): void {
    const { sizePx } = this.bench.state.holdBrush;
    const last = this.points.at(-1);
    this.points.push(at);
    this.show(
      this.brush.paint({ colour: this.colour ?? '#000000', sizePx, points: last === undefined ? [at] : [last, at] }),
    );
  }

  /** Shows what is painted over what the lines are; where it is taken away, the one colour of the rule. */
  private show(squares: ReadonlySet<number>): void {
    const { raster } = this.brush;
    const { paint } = this.bench.state.holds!;
    if (raster === null || squares.size === 0) return;
    const tiles = new Map(
      [...squares].map((number) => {
        const shown = paint.varying?.tiles.get(number)?.slice() ?? new Uint32Array(TILE_AREA);
        raster.tiles.get(number)!.forEach((word, at) => {
          if (word !== 0) shown[at] = this.colour === null ? 0 : word;
        });
        return [number, shown] as const;
      }),
    );
    this.bench.engine.patchHolds({ tilesPerRow: raster.tilesPerRow, tiles });
  }

  /** Lifts the brush: the stroke becomes one step. @returns false where it met no line. */
  finish(): boolean {
    if (this.brush.raster === null) return false;
    const { document: page, holdBrush } = this.bench.state;
    let points = simplifyLine(this.points, SMOOTH_PX);
    // A very long stroke is smoothed more: all of it is kept.
    for (let smooth = 2 * SMOOTH_PX; points.length > MOST_LINE_POINTS; smooth *= 2)
      points = simplifyLine(this.points, smooth);
    const stamp = Math.max(-1, ...[...page!.lineStrokes.values()].map((one) => one.stamp)) + 1;
    this.bench.push({
      label: this.colour === null ? 'Wipe a brush stroke on lines away' : 'Touch lines up by brush',
      edits: [editLineStroke(crypto.randomUUID(), { colour: this.colour, sizePx: holdBrush.sizePx, points, stamp })],
    });
    return true;
  }

  cancel(): void {
    const { holds } = this.bench.state;
    if (holds !== null) this.bench.engine.showHolds(holds.paint);
  }
}
