import {
  NO_TRAP_INK,
  stackedGroups,
  stackedParts,
  trapOfRegions,
  type CastSheet,
  type PageDocument,
  type RegionTrap,
  type ResolvedFills,
  type TrapRule,
} from '@jumble/core';
import type { ShownSurvey } from '../engine/messages.ts';
import type { Bench } from '../state/Bench.ts';
import type { BenchState } from '../state/benchState.ts';

/** Which rule of trap every region of the page has. */
export function trapOfPage(
  survey: ShownSurvey,
  page: PageDocument,
  cast: CastSheet,
  { partOfRegion }: ResolvedFills,
  dpi: number | null,
): RegionTrap {
  const parts = stackedGroups(cast).flatMap((group) => stackedParts(cast, group.id));
  return trapOfRegions(survey, { job: cast.trap, page, parts, partOfRegion, dpi });
}

/** The same page with one rule all over it, but for what lies in solid blacks. */
export function withOneRule({ trap, survey, cast, page }: BenchState, rule: TrapRule): RegionTrap | null {
  if (trap === null || survey === null || cast === null) return null;
  const document = { trap: rule, areas: new Map(), panels: null };
  const partOfRegion = Array<null>(survey.regions.count).fill(null);
  const one = trapOfRegions(survey, {
    job: cast.trap,
    page: document,
    parts: [],
    partOfRegion,
    dpi: page?.dpi ?? null,
  });
  return { ...one, rankOfRegion: trap.rankOfRegion };
}

/** What the ink was looked through for last, by bench. */
const asked = new WeakMap<Bench, string>();

/** Finds what trap needs to know of the ink, where that is something else than before. */
export function followTrapInk(bench: Bench): void {
  const { trap, survey, readBy, document: page } = bench.state;
  if (trap === null || survey === null || page === null) return;
  const { pinholePx2, solidDepthPx } = trap;
  const key = JSON.stringify([readBy, page.drawn, survey.cellCount, pinholePx2, solidDepthPx !== null]);
  if (asked.get(bench) === key) return;
  asked.set(bench, key);
  void bench.turns.run(async () => {
    const trapInk =
      pinholePx2 === 0 && solidDepthPx === null
        ? NO_TRAP_INK
        : await bench.engine.findTrapInk({ pinholePx2, solidDepthPx });
    if (asked.get(bench) !== key) return;
    bench.set({ trapInk });
    bench.engine.showTrapInk(trapInk);
    for (const stage of bench.stages) stage.partsChanged?.(bench);
  });
}
