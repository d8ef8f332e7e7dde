import {
  findLinePieces,
  findLowContrast,
  findPieceSides,
  holdInputOf,
  measureContrast,
  paintHolds,
  piecesWithin,
  renderPage,
  type FlatsAround,
  type LinePieces,
  type OpenSurvey,
  type PieceSides,
  type Survey,
} from '@jumble/core';
import type { HoldsBy, ShownHolds } from './messages.ts';

/** The lines of one page: divided once, until somebody cuts or joins them; what lies beside them is found with each division. */
export class PageLines {
  private lines: { readonly by: string; readonly pieces: LinePieces } | null = null;
  private sides: { readonly survey: Survey; readonly pieces: LinePieces; readonly sides: PieceSides } | null = null;

  constructor(private readonly allocate: (bytes: number) => ArrayBufferLike) {}

  colour({ base, survey }: OpenSurvey, by: HoldsBy): ShownHolds {
    const pieces = this.divide({ base, survey }, by);
    if (this.sides?.survey !== survey || this.sides.pieces !== pieces)
      this.sides = { survey, pieces, sides: findPieceSides(pieces, survey) };
    const { groups, partOfRegion, scenes } = by;
    const input = holdInputOf({
      pieces,
      sides: this.sides.sides,
      groups,
      partOfRegion,
      scenes,
      flats: () => flatsOf(survey, by),
    });
    const painted = paintHolds(input, by.rules, by.strokes);
    const contrast = new Float64Array(pieces.count).fill(Infinity);
    for (const { piece, difference } of measureContrast(pieces, input.sides, painted, input.rgbOf))
      contrast[piece] = Math.min(...difference);
    const { count, at, box, lengthPx, widthPx, isSolid, isLettering } = pieces;
    return {
      ...painted,
      ...input.sides,
      ...{ count, at, box, lengthPx, widthPx, isSolid, isLettering, contrast },
      low: findLowContrast(pieces, input.sides, input.parts, painted, input.rgbOf, by.limits),
    };
  }

  /** Pieces with most of their ink inside an outline. */
  within(points: readonly (readonly [number, number])[]): readonly number[] {
    return this.lines === null ? [] : piecesWithin(this.lines.pieces, points);
  }

  private divide({ base, survey }: OpenSurvey, { lineEdits }: HoldsBy): LinePieces {
    const by = JSON.stringify(lineEdits);
    if (this.lines?.by !== by) this.lines = { by, pieces: findLinePieces(base, survey, lineEdits, this.allocate) };
    return this.lines.pieces;
  }
}

/** The flats as they are coloured, for the surroundings of lines. */
function flatsOf(survey: Survey, { groups, partOfRegion, scenes, trap, trapInk }: HoldsBy): FlatsAround {
  const { parts, rgbOfPart } = renderPage({
    survey,
    partOfRegion,
    sceneOfRegion: scenes.ofRegion,
    groups,
    trap,
    trapInk,
  });
  return { width: parts.width, height: parts.height, data: parts.data, rgb: rgbOfPart };
}
