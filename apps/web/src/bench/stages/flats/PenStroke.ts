import { regionUnder, StrokeDraft } from '@jumble/core';
import { correctionsOn, paintedTiles, showPainted } from '../../page/painted.ts';
import type { Bench } from '../../state/Bench.ts';

type Point = readonly [number, number];

/** A stroke of the hard pen, from where it is put down to where it is lifted or given up. */
export class PenStroke {
  private constructor(
    private readonly bench: Bench,
    private readonly draft: StrokeDraft,
    private readonly part: string | null,
  ) {}

  /**
   * Puts the pen down. @param part null wipes out what was painted.
   *
   * @returns null where there is nothing to paint on: a stroke that stays inside has to begin in a region.
   */
  static begin(bench: Bench, at: Point, part: string | null): PenStroke | null {
    const { survey, page, flats } = bench.state;
    if (survey === null || page === null) return null;
    const { nib, sizePx } = flats.pen;
    let allows = (_x: number, _y: number): boolean => true;
    if (nib === 'inside') {
      const own = regionUnder(survey, at[1] * survey.width + at[0]);
      if (own < 0) return null;
      allows = (x, y) => regionUnder(survey, y * survey.width + x) === own;
    }
    const draft = new StrokeDraft(correctionsOn(bench), page, { part, sizePx, allows });
    const stroke = new PenStroke(bench, draft, part);
    stroke.lineTo(at);
    return stroke;
  }

  lineTo(at: Point): void {
    const { survey, document: page, cast } = this.bench.state;
    if (survey === null || page === null || cast === null) return;
    const touched = this.draft.lineTo(at);
    if (touched.size === 0) return;
    const { tilesPerRow } = correctionsOn(this.bench);
    const tiles = new Map([...touched].map((number) => [number, this.draft.tiles.get(number)!]));
    this.bench.engine.patchCorrections(paintedTiles(this.bench.state, { tilesPerRow, parts: this.draft.parts, tiles }));
  }

  /** Lifts the pen: the stroke becomes one step. */
  finish(): void {
    const edits = this.draft.edits();
    if (edits.length === 0) return;
    const name = this.bench.state.cast?.parts.find((one) => one.id === this.part)?.name ?? '';
    this.bench.push({ label: this.part === null ? 'Wipe out painted pixels' : `Paint ${name}`, edits });
  }

  cancel(): void {
    showPainted(this.bench, true);
  }
}
