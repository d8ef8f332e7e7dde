import type { InkPoints, LineWidth, PaperTone } from './inkMeasures.ts';
import type { Closure, Regions } from './Regions.ts';
import type { CellGraph } from './CellGraph.ts';

/** Everything about a page that depends on its line art, its prep settings and the rulings on its gaps. */
export interface Survey {
  readonly width: number;
  readonly height: number;
  /** Printed ink 0..255 a pixel. */
  readonly inkAlpha: Uint8Array;
  /** On paper the cell (>= 0), on ink `~index` of the nearest paper pixel, `NO_PAPER` where there is none. */
  readonly field: Int32Array;
  readonly cellCount: number;
  readonly graph: CellGraph;
  readonly regions: Regions;
  /** Cuts up to the largest gap to close, each with its confidence and what it parts. */
  readonly closures: readonly Closure[];
  readonly lineWidthPx: LineWidth;
  readonly inkPoints: InkPoints;
  /** Groups of cells below this area are crumbs. */
  readonly crumbLimitPx2: number;
  /** Largest gap that is closed, in px. */
  readonly maxGapPx: number;
  /** Largest gap that was looked for: `maxGapPx` can go up to it without a new survey. */
  readonly gapsFoundToPx: number;
  readonly looseEnds: number;
  readonly paperPx: number;
  /** The paper as it came, before anything was done to it. */
  readonly paper: PaperTone;
  readonly flattened: boolean;
  readonly specksCleared: number;
  /** The page was turned by this; 0 where it lies as it came. */
  readonly slopePpm: number;
}
