import type { Bench } from '../../state/Bench.ts';
import type { Shortcut } from '../../tools/Shortcut.ts';
import { takeGuide } from './colourGuide.ts';
import { takeExamples } from './examples.ts';
import { assignToNeighbour, confirmAll, ruleCurrentRegion, setWayAt, turnLoop } from './flats.ts';
import { spreadMarks } from './marks.ts';
import { goToRegion } from './openRegions.ts';
import { nextNib, stepPenSize } from './pen.ts';

export const FLATS_SHORTCUTS: readonly Shortcut[] = [
  { keys: '0 … 9, a … z', words: 'choose the part with this key' },
  { keys: 'click, drag', words: 'assign regions to the current part' },
  { keys: 'Shift + drag, right button', words: 'remove the part' },
  { keys: 'Ctrl + click', words: 'assign all regions like this one, or with its part' },
  { keys: 'Shift + 1 … 5', words: 'point and sweep, surround, marks, colour key, pen' },
  { keys: 'drag a loop', words: 'Surround: assign what it encloses, or the whole silhouette' },
  { keys: 'Shift + click', words: 'Surround: remove what was spread loosely there' },
  { keys: 'drag, Shift + drag', words: 'Marks: draw, erase; Ctrl + click recolours' },
  { keys: 'drag, Shift + drag', words: 'Pen: paint, wipe out; or cut, join' },
  { keys: '< >', words: 'Pen: smaller, larger' },
  {
    keys: '/',
    words: 'spread the marks, accept the proposals, switch what a loop takes or the pen does',
  },
  { keys: 'Shift + Enter', words: 'confirm all that is to be looked at' },
  { keys: ';', words: 'assign the marked region to the part around it' },
  { keys: 'e', words: 'choose the part under the pointer' },
  { keys: '.', words: 'next region without a part' },
  { keys: ',', words: 'the one before' },
  { keys: 'Enter', words: 'assign the marked region to the current part and go to the next one' },
  { keys: 'Backspace', words: 'remove the part from the marked region' },
];

export function pressFlats(event: KeyboardEvent, bench: Bench): boolean {
  const digit = /^Digit([1-9])$/.exec(event.code);
  if (event.shiftKey && digit !== null) return setWayAt(bench, Number(digit[1]));
  if (event.key === 'Enter' && event.shiftKey) {
    confirmAll(bench);
    return true;
  }
  switch (event.key) {
    case '/':
      if (bench.state.flats.way === 'key' && bench.state.flats.examples !== null) takeExamples(bench);
      else if (bench.state.flats.way === 'key') void takeGuide(bench);
      else if (bench.state.flats.way === 'pen') nextNib(bench);
      else if (bench.state.flats.way === 'surround') turnLoop(bench);
      else if (bench.state.flats.way === 'marks') void spreadMarks(bench);
      else return false;
      return true;
    case '<':
    case '>':
      stepPenSize(bench, event.key === '<' ? -1 : 1);
      return true;
    case ';':
      void assignToNeighbour(bench);
      return true;
    default:
      return pressRegions(event.key, bench);
  }
}

/** The walk through the regions of the worklist. */
export function pressRegions(key: string, bench: Bench): boolean {
  switch (key) {
    case '.':
      goToRegion(bench, 1);
      return true;
    case ',':
      goToRegion(bench, -1);
      return true;
    case 'Enter':
      ruleCurrentRegion(bench, bench.state.partId);
      return true;
    case 'Backspace':
    case 'Delete':
      ruleCurrentRegion(bench, null);
      return true;
    default:
      return false;
  }
}
