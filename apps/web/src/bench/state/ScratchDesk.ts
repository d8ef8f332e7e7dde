import { editPalette, editScratch, formatColour, scratchColours, touchingParts, type RecordEdit } from '@jumble/core';
import type { Engine } from '../engine/Engine.ts';
import type { BenchState } from './benchState.ts';

/** What scratch colours need of the bench. */
export interface ScratchPorts {
  readonly state: Pick<BenchState, 'cast' | 'resolved'>;
  readonly engine: Pick<Engine, 'touching'>;
  changeCast(label: string, edits: readonly RecordEdit[]): void;
  set(part: Pick<BenchState, 'scratchDistance'>): void;
  fail(error: Error): void;
}

/** Loud colours, so that a missed spot shows. */
export class ScratchDesk {
  constructor(private readonly bench: ScratchPorts) {}

  /** Gives every part of the job a loud colour unlike those it touches on this page. */
  async use(): Promise<void> {
    const parts = this.bench.state.cast?.parts.filter((part) => !part.empty);
    if (parts === undefined || this.bench.state.resolved === null) return;
    const pairs = await this.bench.engine.touching().catch((error: Error) => this.bench.fail(error));
    if (pairs === undefined) return;
    const number = new Map(parts.map((part, k) => [part.id, k]));
    // What was given meanwhile counts.
    const partOfRegion = Int32Array.from(this.bench.state.resolved.partOfRegion, (id) =>
      id === null ? -1 : (number.get(id) ?? -1),
    );
    const { rgb, leastDistance } = scratchColours(parts.length, touchingParts(pairs, partOfRegion));
    const edits = parts.map((part, k) => editScratch(part.id, formatColour(rgb[k]!)));
    this.bench.changeCast('Use scratch colours', [...edits, editPalette('scratch')]);
    this.bench.set({ scratchDistance: Number.isFinite(leastDistance) ? leastDistance : null });
  }

  /** Shows the colours of the page's scene again. */
  useReal(): void {
    this.bench.changeCast('Use the real colours', [editPalette('scene')]);
    this.bench.set({ scratchDistance: null });
  }
}
