import { regionsOfCells, type PixelBox, type Silhouette } from '@jumble/core';
import type { Engine } from '../engine/Engine.ts';
import type { BenchState } from './benchState.ts';
import type { GapDesk } from './GapDesk.ts';

type Loop = readonly (readonly [number, number])[];

/** What silhouettes need of their bench. */
export interface SilhouettePorts {
  readonly state: BenchState;
  readonly engine: Pick<Engine, 'silhouette' | 'showCells'>;
  readonly gaps: Pick<GapDesk, 'inTurn' | 'closeAndGive'>;
  give(regions: ReadonlySet<number>, partId: string | null): void;
  /** Shows cells as given before the gesture is finished. */
  previewCells(cells: Int32Array, box: PixelBox, partId: string): void;
}

/** Surround's rough way: all inside the outer contour of what a loop goes round takes one part, to be carved after. */
export class SilhouetteDesk {
  /** The loop that is being drawn, as far as it is not shown yet. */
  private wanted: { readonly loop: Loop; readonly partId: string } | null = null;
  private asking = false;
  private drawing = false;

  constructor(private readonly bench: SilhouettePorts) {}

  /** Shows what the loop would take if it were closed now. While it is worked out, the latest asked for wins. */
  async preview(loop: Loop, partId: string): Promise<void> {
    this.wanted = { loop, partId };
    this.drawing = true;
    if (this.asking) return;
    this.asking = true;
    try {
      while (this.wanted !== null) {
        const asked: { readonly loop: Loop; readonly partId: string } = this.wanted;
        this.wanted = null;
        const { cells, box } = await this.find(asked.loop);
        if (!this.drawing) return;
        if (box === null) this.bench.engine.showCells(null);
        else this.bench.previewCells(cells, box, asked.partId);
      }
    } catch {
      // What cannot be worked out is told when the loop is closed.
    } finally {
      this.asking = false;
    }
  }

  /** The loop is given up. */
  cancel(): void {
    this.drawing = false;
    this.wanted = null;
    this.bench.engine.showCells(null);
  }

  /**
   * Gives what the loop takes, as one step; gaps of the contour are closed with it.
   *
   * @returns whether there was anything to take.
   */
  async take(loop: Loop, partId: string): Promise<boolean> {
    this.drawing = false;
    this.wanted = null;
    let found: Silhouette | null = null;
    await this.bench.gaps.inTurn(async () => void (found = await this.find(loop)));
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

  private find(loop: Loop): Promise<Silhouette> {
    const { resolved, flats } = this.bench.state;
    const mayTake = flats.onlyOpen
      ? Uint8Array.from(resolved?.partOfRegion ?? [], (part) => (part === null ? 1 : 0))
      : null;
    return this.bench.engine.silhouette(loop, flats.share, flats.contourHold, mayTake);
  }
}

const NOTHING: Silhouette = { cells: new Int32Array(0), closures: [], box: null };
