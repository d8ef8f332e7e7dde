import type { Bench } from '../../state/Bench.ts';
import type { Shortcut } from '../../tools/Shortcut.ts';
import { setBrush, stepBrushSize } from './brush.ts';
import { setDraft } from './draft.ts';
import { setContrastMap } from './followHolds.ts';
import { chosenBlack, cutLineAt, goToLow, joinChosen, takeDraft, takeProposed } from './holds.ts';

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
  { keys: 't', words: 'touch up by brush: drag paints on lines, Shift + drag wipes out' },
  { keys: '< >', words: 'brush: smaller, larger' },
  { keys: '. ,', words: 'next line that is hard to read, the one before' },
];

/** How near the pointer must be to a line, or to a cut, in picture px. */
const CUT_REACH_PX = 10;

export function pressHolds({ key, shiftKey }: KeyboardEvent, bench: Bench): boolean {
  const { holdDraft, holdBrush } = bench.state;
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
    case 't':
      setBrush(bench, { on: !holdBrush.on });
      return true;
    case '<':
    case '>':
      if (!holdBrush.on) return false;
      stepBrushSize(bench, key === '<' ? -1 : 1);
      return true;
    case 'j':
      joinChosen(bench);
      return true;
    case 'b':
      chosenBlack(bench);
      return true;
    case 'Escape':
      if (holdBrush.on) {
        setBrush(bench, { on: false });
        return true;
      }
      if (holdDraft === null) return false;
      setDraft(bench, null);
      return true;
    default:
      // Parts have no meaning here.
      return key.length === 1 && /[a-z0-9]/.test(key) && !'qwe'.includes(key);
  }
}
