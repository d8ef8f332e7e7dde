import { editTrap, type TrapRule } from '@jumble/core';
import type { Bench } from '../../state/Bench.ts';

export function setTrap(bench: Bench, trap: TrapRule): void {
  const words = trap.rule === 'middle' ? 'to the middle of the line' : `to ${trap.depthPx} px`;
  bench.push({ label: `Set the trap ${words}`, edits: [editTrap(trap)] });
}
