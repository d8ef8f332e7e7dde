import { sameTrap, type RegionTrap, type TrapFault, type TrapFaultKind, type TrapRule } from '@jumble/core';
import { counted } from '../../../measures.ts';
import type { ShownSurvey } from '../../engine/messages.ts';
import { showBox } from '../../page/look.ts';
import { inShownPanel } from '../../page/panels.ts';
import { drawOver } from '../../page/show.ts';
import type { Bench } from '../../state/Bench.ts';
import type { BenchState } from '../../state/benchState.ts';
import { addAreas } from './rules.ts';

/** Names a place among those that were found. */
export const keyOfFault = ({ kind, at }: TrapFault): string => `${kind}/${at.join()}`;

/** What the places on show were looked for in. */
interface LookedFor {
  readonly survey: ShownSurvey;
  readonly trap: RegionTrap;
  readonly parts: Int32Array;
}

const known = new WeakMap<Bench, LookedFor>();
const waiting = new WeakMap<Bench, ReturnType<typeof setTimeout>>();
/** On other stages the count on the rail follows once nobody has changed anything for so long. */
const IDLE_MS = 1500;

/** Looks for the places anew where something changed that they depend on. */
export function followFaults(bench: Bench): void {
  clearTimeout(waiting.get(bench));
  const { trap, survey, resolved } = bench.state;
  if (trap === null || survey === null || resolved === null) return;
  if (trap.rules.every(({ depthPx }) => depthPx === Infinity)) {
    known.delete(bench);
    takeFaults(bench, []);
    return;
  }
  if (bench.state.stage === 'trap') void lookForFaults(bench);
  else
    waiting.set(
      bench,
      setTimeout(() => void lookForFaults(bench), IDLE_MS),
    );
}

async function lookForFaults(bench: Bench): Promise<void> {
  if (bench.isClosed || bench.state.faultsLookedFor) return;
  const wanted = wantedOf(bench.state);
  if (wanted === null || isSame(known.get(bench), wanted)) return;
  bench.set({ faultsLookedFor: true });
  let isDone = false;
  await bench.turns.run(async () => {
    const faults = await bench.engine.findTrapFaults(wanted.parts, wanted.trap, bench.state.trapInk);
    known.set(bench, wanted);
    takeFaults(bench, faults);
    isDone = true;
  });
  bench.set({ faultsLookedFor: false });
  // What failed was said; it is tried again with the next change.
  if (!isDone) return;
  // It may have changed meanwhile.
  if (!isSame(known.get(bench), wantedOf(bench.state))) await lookForFaults(bench);
}

function wantedOf({ trap, survey, resolved, cast }: BenchState): LookedFor | null {
  if (trap === null || survey === null || resolved === null || cast === null) return null;
  const number = new Map(cast.parts.map(({ id, empty }, k) => [id, empty ? -1 : k]));
  const parts = Int32Array.from(resolved.partOfRegion, (part) => (part === null ? -1 : (number.get(part) ?? -1)));
  return { survey, trap, parts };
}

function isSame(a: LookedFor | undefined, b: LookedFor | null): boolean {
  if (a === undefined || b === null) return a === undefined && b === null;
  return (
    a.survey.cellCount === b.survey.cellCount &&
    a.survey.field === b.survey.field &&
    sameTrap(a.trap, b.trap) &&
    a.parts.length === b.parts.length &&
    a.parts.every((part, region) => part === b.parts[region])
  );
}

function takeFaults(bench: Bench, faults: readonly TrapFault[]): void {
  const { faultKey } = bench.state;
  const isThere = faults.some((one) => keyOfFault(one) === faultKey);
  bench.set({ faults, faultKey: isThere ? faultKey : null });
  drawOver(bench);
}

/** The places in the panel the worklist keeps to. */
export function faultsListed(state: BenchState): readonly TrapFault[] {
  const faults = state.faults ?? [];
  return state.panelShown === null ? faults : faults.filter(({ at: [x, y] }) => inShownPanel(state, x, y));
}

export function faultNow({ faults, faultKey }: BenchState): TrapFault | undefined {
  return faultKey === null ? undefined : faults?.find((one) => keyOfFault(one) === faultKey);
}

/** Goes to the next place, or the one before, and shows it close up. */
export function goToFault(bench: Bench, direction: 1 | -1): void {
  const listed = faultsListed(bench.state);
  const at = listed.findIndex((one) => keyOfFault(one) === bench.state.faultKey);
  const next = at < 0 ? (direction === 1 ? 0 : listed.length - 1) : (at + direction + listed.length) % listed.length;
  selectFault(bench, listed[next]);
}

/** Room around a place, in page px. */
const ROOM_PX = 24;

export function selectFault(bench: Bench, fault: TrapFault | undefined): void {
  bench.set({ faultKey: fault === undefined ? null : keyOfFault(fault), areaId: null });
  if (fault !== undefined) {
    const [left, top, right, bottom] = fault.box;
    showBox(bench, [left - ROOM_PX, top - ROOM_PX, right + ROOM_PX, bottom + ROOM_PX]);
  }
  drawOver(bench);
}

/** How a place can be mended: by the middle of the line, or deep enough for its soft edge. */
export type Remedy = 'middle' | 'deeper';

/** What is offered first: a line that is too thin has no more depth to give. */
export const remedyOf = (kind: TrapFaultKind): Remedy => (kind === 'halo' ? 'deeper' : 'middle');

export function ruleOfRemedy({ foundPx }: Pick<TrapFault, 'foundPx'>, remedy: Remedy): TrapRule {
  return remedy === 'middle' ? { rule: 'middle' } : { rule: 'depth', depthPx: Math.ceil(foundPx * 2) / 2 };
}

/** Mends the place the worklist stands at, and goes on. */
export function mendFault(bench: Bench, remedy: Remedy | null): void {
  const fault = faultNow(bench.state);
  if (fault === undefined) {
    goToFault(bench, 1);
    return;
  }
  const chosen = remedy ?? remedyOf(fault.kind);
  if (chosen === 'deeper' && fault.kind === 'short') return;
  const listed = faultsListed(bench.state);
  const next = listed[listed.indexOf(fault) + 1] ?? listed.find((one) => one !== fault);
  // The worklist goes on at once; what is left is looked for meanwhile.
  bench.set({ faults: bench.state.faults!.filter((one) => one !== fault) });
  addAreas(bench, [{ points: fault.outline, rule: ruleOfRemedy(fault, chosen) }], labelOf(chosen, 1));
  selectFault(bench, next);
}

function labelOf(remedy: Remedy, count: number): string {
  const where = count === 1 ? 'at a place' : `at ${counted(count, 'place')}`;
  return remedy === 'middle' ? `Trap to the middle ${where}` : `Deeper trap ${where}`;
}

/** Mends all listed places of a kind by the middle, which leaves nothing to mend in any of them, as one step. */
export function mendAll(bench: Bench, kind: TrapFaultKind): void {
  const faults = faultsListed(bench.state).filter((one) => one.kind === kind);
  if (faults.length === 0) return;
  const gone = new Set(faults);
  bench.set({ faults: bench.state.faults!.filter((one) => !gone.has(one)), faultKey: null });
  addAreas(
    bench,
    faults.map((fault) => ({ points: fault.outline, rule: { rule: 'middle' } })),
    labelOf('middle', faults.length),
  );
}
