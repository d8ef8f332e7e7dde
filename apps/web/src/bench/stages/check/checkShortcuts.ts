import type { Bench } from '../../state/Bench.ts';
import type { Shortcut } from '../../tools/Shortcut.ts';
import { drawOver } from '../../page/show.ts';
import { certify } from './certificate.ts';
import { findingNow, findingsListed, goToFinding, mend, mendAll, turnRemedy } from './findings.ts';

export const CHECK_SHORTCUTS: readonly Shortcut[] = [
  { keys: '. ,', words: 'next finding, the one before' },
  { keys: 'Enter', words: 'mend it and go to the next one' },
  { keys: 'Shift + Enter', words: 'show all of this kind; again: mend them in one step' },
  { keys: 'v', words: 'as the remedy would make it, as it is' },
  { keys: 's', words: 'let it stay, for a reason' },
  { keys: 'c', words: 'certify a page without open findings' },
  { keys: 'click', words: 'go to the finding there' },
];

export function pressCheck({ key, shiftKey }: KeyboardEvent, bench: Bench): boolean {
  switch (key) {
    case '.':
      goToFinding(bench, 1);
      return true;
    case ',':
      goToFinding(bench, -1);
      return true;
    case 'Enter': {
      const { open, notes } = findingsListed(bench.state);
      const kind = bench.state.mendKind ?? (findingNow(bench.state) ?? open[0] ?? notes[0])?.kind;
      if (shiftKey && kind !== undefined) void mendAll(bench, kind);
      else void mend(bench);
      return true;
    }
    case 'v':
      turnRemedy(bench);
      return true;
    case 's':
      if (findingNow(bench.state) !== undefined) bench.set({ waiving: true });
      return true;
    case 'c':
      void certify(bench);
      return true;
    case 'Escape':
      if (bench.state.mendKind === null && !bench.state.waiving) return false;
      bench.set({ mendKind: null, waiving: false });
      drawOver(bench);
      return true;
    default:
      // Parts have no meaning here.
      return key.length === 1 && /[a-z0-9]/.test(key) && !'qwe'.includes(key);
  }
}
