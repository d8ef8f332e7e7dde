import type { KeyboardEvent, MouseEvent } from 'react';

interface WalkedList {
  readonly tabIndex: 0;
  readonly 'aria-label': string;
  readonly onMouseDown: (event: MouseEvent) => void;
  readonly onKeyDown: (event: KeyboardEvent) => void;
}

/**
 * A worklist that can be reached by keys: arrows go through it while it has the focus. The pointer leaves the focus, and
 * with it the keys, to the page.
 */
export function walkedByArrows(go: (direction: 1 | -1) => void): WalkedList {
  return {
    tabIndex: 0,
    'aria-label': 'Open decisions, walk through them with the arrow keys',
    onMouseDown: (event) => event.preventDefault(),
    onKeyDown: (event) => {
      if (event.key !== 'ArrowDown' && event.key !== 'ArrowUp') return;
      // On the page they would move it.
      event.preventDefault();
      event.stopPropagation();
      event.nativeEvent.stopImmediatePropagation();
      go(event.key === 'ArrowDown' ? 1 : -1);
    },
  };
}
