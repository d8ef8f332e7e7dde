/** How a cut is to be taken. */
export type Ruling = 'closed' | 'open';

/** Of each cut; undefined, or none at all, where nobody has ruled. */
export type Rulings = readonly (Ruling | undefined)[];
