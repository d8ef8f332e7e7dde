/** The sixteen directions in which a crumb looks for the part around it. */
const RAYS: readonly (readonly [number, number])[] = [
  [1, 0],
  [2, 1],
  [1, 1],
  [1, 2],
  [0, 1],
  [-1, 2],
  [-1, 1],
  [-2, 1],
  [-1, 0],
  [-2, -1],
  [-1, -1],
  [-1, -2],
  [0, -1],
  [1, -2],
  [1, -1],
  [2, -1],
];

/**
 * Crumbs are cells that come to less than `limitPx2`: pinholes in gritty ink. Each is adopted by the
 * nearest larger cell seen from it along sixteen rays (ties to the one that comes first), so that it takes the
 * part around it. A crumb that sees none stays on its own, as do all where the page holds nothing larger.
 *
 * @param areaPx of each cell, with the cells it is joined to.
 * @param first pixel of each cell in reading order.
 * @returns for each cell the cell that counts for it: itself, unless it is a crumb.
 */
export function adoptCrumbs(
  field: Int32Array,
  areaPx: ArrayLike<number>,
  anchor: Int32Array,
  first: Int32Array,
  width: number,
  height: number,
  limitPx2: number,
): Int32Array {
  const adopter = new Int32Array(areaPx.length);
  for (let cell = 0; cell < areaPx.length; cell++) adopter[cell] = cell;
  for (let cell = 0; cell < areaPx.length; cell++) {
    if (areaPx[cell]! >= limitPx2) continue;
    const x = anchor[cell]! % width;
    const y = (anchor[cell]! - x) / width;
    let best = Infinity;
    for (const [dx, dy] of RAYS) {
      const length2 = dx * dx + dy * dy;
      let px = x + dx;
      let py = y + dy;
      for (let k = 1; px >= 0 && py >= 0 && px < width && py < height; k++) {
        const squared = k * k * length2;
        if (squared > best) break;
        const seen = field[py * width + px]!;
        if (seen >= 0 && areaPx[seen]! >= limitPx2) {
          if (squared < best || first[seen]! < first[adopter[cell]!]!) adopter[cell] = seen;
          best = squared;
          break;
        }
        px += dx;
        py += dy;
      }
    }
  }
  return adopter;
}
