import {
  editArea,
  editJobTrap,
  editPanels,
  editPart,
  editTrap,
  type CastPart,
  type JobTrap,
  type TrapRule,
} from '@jumble/core';
import { panelsOf } from '../../page/panels.ts';
import { ruleWords } from '../../page/ruleWords.ts';
import { withOneRule } from '../../page/trap.ts';
import { drawOver } from '../../page/show.ts';
import type { Bench } from '../../state/Bench.ts';

/** Most corners an outline keeps. */
const MOST_CORNERS = 200;

export function setJobTrap(bench: Bench, change: Partial<JobTrap>, label: string): void {
  const { cast } = bench.state;
  if (cast !== null) bench.changeCast(label, [editJobTrap({ ...cast.trap, ...change })]);
}

/** @param rule null takes the page back to the job's. */
export function setPageTrap(bench: Bench, rule: TrapRule | null): void {
  const label = rule === null ? 'Trap of the page as the job has it' : `Trap of the page ${ruleWords(rule)}`;
  bench.push({ label, edits: [editTrap(rule)] });
}

/** @param rule null takes the panel back to the page's. */
export function setPanelTrap(bench: Bench, index: number, rule: TrapRule | null): void {
  const panels = panelsOf(bench.state).map((panel, k) => {
    if (k !== index) return panel;
    const { trap: _, ...rest } = panel;
    return rule === null ? rest : { ...rest, trap: rule };
  });
  const words = rule === null ? 'as the page has it' : ruleWords(rule);
  bench.push({ label: `Trap of panel ${index + 1} ${words}`, edits: [editPanels(panels)] });
}

/** @param rule null takes the part back to what panel and page have. */
export function setPartTrap(bench: Bench, part: CastPart, rule: TrapRule | null): void {
  const { trap: _, ...rest } = part;
  const words = rule === null ? 'as the page has it' : ruleWords(rule);
  bench.changeCast(`Trap of ${part.name} ${words}`, [editPart(rule === null ? rest : { ...rest, trap: rule })]);
}

/** An outline that came to something: rounded, within the page, thinned out; null for one that encloses nothing. */
export function outlineOf(
  points: readonly (readonly [number, number])[],
  { width, height }: { readonly width: number; readonly height: number },
): (readonly [number, number])[] | null {
  const rounded: (readonly [number, number])[] = [];
  for (const [x, y] of points) {
    const corner = [clamp(Math.round(x), width), clamp(Math.round(y), height)] as const;
    if (corner.join() !== rounded.at(-1)?.join()) rounded.push(corner);
  }
  const step = Math.ceil(rounded.length / MOST_CORNERS);
  const corners = rounded.filter((_, k) => k % step === 0);
  let twice = 0;
  corners.forEach(([x, y], k) => {
    const [nx, ny] = corners[(k + 1) % corners.length]!;
    twice += x * ny - nx * y;
  });
  return corners.length < 3 || Math.abs(twice) < 2 ? null : corners;
}

const clamp = (value: number, most: number): number => Math.min(most, Math.max(0, value));

/** Gives areas on the page a rule of their own, as one step. */
export function addAreas(
  bench: Bench,
  areas: readonly { readonly points: readonly (readonly [number, number])[]; readonly rule: TrapRule }[],
  label: string,
): void {
  let stamp = 0;
  for (const area of bench.state.document?.areas.values() ?? []) stamp = Math.max(stamp, area.stamp + 1);
  const edits = areas.map(({ points, rule }, k) => editArea(crypto.randomUUID(), { points, rule, stamp: stamp + k }));
  bench.push({ label, edits });
}

export function setAreaRule(bench: Bench, id: string, rule: TrapRule): void {
  const area = bench.state.document?.areas.get(id);
  if (area !== undefined)
    bench.push({ label: `Trap of an area ${ruleWords(rule)}`, edits: [editArea(id, { ...area, rule })] });
}

export function removeAreas(bench: Bench, ids: readonly string[]): void {
  if (ids.length === 0) return;
  bench.set({ areaId: null });
  const label = ids.length === 1 ? 'Remove an area of trap' : `Remove ${ids.length} areas of trap`;
  bench.push({ label, edits: ids.map((id) => editArea(id, null)) });
}

export function chooseArea(bench: Bench, areaId: string | null): void {
  bench.set({ areaId });
  drawOver(bench);
}

/** The rule that the loupe shows beside the page's. */
export function compareWith(bench: Bench, comparedRule: TrapRule): void {
  bench.set({ comparedRule });
  showCompared(bench);
}

/** Tells the loupe what it compares; on other stages nothing. */
export function showCompared(bench: Bench): void {
  const { comparedRule, stage } = bench.state;
  const trap = stage === 'trap' ? withOneRule(bench.state, comparedRule) : null;
  bench.engine.compareTrap(trap === null ? null : { trap, words: shortWords(comparedRule) });
}

/** Few enough for half a loupe. */
function shortWords(rule: TrapRule): string {
  if (rule.rule === 'middle') return 'to the middle';
  return rule.rule === 'max' ? `deep, less ${rule.marginPx} px` : ruleWords(rule);
}
