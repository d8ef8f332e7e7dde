import { regionsInPanel, type BenchState } from './benchState.ts';
import type { Looking } from './Looking.ts';

/** What walking through the open regions needs of the bench. */
export interface WalkPorts {
  readonly state: BenchState;
  readonly flats: { keepIsland(region: number): void };
  readonly looking: Pick<Looking, 'showBox' | 'point'>;
  set(part: Pick<BenchState, 'current'>): void;
  give(regions: ReadonlySet<number>, partId: string | null): void;
}

/** The worklist of the Flats stage: where it stands, and what keys do to the region there. */
export class OpenWalk {
  constructor(private readonly bench: WalkPorts) {}

  /** Stands at a region and brings it into view. */
  goTo(region: number | null): void {
    this.bench.set({ current: region });
    this.bench.looking.point();
    const { survey } = this.bench.state;
    if (region === null || survey === null) return;
    const [x0, y0, x1, y1] = survey.regions.box.subarray(region * 4, region * 4 + 4) as unknown as [
      number,
      number,
      number,
      number,
    ];
    this.bench.looking.showBox([x0, y0, x1, y1]);
  }

  /** The next region without a part after the current one, or the one before. */
  go(direction: 1 | -1): void {
    const { current, survey } = this.bench.state;
    const open = regionsInPanel(this.bench.state);
    if (open.length === 0 || survey === null) {
      this.goTo(null);
      return;
    }
    const { areaPx } = survey.regions;
    const at = current === null ? -1 : open.indexOf(current);
    if (at >= 0) {
      this.goTo(open[(at + direction + open.length) % open.length]!);
      return;
    }
    // The current one is settled: go on with the next smaller one.
    const area = current === null ? Infinity : areaPx[current]!;
    const start = Math.max(
      0,
      open.findIndex((region) => areaPx[region]! <= area),
    );
    this.goTo(open[direction === 1 ? start : (start - 1 + open.length) % open.length]!);
  }

  /** Gives the region the worklist stands at to a part, takes its part away (null), or agrees with what it has; and goes on. */
  rule(partId: string | null): void {
    const { current, resolved, islands, lookRegions } = this.bench.state;
    if (current === null) {
      this.go(1);
      return;
    }
    if (partId !== null && islands.includes(current)) this.bench.flats.keepIsland(current);
    else if (partId !== null && resolved !== null && lookRegions.includes(current))
      // It was looked at: it keeps its part.
      this.bench.give(new Set([current]), resolved.partOfRegion[current]!);
    else this.bench.give(new Set([current]), partId);
    if (partId !== null) this.go(1);
  }
}
