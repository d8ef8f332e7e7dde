import { cellsInContour, cellsOf, regionsOfCells, type CellGroups, type PixelBox, type Silhouette } from '@jumble/core';
import type { Engine } from '../engine/Engine.ts';
import type { ShownSurvey } from '../engine/messages.ts';
import type { BenchState } from './benchState.ts';
import type { GapDesk } from './GapDesk.ts';

type Loop = readonly (readonly [number, number])[];

/** What silhouettes need of their bench. */
export interface SilhouettePorts {
  readonly state: BenchState;
  readonly engine: Pick<Engine, 'contours' | 'silhouette' | 'showCells'>;
  readonly gaps: Pick<GapDesk, 'inTurn' | 'closeAndGive'>;
  give(regions: ReadonlySet<number>, partId: string | null): void;
  /** Shows cells as given before the gesture is finished. */
  previewCells(cells: Int32Array, box: PixelBox, partId: string): void;
}

/** Surround's rough way: all inside the outer contour of what a loop goes round takes one part, to be carved after. */
export class SilhouetteDesk {
  /** What hangs together on the page as it is divided. */
  private contours: { readonly survey: ShownSurvey; readonly holdFrom: number; readonly groups: CellGroups } | null =
    null;
  private asking = false;
  /** The loop that is being drawn. */
  private drawn: { readonly loop: Loop; readonly partId: string } | null = null;

  constructor(private readonly bench: SilhouettePorts) {}

  /** A loop begins: what it needs is found meanwhile. */
  begin(): void {
    if (this.groups() === null) void this.findContours();
  }

  /** Shows what the loop would take if it were closed now. */
  preview(loop: Loop, partId: string): void {
    this.drawn = { loop, partId };
    const { survey, flats } = this.bench.state;
    const groups = this.groups();
    if (survey === null || groups === null) {
      void this.findContours();
      return;
    }
    const mayTake = this.mayTake();
    const { inside, box } = cellsInContour(survey, groups, loop, flats.share, (region) => mayTake?.[region] !== 0);
    if (box === null) this.bench.engine.showCells(null);
    else this.bench.previewCells(cellsOf(inside), box, partId);
  }

  /** The loop is given up. */
  cancel(): void {
    this.drawn = null;
    this.bench.engine.showCells(null);
  }

  /**
   * Gives what the loop takes, as one step; gaps of the contour are closed with it.
   *
   * @returns whether there was anything to take.
   */
  async take(loop: Loop, partId: string): Promise<boolean> {
    this.drawn = null;
    let found: Silhouette | null = null;
    await this.bench.gaps.inTurn(async () => {
      const { share, contourHold } = this.bench.state.flats;
      found = await this.bench.engine.silhouette(loop, share, contourHold, this.mayTake());
    });
    const { survey } = this.bench.state;
    const { cells, closures } = found ?? NOTHING;
    if (survey !== null && cells.length > 0) {
      const taken = new Set(cells);
      if (closures.length === 0) this.bench.give(regionsOfCells(survey, taken), partId);
      else await this.bench.gaps.closeAndGive(survey, closures, taken, partId);
    }
    this.bench.engine.showCells(null);
    // Where it failed that was told.
    return found === null || cells.length > 0;
  }

  /** What hangs together; null where the page was divided otherwise, or the control moved. */
  private groups(): CellGroups | null {
    const { survey, flats } = this.bench.state;
    const isNow = this.contours?.survey === survey && this.contours?.holdFrom === flats.contourHold;
    return isNow ? this.contours!.groups : null;
  }

  /** Finds what hangs together, then shows the loop as it is drawn by then. */
  private async findContours(): Promise<void> {
    if (this.asking) return;
    this.asking = true;
    try {
      const { survey, flats } = this.bench.state;
      if (survey === null) return;
      const groups = await this.bench.engine.contours(flats.contourHold);
      this.contours = { survey, holdFrom: flats.contourHold, groups };
    } catch {
      // What cannot be found is told when the loop is closed.
      return;
    } finally {
      this.asking = false;
    }
    if (this.drawn !== null) this.preview(this.drawn.loop, this.drawn.partId);
  }

  /** 1 for regions that may be taken; null for all. */
  private mayTake(): Uint8Array | null {
    const { resolved, flats } = this.bench.state;
    return flats.onlyOpen ? Uint8Array.from(resolved?.partOfRegion ?? [], (part) => (part === null ? 1 : 0)) : null;
  }
}

const NOTHING: Silhouette = { cells: new Int32Array(0), closures: [] };
