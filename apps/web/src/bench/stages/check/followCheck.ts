import type { PartUsageView } from '@jumble/contracts';
import { planParts, regionAt, sameTrap, scenesOfPage, trimBoxes, type FaintLine, type Finding } from '@jumble/core';
import { getJson } from '../../../api/http.ts';
import type { CheckBy } from '../../engine/messages.ts';
import { correctionsOn } from '../../page/painted.ts';
import { drawOver } from '../../page/show.ts';
import type { Bench } from '../../state/Bench.ts';
import type { BenchState } from '../../state/benchState.ts';
import { followCertificate } from './certificate.ts';
import { inkFindings } from './inkFindings.ts';
import { hideRemedy } from './remedies.ts';

/** What the findings on show were looked for in. */
const known = new WeakMap<Bench, readonly unknown[]>();
const usage = new WeakMap<Bench, readonly PartUsageView[]>();

/** Checks the page anew where something changed; on other stages it is only said that nobody has. */
export function followCheck(bench: Bench): void {
  followCertificate(bench);
  const by = dependsOn(bench);
  if (by === null) return;
  const before = known.get(bench);
  if (before !== undefined && isSame(before, by)) return;
  if (bench.state.stage === 'check') void check(bench);
  else if (bench.state.findings !== null) {
    known.delete(bench);
    bench.set({ findings: null });
  }
}

async function check(bench: Bench): Promise<void> {
  if (bench.isClosed || bench.state.checking) return;
  bench.set({ checking: true });
  let isDone = false;
  await usedParts(bench);
  await bench.turns.run(async () => {
    const wanted = dependsOn(bench);
    const by = checkBy(bench);
    if (wanted === null || by === null) return;
    const findings = await bench.engine.checkPage(by);
    const overInked = await inkFindings(bench.state);
    known.set(bench, wanted);
    takeFindings(bench, [...findings, ...overInked]);
    isDone = true;
  });
  bench.set({ checking: false });
  // What failed was said; it is tried again with the next change.
  if (!isDone) return;
  const now = dependsOn(bench);
  if (bench.state.stage === 'check' && now !== null && !isSame(known.get(bench)!, now)) await check(bench);
}

/** Which parts the pages of the job use; without an answer nothing is said of parts. */
async function usedParts(bench: Bench): Promise<void> {
  const { page } = bench.state;
  if (page === null) return;
  try {
    usage.set(bench, await getJson<PartUsageView[]>(`/api/jobs/${page.jobId}/cast/usage`));
  } catch {
    usage.delete(bench);
  }
}

function takeFindings(bench: Bench, findings: readonly Finding[]): void {
  bench.set({ findings });
  drawOver(bench);
}

function dependsOn(bench: Bench): readonly unknown[] | null {
  const { trap, survey, resolved, cast, document: page, holds, facts, trim, page: view } = bench.state;
  if (trap === null || survey === null || resolved === null || cast === null || page === null || view === null)
    return null;
  return [survey, resolved.partOfRegion, trap, cast, page.tiles, page.scene, page.panels, page.balloons, page.rulings, page.lineStrokes, page.holds, holds, facts, JSON.stringify(trim), view.dpi, bench.state.trapInk]; // prettier-ignore
}

function isSame(a: readonly unknown[], b: readonly unknown[]): boolean {
  return a.every((one, k) => {
    const two = b[k];
    if (one === two) return true;
    if (one instanceof Map && two instanceof Map)
      return one.size === two.size && [...one].every(([key, value]) => two.get(key) === value);
    if (Array.isArray(one) && Array.isArray(two))
      return one.length === two.length && one.every((each, place) => each === two[place]);
    return k === TRAP && sameTrap(one as Parameters<typeof sameTrap>[0], two as Parameters<typeof sameTrap>[1]);
  });
}
/** Place of the trap in what a check depends on. */
const TRAP = 2;

function checkBy(bench: Bench): CheckBy | null {
  const { state } = bench;
  const { trap, trapInk, survey, resolved, cast, document: page, facts, page: view } = state;
  if (trap === null || survey === null || resolved === null || cast === null || page === null || view === null)
    return null;
  const { scenes, ofRegion } = scenesOfPage(survey, page);
  const empty = new Set(cast.parts.filter((part) => part.empty).map(({ id }) => id));
  const open = new Set(state.openRegions);
  const leftEmpty = Uint8Array.from(resolved.partOfRegion, (part, region) =>
    part === null ? Number(!open.has(region)) : Number(empty.has(part)),
  );
  const drawing = new Set<number | null>();
  for (const [key, ruling] of page.balloons) {
    const [x, y] = key.split(',').map(Number) as [number, number];
    const region = regionAt(survey, x, y);
    if (ruling === 'drawing') drawing.add(region);
    else if (region !== null && resolved.partOfRegion[region] === null) leftEmpty[region] = 1;
  }
  const balloons = (facts?.balloons ?? []).flatMap(({ at }) => {
    const region = regionAt(survey, at[0], at[1]);
    return region === null || drawing.has(region) ? [] : [{ region, at }];
  });
  const used = usage.get(bench);
  return {
    groups: planParts(cast, scenes),
    names: cast.parts.map(({ id, name }) => ({ id, name })),
    partOfRegion: resolved.partOfRegion,
    sceneOfRegion: ofRegion,
    corrections: correctionsOn(bench),
    trap,
    trapInk,
    checks: cast.checks,
    leftEmpty,
    balloons,
    faintLines: faintLines(state),
    dpi: view.dpi,
    trim: trimBoxes(state.trim, state.page),
    usedElsewhere:
      used === undefined
        ? null
        : new Set(used.filter(({ pages }) => pages.some((one) => one.pageId !== view.id)).map(({ partId }) => partId)),
  };
}

function faintLines({ holds, survey }: BenchState): FaintLine[] {
  if (holds === null || survey === null) return [];
  return holds.low.map(({ piece, difference }) => {
    const at = holds.at[piece]!;
    const box = holds.box.subarray(piece * 4, piece * 4 + 4) as unknown as FaintLine['box'];
    return {
      at: [at % survey.width, Math.floor(at / survey.width)],
      box: [box[0], box[1], box[2], box[3]],
      difference: Math.min(...difference),
    };
  });
}

/** Leaving the stage takes what was shown of a remedy along. */
export function leaveCheck(bench: Bench): void {
  if (bench.state.stage === 'check') return;
  hideRemedy(bench);
  if (bench.state.mendKind !== null || bench.state.waiving) bench.set({ mendKind: null, waiving: false });
}
