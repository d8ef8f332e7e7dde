import type { Bench } from '../../state/Bench.ts';
import type { Shortcut } from '../../tools/Shortcut.ts';
import { askLeak, drawClosure, goToGap, ruleCurrentGap } from './gaps.ts';

export const GAPS_SHORTCUTS: readonly Shortcut[] = [
  { keys: '. ,', words: 'next gap to rule on, the one before' },
  { keys: 'Enter', words: 'close it and go to the next one' },
  { keys: 'Backspace', words: 'leave it open and go to the next one' },
  { keys: 'click', words: 'select a closure' },
  { keys: 'drag', words: 'draw a closure from ink to ink' },
  { keys: 'Shift + click, right button', words: 'leave open, or delete one that was drawn' },
  { keys: 'drag an end', words: 'move an end of a closure that was drawn' },
  { keys: 'r, then click', words: 'let colour run from there: the leak test' },
  { keys: 't', words: 'trace a leak between two places' },
];

export function pressGaps({ key }: KeyboardEvent, bench: Bench): boolean {
  const { leak } = bench.state;
  switch (key) {
    case '.':
      goToGap(bench, 1);
      return true;
    case ',':
      goToGap(bench, -1);
      return true;
    case 'Enter':
      if (leak !== null && leak.cut !== null) void drawClosure(bench, leak.cut.from, leak.cut.to);
      else void ruleCurrentGap(bench, 'closed');
      return true;
    case 'Backspace':
    case 'Delete':
      void ruleCurrentGap(bench, 'open');
      return true;
    case 't':
      askLeak(bench, 'trace');
      return true;
    case 'r':
      askLeak(bench, 'run');
      return true;
    default:
      // Parts have no meaning here.
      return key.length === 1 && /[a-z0-9]/.test(key) && key !== 'q' && key !== 'w';
  }
}
