import { DEFAULT_PREP, openSurvey, type GreyRaster } from '@jumble/core';

/** A page of small rooms, each with a door and some hatching, in px. */
const [COLUMNS, ROWS] = [8, 6];
const [ROOM_WIDTH, ROOM_HEIGHT, LINE] = [60, 50, 4];
/** Rooms a wall is drawn through, in turn. */
const ROOMS = [0, 9, 26, 39];
/** So often the code is compiled well enough. */
const TIMES = 50;

/**
 * Draws closures on a small page and takes them away, until the browser has compiled what does so: else the first ones
 * on a real page wait for that, several times as long as for what they are.
 *
 * @returns after each closure how many cells the page has.
 */
export function* rehearseClosures(): Generator<number> {
  const open = openSurvey(pageOfRooms(), DEFAULT_PREP, { allocate: (bytes) => new SharedArrayBuffer(bytes) });
  const { maxGapPx } = open.survey;
  for (let k = 0; k < TIMES; k++) {
    const room = ROOMS[k % ROOMS.length]!;
    const x = (room % COLUMNS) * ROOM_WIDTH + 44;
    const y = Math.floor(room / COLUMNS) * ROOM_HEIGHT + LINE / 2;
    for (const drawn of [[`${x},${y}-${x},${y + 40}`], []]) {
      open.cut(drawn, maxGapPx, new Map());
      yield open.survey.cellCount;
    }
  }
}

function pageOfRooms(): GreyRaster {
  const [width, height] = [COLUMNS * ROOM_WIDTH + 20, ROWS * ROOM_HEIGHT + 20];
  const data = new Uint8Array(width * height).fill(255);
  const line = (x0: number, y0: number, x1: number, y1: number): void => {
    for (let y = y0; y < y1; y++) data.fill(0, y * width + x0, y * width + x1);
  };
  for (let room = 0; room < COLUMNS * ROWS; room++) {
    const [x, y] = [(room % COLUMNS) * ROOM_WIDTH + 5, Math.floor(room / COLUMNS) * ROOM_HEIGHT];
    const [right, bottom] = [x + 50, y + 40];
    line(x, y, right, y + LINE);
    line(x, y, x + LINE, bottom);
    line(right - LINE, y, right, bottom);
    // The door, in another place in every room.
    const door = x + 10 + ((room * 7) % 12);
    line(x, bottom, door, bottom + LINE);
    line(door + 9, bottom, right, bottom + LINE);
    for (let k = 0; k < 3; k++) line(x + 12 + 6 * k, y + 12, x + 13 + 6 * k, y + 26);
  }
  return { width, height, data };
}
