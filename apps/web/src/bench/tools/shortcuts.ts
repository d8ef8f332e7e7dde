import { centreOn, fitPage, panBy, zoomAt } from '../state/viewport.ts';
import type { Bench } from '../state/Bench.ts';
import { PAPER_TONES, SHOW_MODES } from '../state/benchState.ts';
import type { Shortcut } from './Shortcut.ts';
import { setOptions, setView } from '../page/look.ts';
import { goToPanel } from '../page/panels.ts';
import { choosePart, pickPartAt } from '../page/parts.ts';
import { setShow } from '../page/show.ts';
import { step } from '../page/steps.ts';

/** Letters that have a meaning of their own and cannot be a part's slot. */
export const RESERVED_SLOTS = new Set(['q', 'w', 'e']);

/** What keys do on every stage, by what it is about. */
export const COMMON_SHORTCUTS: Readonly<Record<'Looking' | 'Pages' | 'Everywhere', readonly Shortcut[]>> = {
  Looking: [
    { keys: 'Space + drag', words: 'move the page' },
    { keys: 'wheel, pinch, + and -', words: 'zoom' },
    { keys: 'arrows', words: 'move the page in steps' },
    { keys: 'Home', words: 'whole page' },
    { keys: 'End', words: 'true pixels' },
    { keys: 'q (held)', words: 'loupe at the pointer' },
    { keys: 'w', words: 'mark or unmark what is missing' },
    { keys: '\\', words: 'show flats alone, ink alone, one part alone, what is missing, all' },
    { keys: '|', words: 'lighter or darker ground under the flats' },
    { keys: '] [', words: 'keep the worklist to the next panel, the one before' },
  ],
  Pages: [
    { keys: 'Page Down', words: 'next page' },
    { keys: 'Page Up', words: 'page before' },
  ],
  Everywhere: [
    { keys: 'Ctrl+Z', words: 'undo' },
    { keys: 'Ctrl+Shift+Z', words: 'redo' },
    { keys: 'Escape', words: 'cancel what you are doing' },
    { keys: '?', words: 'this list' },
  ],
};

/** What only the interface around the bench can do. */
export interface ShortcutPorts {
  readonly goToPage: (direction: 1 | -1) => void;
  readonly showShortcuts: () => void;
  readonly alreadySaved: () => void;
  readonly cancelGesture: () => void;
  /** Keys of the stage that is shown come first. */
  readonly pressOnStage: (event: KeyboardEvent, bench: Bench) => boolean;
}

/** Handles a key press on the bench. @returns whether it meant something. */
export function pressShortcut(event: KeyboardEvent, bench: Bench, ports: ShortcutPorts): boolean {
  if (event.ctrlKey || event.metaKey) return pressWithControl(event, bench, ports);
  if (event.altKey) return false;
  if (ports.pressOnStage(event, bench)) return true;
  switch (event.key) {
    case 'Escape':
      ports.cancelGesture();
      return true;
    case ']':
      goToPanel(bench, 1);
      return true;
    case '[':
      goToPanel(bench, -1);
      return true;
    case '?':
      ports.showShortcuts();
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
      setShow(bench, SHOW_MODES[(SHOW_MODES.indexOf(bench.state.show) + 1) % SHOW_MODES.length]!);
      return true;
    case '|': {
      const tones = Object.values(PAPER_TONES);
      const at = tones.findIndex((tone) => tone === bench.state.options.paper);
      setOptions(bench, { paper: tones[(at + 1) % tones.length]! });
      return true;
    }
    case 'w':
      setOptions(bench, { markMissing: !bench.state.options.markMissing });
      return true;
    default:
      return pressLook(event.key, bench) || pressSlot(event.key, bench);
  }
}

function pressWithControl(event: KeyboardEvent, bench: Bench, ports: ShortcutPorts): boolean {
  const key = event.key.toLowerCase();
  if (key === 'z') void step(bench, event.shiftKey ? 'redo' : 'undo');
  else if (key === 'y') void step(bench, 'redo');
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
      setView(bench, zoomAt(view, 1.25, ...middle));
      return true;
    case '-':
      setView(bench, zoomAt(view, 0.8, ...middle));
      return true;
    case 'Home':
      setView(bench, fitPage(page, view));
      return true;
    case 'End':
      setView(bench, centreOn({ ...view, scale: 1 }, view.x + middle[0] / view.scale, view.y + middle[1] / view.scale));
      return true;
    case 'ArrowLeft':
      setView(bench, panBy(view, PAN_STEP_PX, 0));
      return true;
    case 'ArrowRight':
      setView(bench, panBy(view, -PAN_STEP_PX, 0));
      return true;
    case 'ArrowUp':
      setView(bench, panBy(view, 0, PAN_STEP_PX));
      return true;
    case 'ArrowDown':
      setView(bench, panBy(view, 0, -PAN_STEP_PX));
      return true;
    default:
      return false;
  }
}

function pressSlot(key: string, bench: Bench): boolean {
  const part = bench.state.cast?.parts.find((one) => one.slot === key);
  if (part === undefined) return false;
  choosePart(bench, part.id);
  return true;
}

function pickPart(bench: Bench): void {
  const { pointer } = bench.state;
  if (pointer !== null) pickPartAt(bench, pointer);
}
