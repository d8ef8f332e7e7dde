import { centreOn, fitPage, panBy, zoomAt } from '../state/viewport.ts';
import type { Bench } from '../state/Bench.ts';
import { PAPER_TONES, SHOW_MODES } from '../state/benchState.ts';

/** An action with its key, as the list of keys shows it. */
export interface KeyAction {
  readonly keys: string;
  readonly words: string;
  readonly group: 'Line art' | 'Gaps' | 'Flats' | 'Looking' | 'Pages' | 'Everywhere';
}

/** Letters that have a meaning of their own and cannot be a part's slot. */
export const RESERVED_KEYS = new Set(['q', 'w', 'e']);

export const KEY_ACTIONS: readonly KeyAction[] = [
  { group: 'Line art', keys: '. ,', words: 'next decision, the one before' },
  { group: 'Line art', keys: 'Enter', words: 'accept and go to the next one' },
  { group: 'Line art', keys: 'Backspace', words: 'reject and go to the next one' },
  { group: 'Line art', keys: 'p, then click', words: 'this is paper' },
  { group: 'Line art', keys: 'i, then click', words: 'this is ink' },
  { group: 'Line art', keys: 'c', words: 'before and after, side by side' },
  { group: 'Line art', keys: 'click', words: 'select a panel; its corners can be dragged' },
  { group: 'Line art', keys: 'f, then drag', words: 'draw a panel' },
  { group: 'Line art', keys: 'Delete', words: 'delete the selected panel' },
  { group: 'Gaps', keys: '. ,', words: 'next gap to rule on, the one before' },
  { group: 'Gaps', keys: 'Enter', words: 'close it and go to the next one' },
  { group: 'Gaps', keys: 'Backspace', words: 'leave it open and go to the next one' },
  { group: 'Gaps', keys: 'click', words: 'select a closure' },
  { group: 'Gaps', keys: 'drag', words: 'draw a closure from ink to ink' },
  { group: 'Gaps', keys: 'Shift + click, right button', words: 'leave open, or delete one that was drawn' },
  { group: 'Gaps', keys: 'drag an end', words: 'move an end of a closure that was drawn' },
  { group: 'Gaps', keys: 'r, then click', words: 'let colour run from there: the leak test' },
  { group: 'Gaps', keys: 't', words: 'trace a leak between two places' },
  { group: 'Flats', keys: '0 … 9, a … z', words: 'choose the part with this key' },
  { group: 'Flats', keys: 'click, drag', words: 'assign regions to the current part' },
  { group: 'Flats', keys: 'Shift + drag, right button', words: 'remove the part' },
  { group: 'Flats', keys: 'Ctrl + click', words: 'assign all regions like this one, or with its part' },
  { group: 'Flats', keys: 'Shift + 1 … 5', words: 'point and sweep, surround, marks, colour key, pen' },
  { group: 'Flats', keys: 'drag a loop', words: 'Surround: assign what it encloses, or the whole silhouette' },
  { group: 'Flats', keys: 'Shift + click', words: 'Surround: remove what was spread loosely there' },
  { group: 'Flats', keys: 'drag, Shift + drag', words: 'Marks: draw, erase; Ctrl + click recolours' },
  { group: 'Flats', keys: 'drag, Shift + drag', words: 'Pen: paint, wipe out; or cut, join' },
  { group: 'Flats', keys: '< >', words: 'Pen: smaller, larger' },
  {
    group: 'Flats',
    keys: '/',
    words: 'spread the marks, accept the proposals, switch what a loop takes or the pen does',
  },
  { group: 'Flats', keys: 'Shift + Enter', words: 'confirm all that is to be looked at' },
  { group: 'Flats', keys: ';', words: 'assign the marked region to the part around it' },
  { group: 'Flats', keys: 'e', words: 'choose the part under the pointer' },
  { group: 'Flats', keys: '.', words: 'next region without a part' },
  { group: 'Flats', keys: ',', words: 'the one before' },
  { group: 'Flats', keys: 'Enter', words: 'assign the marked region to the current part and go to the next one' },
  { group: 'Flats', keys: 'Backspace', words: 'remove the part from the marked region' },
  { group: 'Looking', keys: 'Space + drag', words: 'move the page' },
  { group: 'Looking', keys: 'wheel, pinch, + and -', words: 'zoom' },
  { group: 'Looking', keys: 'arrows', words: 'move the page in steps' },
  { group: 'Looking', keys: 'Home', words: 'whole page' },
  { group: 'Looking', keys: 'End', words: 'true pixels' },
  { group: 'Looking', keys: 'q (held)', words: 'loupe at the pointer' },
  { group: 'Looking', keys: 'w', words: 'mark or unmark what is missing' },
  { group: 'Looking', keys: '\\', words: 'show flats alone, ink alone, one part alone, what is missing, all' },
  { group: 'Looking', keys: '|', words: 'lighter or darker ground under the flats' },
  { group: 'Looking', keys: '] [', words: 'keep the worklist to the next panel, the one before' },
  { group: 'Pages', keys: 'Page Down', words: 'next page' },
  { group: 'Pages', keys: 'Page Up', words: 'page before' },
  { group: 'Everywhere', keys: 'Ctrl+Z', words: 'undo' },
  { group: 'Everywhere', keys: 'Ctrl+Shift+Z', words: 'redo' },
  { group: 'Everywhere', keys: 'Escape', words: 'cancel what you are doing' },
  { group: 'Everywhere', keys: '?', words: 'this list' },
];

/** What only the interface around the bench can do. */
export interface KeyPorts {
  readonly goToPage: (direction: 1 | -1) => void;
  readonly showKeys: () => void;
  readonly alreadySaved: () => void;
  readonly cancelGesture: () => void;
  readonly traceLeak: () => void;
  readonly testLeak: () => void;
}

/** Handles a key press on the bench. @returns whether it meant something. */
export function pressKey(event: KeyboardEvent, bench: Bench, ports: KeyPorts): boolean {
  if (event.ctrlKey || event.metaKey) return pressWithControl(event, bench, ports);
  if (event.altKey) return false;
  if (bench.state.stage === 'gaps' && pressGaps(event.key, bench, ports)) return true;
  if (bench.state.stage === 'lineart' && pressLineArt(event.key, bench)) return true;
  if (bench.state.stage === 'flats' && pressFlats(event, bench)) return true;
  switch (event.key) {
    case '.':
      bench.walk.go(1);
      return true;
    case ',':
      bench.walk.go(-1);
      return true;
    case 'Enter':
      bench.walk.rule(bench.state.partId);
      return true;
    case 'Backspace':
    case 'Delete':
      bench.walk.rule(null);
      return true;
    case 'Escape':
      ports.cancelGesture();
      return true;
    case ']':
      bench.panels.go(1);
      return true;
    case '[':
      bench.panels.go(-1);
      return true;
    case '?':
      ports.showKeys();
      return true;
    case 'PageDown':
      ports.goToPage(1);
      return true;
    case 'PageUp':
      ports.goToPage(-1);
      return true;
    case 'e':
      pickPart(bench);
      return true;
    case '\\':
      bench.setShow(SHOW_MODES[(SHOW_MODES.indexOf(bench.state.show) + 1) % SHOW_MODES.length]!);
      return true;
    case '|': {
      const tones = Object.values(PAPER_TONES);
      const at = tones.findIndex((tone) => tone === bench.state.options.paper);
      bench.looking.setOptions({ paper: tones[(at + 1) % tones.length]! });
      return true;
    }
    case 'w':
      bench.looking.setOptions({ markMissing: !bench.state.options.markMissing });
      return true;
    default:
      return pressLook(event.key, bench) || pressSlot(event.key, bench);
  }
}

/** What keys mean on the Flats stage alone. */
function pressFlats(event: KeyboardEvent, bench: Bench): boolean {
  const digit = /^Digit([1-9])$/.exec(event.code);
  if (event.shiftKey && digit !== null) return bench.flats.setWayAt(Number(digit[1]));
  if (event.key === 'Enter' && event.shiftKey) {
    bench.flats.agreeWithAll();
    return true;
  }
  switch (event.key) {
    case '/':
      if (bench.state.flats.way === 'key' && bench.state.flats.examples !== null) bench.examples.take();
      else if (bench.state.flats.way === 'key') void bench.key.take();
      else if (bench.state.flats.way === 'pen') bench.pen.nextNib();
      else if (bench.state.flats.way === 'surround') bench.flats.turnLoop();
      else if (bench.state.flats.way === 'marks') void bench.marks.spread();
      else return false;
      return true;
    case '<':
    case '>':
      bench.pen.stepSize(event.key === '<' ? -1 : 1);
      return true;
    case ';':
      void bench.flats.giveToNeighbour();
      return true;
    default:
      return false;
  }
}

/** What keys mean on the Gaps stage alone. */
function pressGaps(key: string, bench: Bench, ports: KeyPorts): boolean {
  const { leak } = bench.state;
  switch (key) {
    case '.':
      bench.gaps.go(1);
      return true;
    case ',':
      bench.gaps.go(-1);
      return true;
    case 'Enter':
      if (leak !== null && leak.cut !== null) void bench.gaps.close(leak.cut.from, leak.cut.to);
      else void bench.gaps.ruleCurrent('closed');
      return true;
    case 'Backspace':
    case 'Delete':
      void bench.gaps.ruleCurrent('open');
      return true;
    case 't':
      ports.traceLeak();
      return true;
    case 'r':
      ports.testLeak();
      return true;
    default:
      // Parts have no meaning here.
      return key.length === 1 && /[a-z0-9]/.test(key) && key !== 'q' && key !== 'w';
  }
}

/** What keys mean on the Line art stage alone. */
function pressLineArt(key: string, bench: Bench): boolean {
  const { lineArt } = bench;
  const { panelPicked, comparing } = bench.state;
  switch (key) {
    case '.':
      lineArt.go(1);
      return true;
    case ',':
      lineArt.go(-1);
      return true;
    case 'Enter':
      lineArt.ruleCurrent(true);
      return true;
    case 'Backspace':
      lineArt.ruleCurrent(false);
      return true;
    case 'Delete':
      if (panelPicked !== null) lineArt.removePanel(panelPicked);
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

function pressWithControl(event: KeyboardEvent, bench: Bench, ports: KeyPorts): boolean {
  const key = event.key.toLowerCase();
  if (key === 'z') void bench.steps.step(event.shiftKey ? 'redo' : 'undo');
  else if (key === 'y') void bench.steps.step('redo');
  else if (key === 's') ports.alreadySaved();
  else return false;
  return true;
}

const PAN_STEP_PX = 80;

function pressLook(key: string, bench: Bench): boolean {
  const { view, page } = bench.state;
  if (view === null || page === null) return false;
  const middle = [view.width / 2, view.height / 2] as const;
  switch (key) {
    case '+':
    case '=':
      bench.looking.setView(zoomAt(view, 1.25, ...middle));
      return true;
    case '-':
      bench.looking.setView(zoomAt(view, 0.8, ...middle));
      return true;
    case 'Home':
      bench.looking.setView(fitPage(page, view));
      return true;
    case 'End':
      bench.looking.setView(
        centreOn({ ...view, scale: 1 }, view.x + middle[0] / view.scale, view.y + middle[1] / view.scale),
      );
      return true;
    case 'ArrowLeft':
      bench.looking.setView(panBy(view, PAN_STEP_PX, 0));
      return true;
    case 'ArrowRight':
      bench.looking.setView(panBy(view, -PAN_STEP_PX, 0));
      return true;
    case 'ArrowUp':
      bench.looking.setView(panBy(view, 0, PAN_STEP_PX));
      return true;
    case 'ArrowDown':
      bench.looking.setView(panBy(view, 0, -PAN_STEP_PX));
      return true;
    default:
      return false;
  }
}

function pressSlot(key: string, bench: Bench): boolean {
  const part = bench.state.cast?.parts.find((one) => one.slot === key);
  if (part === undefined) return false;
  bench.choosePart(part.id);
  return true;
}

function pickPart(bench: Bench): void {
  const { pointer } = bench.state;
  if (pointer !== null) bench.pickPartAt(pointer);
}
