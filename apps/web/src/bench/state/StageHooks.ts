import type { Overlay } from '../engine/messages.ts';
import type { Bench } from './Bench.ts';
import type { BenchState, StageName } from './benchState.ts';

/** How a stage follows what happens on the page. The bench knows its stages by this alone, in the order of the work. */
export interface StageHooks {
  readonly name: StageName;
  /** Marks over the page while the stage is shown; null for none. */
  readonly overlay?: (state: BenchState) => Overlay | null;
  /** Shows what is proposed in the colours of the regions, while the stage is shown. */
  readonly preview?: (bench: Bench) => void;
  /** The page was read, or read anew. */
  readonly pageRead?: (bench: Bench) => void;
  /** Regions have other numbers than before: by decision, or shown before it is decided. */
  readonly divided?: (bench: Bench, decided: boolean) => void;
  /** The page's document changed. */
  readonly documentChanged?: (bench: Bench) => void;
  /** Who has which region was worked out anew. */
  readonly partsChanged?: (bench: Bench) => void;
}
