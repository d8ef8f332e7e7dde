export const FILL = 'fill/';

export const GAP = 'gap/';

export const CLOSURE = 'closure/';

export const INK = 'ink/';

export const SOLID = 'solid/';

export const BALLOON = 'balloon/';

export const SEEN = 'seen/';

export const MARK = 'mark/';

export const TILE = 'tile/';

export const AREA = 'area/';

export const HOLD = 'hold/';

export const LINE_CUT = 'linecut/';

export const LINE_JOIN = 'linejoin/';

export const WAIVER = 'waiver/';

export const LINE_STROKE = 'linestroke/';
