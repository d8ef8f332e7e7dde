import { depthInPx, type SolidTrap, type TrapDepth, type TrapRule } from '@jumble/core';

/** "to the middle of the line", "to 4 px", "as deep as the line allows, less 1 px". */
export function ruleWords(rule: TrapRule): string {
  if (rule.rule === 'middle') return 'to the middle of the line';
  if (rule.rule === 'max') return `as deep as the line allows, less ${rule.marginPx} px`;
  return `to ${depthWords(rule)}`;
}

export function depthWords(depth: TrapDepth): string {
  return 'depthPx' in depth ? `${depth.depthPx} px` : `${depth.depthMm} mm`;
}

export function solidWords(solids: SolidTrap): string {
  if (solids.rule === 'line') return 'as under lines';
  if (solids.rule === 'all') return 'all the way';
  return solids.rule === 'depth' ? `to ${depthWords(solids as TrapDepth)}` : 'under their soft edge alone';
}

/** Why a rule cannot be worked out on a page; null where it can. */
export function cannotBeTold(rule: TrapRule, dpi: number | null): string | null {
  if (rule.rule !== 'depth' || depthInPx(rule, dpi) !== null) return null;
  return `This page states no resolution, so ${depthWords(rule)} cannot be worked out: colour runs to the middle. Give px, or state the resolution on the desk.`;
}
