import { editTile } from '../page/pageEdits.ts';
import type { RecordEdit } from '../model/records.ts';
import { TILE_AREA, TILE_PX, packTile } from '../model/CorrectionTile.ts';
import type { Corrections } from './Corrections.ts';
import { visitStroke } from './visitStroke.ts';

/** What a stroke paints. */
export interface StrokeRule {
  /** Null wipes out what was painted. */
  readonly part: string | null;
  readonly sizePx: number;
  /** Whether a pixel may be painted: the region where a stroke began, say. */
  readonly allows: (x: number, y: number) => boolean;
}

/** A stroke of a hard pen while it is drawn: the squares it changes, until they become edits. */
export class StrokeDraft {
  /** Squares that were changed, as they are now: 1 + place in `parts`. */
  readonly tiles = new Map<number, Uint16Array>();
  readonly parts: string[];
  private readonly value: number;
  private last: readonly [number, number] | null = null;

  constructor(
    private readonly before: Corrections,
    private readonly size: { readonly width: number; readonly height: number },
    private readonly rule: StrokeRule,
  ) {
    this.parts = [...before.parts];
    const { part } = rule;
    this.value = part === null ? 0 : this.parts.indexOf(part) + 1 || this.parts.push(part);
  }

  /** Goes on to a pixel. @returns the numbers of the squares that changed. */
  lineTo(to: readonly [number, number]): Set<number> {
    const touched = new Set<number>();
    const { width, height } = this.size;
    const perRow = this.before.tilesPerRow;
    visitStroke(this.last ?? to, to, this.rule.sizePx, width, height, (x, y) => {
      if (!this.rule.allows(x, y)) return;
      const number = Math.floor(y / TILE_PX) * perRow + Math.floor(x / TILE_PX);
      const inTile = (y % TILE_PX) * TILE_PX + (x % TILE_PX);
      const now = this.tiles.get(number) ?? this.before.tiles.get(number);
      if ((now?.[inTile] ?? 0) === this.value) return;
      let tile = this.tiles.get(number);
      if (tile === undefined) this.tiles.set(number, (tile = now?.slice() ?? new Uint16Array(TILE_AREA)));
      tile[inTile] = this.value;
      touched.add(number);
    });
    this.last = to;
    return touched;
  }

  edits(): RecordEdit[] {
    const perRow = this.before.tilesPerRow;
    return [...this.tiles]
      .sort(([a], [b]) => a - b)
      .map(([number, values]) =>
        editTile(
          `${number % perRow},${Math.floor(number / perRow)}`,
          packTile(values, (value) => this.parts[value - 1]!),
        ),
      );
  }
}
