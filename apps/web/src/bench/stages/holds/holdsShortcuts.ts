import type { Bench } from '../../state/Bench.ts';
import type { Shortcut } from '../../tools/Shortcut.ts';
import {
  chosenBlack,
  cutLineAt,
  goToLow,
  joinChosen,
  setContrastMap,
  setDraft,
  takeDraft,
  takeProposed,
} from './holds.ts';

export const HOLDS_SHORTCUTS: readonly Shortcut[] = [
  { keys: 'click, drag along', words: 'choose a line, several' },
  { keys: 'drag beside lines', words: 'choose what lies in a loop' },
  { keys: 'Shift + the same', words: 'take lines out of what is chosen' },
  { keys: 'Enter', words: 'apply the rule being made, else the proposed lightness' },
  { keys: 'Shift + Enter', words: 'the proposed lightness for all listed' },
  { keys: 'k', words: 'the map of contrast, the lines as they are' },
  { keys: 'x', words: 'cut the line at the pointer in two, or take a cut back' },
  { keys: 'j', words: 'join the chosen lines' },
  { keys: 'b', words: 'chosen lines back to black' },
  { keys: '. ,', words: 'next line that is hard to read, the one before' },
];

/** How near the pointer must be to a line, or to a cut, in picture px. */
const CUT_REACH_PX = 10;

export function pressHolds({ key, shiftKey }: KeyboardEvent, bench: Bench): boolean {
  const { holdDraft } = bench.state;
  switch (key) {
    case '.':
      goToLow(bench, 1);
      return true;
    case ',':
      goToLow(bench, -1);
      return true;
    case 'Enter':
      if (holdDraft !== null) takeDraft(bench);
      else takeProposed(bench, shiftKey);
      return true;
    case 'k':
      setContrastMap(bench, !bench.state.contrastMap);
      return true;
    case 'x': {
      const { pointer, view } = bench.state;
      if (pointer !== null && view !== null)
        cutLineAt(bench, [Math.floor(pointer[0]), Math.floor(pointer[1])], CUT_REACH_PX / view.scale);
      return true;
    }
    case 'j':
      joinChosen(bench);
      return true;
    case 'b':
      chosenBlack(bench);
      return true;
    case 'Escape':
      if (holdDraft === null) return false;
      setDraft(bench, null);
      return true;
    default:
      // Parts have no meaning here.
      return key.length === 1 && /[a-z0-9]/.test(key) && !'qwe'.includes(key);
  }
}
