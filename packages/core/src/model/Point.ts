/** A place on the page, in px from its upper left corner. */
export type Point = readonly [x: number, y: number];
