import type { Bench } from '../../state/Bench.ts';
import type { Shortcut } from '../../tools/Shortcut.ts';
import { goToDecision, ruleCurrentDecision } from './decisions.ts';
import { removePanel } from './editPanels.ts';

export const LINE_ART_SHORTCUTS: readonly Shortcut[] = [
  { keys: '. ,', words: 'next decision, the one before' },
  { keys: 'Enter', words: 'accept and go to the next one' },
  { keys: 'Backspace', words: 'reject and go to the next one' },
  { keys: 'p, then click', words: 'this is paper' },
  { keys: 'i, then click', words: 'this is ink' },
  { keys: 'c', words: 'before and after, side by side' },
  { keys: 'click', words: 'select a panel; its corners can be dragged' },
  { keys: 'f, then drag', words: 'draw a panel' },
  { keys: 'Delete', words: 'delete the selected panel' },
];

export function pressLineArt({ key }: KeyboardEvent, bench: Bench): boolean {
  const { panelPicked, comparing } = bench.state;
  switch (key) {
    case '.':
      goToDecision(bench, 1);
      return true;
    case ',':
      goToDecision(bench, -1);
      return true;
    case 'Enter':
      ruleCurrentDecision(bench, true);
      return true;
    case 'Backspace':
      ruleCurrentDecision(bench, false);
      return true;
    case 'Delete':
      if (panelPicked !== null) removePanel(bench, panelPicked);
      return true;
    case 'p':
      bench.set({ pointing: 'paper' });
      return true;
    case 'i':
      bench.set({ pointing: 'ink' });
      return true;
    case 'f':
      bench.set({ pointing: 'panel' });
      return true;
    case 'c':
      bench.set({ comparing: !comparing });
      return true;
    default:
      // Parts have no meaning here.
      return key.length === 1 && /[a-z0-9]/.test(key) && key !== 'q' && key !== 'w';
  }
}
