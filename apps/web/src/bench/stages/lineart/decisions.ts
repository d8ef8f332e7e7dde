import {
  assignRegions,
  editBalloon,
  editPrep,
  editSeen,
  editSolid,
  regionAt,
  straightenDocument,
  type RecordEdit,
  stampAfter,
} from '@jumble/core';
import { showBox } from '../../page/look.ts';
import { drawOver } from '../../page/show.ts';
import type { Bench } from '../../state/Bench.ts';
import type { LineDecision } from './lineDecisions.ts';
import { listDecisions, pointOf } from './measuring.ts';

/** Goes to the next open decision, or the one before. */
export function goToDecision(bench: Bench, direction: 1 | -1): void {
  const { lineDecisions: list, lineKey } = bench.state;
  if (list.length === 0) return selectDecision(bench, null);
  const at = list.findIndex((one) => one.key === lineKey);
  const next = at < 0 ? (direction === 1 ? 0 : list.length - 1) : (at + direction + list.length) % list.length;
  selectDecision(bench, list[next]!);
}

export function selectDecision(bench: Bench, decision: LineDecision | null, show = true): void {
  bench.set({ lineKey: decision?.key ?? null });
  if (decision !== null && show) showBox(bench, decision.box);
  drawOver(bench);
}

/** Accepts or rejects the decision the worklist stands at, and goes on. */
export function ruleCurrentDecision(bench: Bench, yes: boolean): void {
  const { lineDecisions: list, lineKey, facts } = bench.state;
  // While a page is measured anew the old decisions stand for nothing.
  if (facts === null) return;
  const at = list.findIndex((one) => one.key === lineKey);
  if (at < 0) return goToDecision(bench, 1);
  const after = list[at + 1]?.key;
  ruleDecisions(bench, [list[at]!], yes);
  const left = bench.state.lineDecisions;
  selectDecision(bench, left.find((one) => one.key === after) ?? left[0] ?? null);
}

/** Accepts or rejects decisions of one kind, as one step. */
export function ruleDecisions(bench: Bench, decisions: readonly LineDecision[], yes: boolean): void {
  const [first] = decisions;
  if (first === undefined || (!yes && first.no === null)) return;
  const edits = decisions.flatMap((one) => editsOf(bench, one, yes));
  if (edits.length === 0) return;
  const many = decisions.length > 1 ? ` (${decisions.length})` : '';
  bench.push({ label: `${first.title}: ${yes ? first.yes : first.no!}${many}`, edits });
  listDecisions(bench);
}

function editsOf(bench: Bench, decision: LineDecision, yes: boolean): RecordEdit[] {
  const { document: page, page: view, facts, skew } = bench.state;
  const { prep } = page!;
  switch (decision.kind) {
    case 'skew':
      return straightenDocument(page!, yes ? skew!.slopePpm : 0, view!.width, view!.height);
    case 'specks':
      return [editPrep({ ...prep, speckLimitPx2: yes ? facts!.speckLimitPx2 : 0 })];
    case 'panel':
    case 'change':
      return [editSeen(decision.key, true)];
    case 'solid':
      return [editSolid(decision.key, yes)];
    case 'balloon':
      return [
        editBalloon(decision.key, yes ? 'empty' : 'drawing'),
        ...(yes ? leaveEmpty(bench, pointOf(decision.key)) : []),
      ];
  }
}

/** Assigns the region of a balloon to the part that stays empty. */
function leaveEmpty(bench: Bench, [x, y]: readonly [number, number]): RecordEdit[] {
  const { survey, document: page, resolved, cast } = bench.state;
  const empty = cast?.parts.find((part) => part.empty);
  if (empty === undefined) {
    bench.fail(new Error('The cast sheet has no part that is left empty. Add one, then rule on the balloon again.'));
    return [];
  }
  const region = regionAt(survey!, x, y);
  return region === null ? [] : assignRegions(survey!, page!.fills, resolved!, [region], empty.id, stampAfter(page!));
}
