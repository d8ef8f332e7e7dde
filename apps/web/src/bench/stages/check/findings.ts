import { KIND_WORDS, editWaiver, keyOfFinding, severityOf, type Finding, type FindingKind } from '@jumble/core';
import { counted } from '../../../measures.ts';
import { outlinePointed, showBox } from '../../page/look.ts';
import { regionAtPoint } from '../../page/partColours.ts';
import { inShownPanel } from '../../page/panels.ts';
import { drawOver } from '../../page/show.ts';
import type { Bench } from '../../state/Bench.ts';
import type { BenchState } from '../../state/benchState.ts';
import { isOfRegion } from './findingWords.ts';
import { hideRemedy, remedyFor, remedyForAll, showRemedy } from './remedies.ts';

/** Findings that have to be settled and were not waived. */
export function openFindings(state: Pick<BenchState, 'findings' | 'document' | 'cast'>): readonly Finding[] {
  const { findings, document: page, cast } = state;
  if (findings === null || page === null || cast === null) return [];
  return findings.filter((one) => severityOf(cast.checks, one.kind) === 'must' && !page.waivers.has(keyOfFinding(one)));
}

/** What the worklist holds: open findings first, then notes, in the panel it keeps to; what was waived stands below them. */
export function findingsListed(state: BenchState): {
  readonly open: readonly Finding[];
  readonly notes: readonly Finding[];
  readonly waived: readonly Finding[];
} {
  const { document: page, cast } = state;
  const inPanel = (state.findings ?? []).filter(
    ({ at: [x, y] }) => state.panelShown === null || inShownPanel(state, x, y),
  );
  const isWaived = (one: Finding): boolean => page?.waivers.has(keyOfFinding(one)) === true;
  const isNote = (one: Finding): boolean => cast !== null && severityOf(cast.checks, one.kind) === 'note';
  return {
    open: inPanel.filter((one) => !isWaived(one) && !isNote(one)),
    notes: inPanel.filter((one) => !isWaived(one) && isNote(one)),
    waived: inPanel.filter(isWaived),
  };
}

/** What keys walk through. */
function walked(state: BenchState): readonly Finding[] {
  const { open, notes } = findingsListed(state);
  return [...open, ...notes];
}

export function findingNow({ findings, findingKey }: BenchState): Finding | undefined {
  return findingKey === null ? undefined : findings?.find((one) => keyOfFinding(one) === findingKey);
}

/** Room around a place, in page px. */
const ROOM_PX = 40;

export function selectFinding(bench: Bench, finding: Finding | undefined): void {
  hideRemedy(bench);
  // What is about a region is outlined as it is, not by its box.
  const current = finding === undefined || !isOfRegion(finding) ? null : regionAtPoint(bench.state, ...finding.at);
  const findingKey = finding === undefined ? null : keyOfFinding(finding);
  bench.set({ findingKey, current, mendKind: null, waiving: false });
  outlinePointed(bench);
  if (finding !== undefined) {
    const { x, y, width, height } = finding;
    showBox(bench, [x - ROOM_PX, y - ROOM_PX, x + width + ROOM_PX, y + height + ROOM_PX]);
  }
  drawOver(bench);
}

/** Goes to the next finding, or the one before, and shows it close up. */
export function goToFinding(bench: Bench, direction: 1 | -1): void {
  const listed = walked(bench.state);
  const at = listed.findIndex((one) => keyOfFinding(one) === bench.state.findingKey);
  const next = at < 0 ? (direction === 1 ? 0 : listed.length - 1) : (at + direction + listed.length) % listed.length;
  selectFinding(bench, listed[next]);
}

/** Shows what the remedy would make of the finding, or the page as it is again. */
export function turnRemedy(bench: Bench): void {
  const finding = findingNow(bench.state);
  if (bench.state.remedyShown) hideRemedy(bench);
  else if (finding !== undefined) void showRemedy(bench, finding);
}

/** Mends the finding the worklist stands at, and goes on. @returns false where nothing of one key helps: that is said. */
export async function mend(bench: Bench): Promise<boolean> {
  const finding = findingNow(bench.state);
  if (finding === undefined) {
    goToFinding(bench, 1);
    return true;
  }
  const remedy = await remedyFor(bench, finding);
  const { findings } = bench.state;
  if (remedy === null || remedy.edits.length === 0 || findings === null) {
    bench.fail(
      new Error('No single key mends this. Change it on the stage it comes from, or let it stay for a reason.'),
    );
    return false;
  }
  const next = after(bench.state, [finding]);
  hideRemedy(bench);
  // The worklist goes on at once; what is left is looked for meanwhile.
  bench.set({ findings: findings.filter((one) => one !== finding) });
  bench.push({ label: `${remedy.words}: ${KIND_WORDS[finding.kind].toLowerCase()}`, edits: remedy.edits });
  selectFinding(bench, next);
  return true;
}

/** The finding after some that go. */
function after(state: BenchState, gone: readonly Finding[]): Finding | undefined {
  const listed = walked(state);
  const rest = listed.filter((one) => !gone.includes(one));
  const at = listed.indexOf(gone[0]!);
  return listed.slice(at).find((one) => !gone.includes(one)) ?? rest[0];
}

/** Shows all findings of a kind that one step would mend; called again, mends them. @returns how many were mended. */
export async function mendAll(bench: Bench, kind: FindingKind): Promise<number> {
  const { open, notes } = findingsListed(bench.state);
  const findings = [...open, ...notes].filter((one) => one.kind === kind);
  if (bench.state.mendKind !== kind) {
    bench.set({ mendKind: kind });
    drawOver(bench);
    return 0;
  }
  const { edits, mended } = await remedyForAll(bench, findings);
  bench.set({ mendKind: null });
  if (edits.length === 0 || bench.state.findings === null) {
    drawOver(bench);
    return 0;
  }
  const gone = new Set(mended);
  hideRemedy(bench);
  bench.set({ findings: bench.state.findings.filter((one) => !gone.has(one)), findingKey: null });
  bench.push({ label: `Mend ${counted(mended.length, 'finding')}: ${KIND_WORDS[kind].toLowerCase()}`, edits });
  drawOver(bench);
  return mended.length;
}

/** Lets the finding the worklist stands at stay, for a reason, and goes on. */
export function waive(bench: Bench, reason: string): void {
  const finding = findingNow(bench.state);
  if (finding === undefined || reason.trim() === '') return;
  const next = after(bench.state, [finding]);
  bench.push({
    label: `Let a finding stay: ${KIND_WORDS[finding.kind].toLowerCase()}`,
    edits: [editWaiver(keyOfFinding(finding), { reason: reason.trim() })],
  });
  selectFinding(bench, next);
}

export function takeWaiverBack(bench: Bench, finding: Finding): void {
  bench.push({ label: 'No longer let a finding stay', edits: [editWaiver(keyOfFinding(finding), null)] });
}
