import type { Bench } from '../../state/Bench.ts';
import { refreshView } from '../../page/look.ts';
import type { Shortcut } from '../../tools/Shortcut.ts';
import { faultNow, goToFault, mendAll, mendFault } from './faults.ts';
import { removeAreas } from './rules.ts';

export const TRAP_SHORTCUTS: readonly Shortcut[] = [
  { keys: '. ,', words: 'next place, the one before' },
  { keys: 'Enter', words: 'mend it as offered and go to the next one' },
  { keys: 'm', words: 'the middle of the line here' },
  { keys: 'Shift + Enter', words: 'the middle at all places of this kind' },
  { keys: 'drag', words: 'draw an area with a rule of its own' },
  { keys: 'click', words: 'select a place or an area' },
  { keys: 'Shift + click, right button', words: 'remove an area' },
  { keys: 'Backspace', words: 'remove the selected area' },
  { keys: 'k', words: 'the map of depths, the page as it is' },
];

export function pressTrap({ key, shiftKey }: KeyboardEvent, bench: Bench): boolean {
  switch (key) {
    case '.':
      goToFault(bench, 1);
      return true;
    case ',':
      goToFault(bench, -1);
      return true;
    case 'Enter': {
      const { faults } = bench.state;
      const kind = (faultNow(bench.state) ?? faults?.[0])?.kind;
      if (shiftKey && kind !== undefined) mendAll(bench, kind);
      else mendFault(bench, null);
      return true;
    }
    case 'm':
      mendFault(bench, 'middle');
      return true;
    case 'k':
      showMap(bench, !bench.state.mapShown);
      return true;
    case 'Backspace':
    case 'Delete':
      if (bench.state.areaId !== null) removeAreas(bench, [bench.state.areaId]);
      return true;
    default:
      // Parts have no meaning here.
      return key.length === 1 && /[a-z0-9]/.test(key) && !'qwe'.includes(key);
  }
}

export function showMap(bench: Bench, mapShown: boolean): void {
  bench.set({ mapShown });
  refreshView(bench);
}
