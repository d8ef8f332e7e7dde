import type { MouseEvent } from 'react';

/** A list that can be reached and scrolled by keys; the pointer leaves the focus, and with it the keys, to the page. */
export const scrolledByArrows = {
  tabIndex: 0,
  'aria-label': 'Open decisions',
  onMouseDown: (event: MouseEvent): void => event.preventDefault(),
};
