/** Outlines of areas along the edges of their pixels, as SVG path data by number. */
export interface TracedAreas {
  /** `M…h…v…z` for each number from 1 on; empty for one without a pixel. Holes by the even-odd rule. */
  readonly paths: readonly string[];
}

/** Growing numbers. */
class Numbers {
  data = new Int32Array(4096);
  length = 0;

  push(one: number): void {
    if (this.length === this.data.length) {
      const next = new Int32Array(this.length * 2);
      next.set(this.data);
      this.data = next;
    }
    this.data[this.length++] = one;
  }
}

/**
 * Traces numbered areas exactly. Borders that areas share have the same points on both sides.
 *
 * Corners of each area are joined along rows and columns in turn: in every row and every column they come in pairs.
 * Cost: a read of the raster, and the corners' order.
 *
 * @param data 0 for no area, else a number up to `count`.
 * @param smooth whether steps become slopes: a border runs through the middles of the pixels' edges, and through the points
 *   where more than two areas meet. Centres of pixels stay on their side.
 */
export function tracePaths(
  data: Uint16Array,
  width: number,
  height: number,
  count: number,
  smooth = false,
): TracedAreas {
  const [labels, xs, ys] = [new Numbers(), new Numbers(), new Numbers()];
  const corner = (label: number, x: number, y: number): void => {
    labels.push(label);
    xs.push(x);
    ys.push(y);
  };
  for (let y = 0; y <= height; y++) {
    for (let x = 0; x <= width; x++) {
      const nw = x > 0 && y > 0 ? data[(y - 1) * width + x - 1]! : 0;
      const ne = x < width && y > 0 ? data[(y - 1) * width + x]! : 0;
      const sw = x > 0 && y < height ? data[y * width + x - 1]! : 0;
      const se = x < width && y < height ? data[y * width + x]! : 0;
      if ((nw === ne && sw === se) || (nw === sw && ne === se)) continue;
      cornersOf(nw, nw, ne, sw, se, x, y);
      if (ne !== nw) cornersOf(ne, nw, ne, sw, se, x, y);
      if (sw !== nw && sw !== ne) cornersOf(sw, nw, ne, sw, se, x, y);
      if (se !== nw && se !== ne && se !== sw) cornersOf(se, nw, ne, sw, se, x, y);
    }
  }
  function cornersOf(label: number, nw: number, ne: number, sw: number, se: number, x: number, y: number): void {
    if (label === 0) return;
    const own = Number(nw === label) + Number(ne === label) + Number(sw === label) + Number(se === label);
    const isDiagonal = own === 2 && (nw === label) === (se === label);
    if (own === 1 || own === 3 || isDiagonal) corner(label, x, y);
    if (isDiagonal) corner(label, x, y);
  }
  const at = (x: number, y: number): number => (x < 0 || y < 0 || x >= width || y >= height ? 0 : data[y * width + x]!);
  /** Whether more than two borders meet at a point, or the page has its corner there. */
  function meets(x: number, y: number): boolean {
    const [nw, ne, sw, se] = [at(x - 1, y - 1), at(x, y - 1), at(x - 1, y), at(x, y)];
    const isCorner = (x === 0 || x === width) && (y === 0 || y === height);
    return isCorner || Number(nw !== ne) + Number(ne !== se) + Number(se !== sw) + Number(sw !== nw) !== 2;
  }
  const start = new Int32Array(count + 2);
  for (let k = 0; k < labels.length; k++) start[labels.data[k]! + 1]!++;
  for (let label = 0; label <= count; label++) start[label + 1] = start[label + 1]! + start[label]!;
  const next = start.slice();
  // In reading order within each label.
  const order = new Int32Array(labels.length);
  for (let k = 0; k < labels.length; k++) order[next[labels.data[k]!]!++] = k;
  const paths = Array.from({ length: count }, (_, k) =>
    pathOf(order.subarray(start[k + 1]!, start[k + 2]!), xs.data, ys.data, smooth ? meets : null),
  );
  return { paths };
}

/** The loops through the corners of one area. @param corners in reading order. */
function pathOf(
  corners: Int32Array,
  xs: Int32Array,
  ys: Int32Array,
  meets: ((x: number, y: number) => boolean) | null,
): string {
  const count = corners.length;
  const byColumn = Int32Array.from(corners, (_, k) => k).sort(
    (a, b) => xs[corners[a]!]! - xs[corners[b]!]! || ys[corners[a]!]! - ys[corners[b]!]! || a - b,
  );
  // Neighbours along the row: in reading order corners come in pairs. Along the column the same, in its order.
  const down = new Int32Array(count);
  for (let k = 0; k < count; k += 2) {
    down[byColumn[k]!] = byColumn[k + 1]!;
    down[byColumn[k + 1]!] = byColumn[k]!;
  }
  const seen = new Uint8Array(count);
  let path = '';
  for (let first = 0; first < count; first++) {
    if (seen[first] === 1) continue;
    const loop: number[] = [];
    let at = first;
    do {
      const across = at ^ 1;
      seen[at] = 1;
      seen[across] = 1;
      loop.push(corners[at]!, corners[across]!);
      at = down[across]!;
    } while (at !== first);
    path += meets === null ? alongEdges(loop, xs, ys) : throughMiddles(loop, xs, ys, meets);
  }
  return path;
}

function alongEdges(loop: readonly number[], xs: Int32Array, ys: Int32Array): string {
  let path = `M${xs[loop[0]!]} ${ys[loop[0]!]}`;
  for (let k = 1; k < loop.length; k++) {
    const [from, to] = [loop[k - 1]!, loop[k]!];
    path += k % 2 === 1 ? `h${xs[to]! - xs[from]!}` : `v${ys[to]! - ys[from]!}`;
  }
  return `${path}z`;
}

/** Straight pieces between the middles of the pixels' edges and the points where borders meet. */
function throughMiddles(
  loop: readonly number[],
  xs: Int32Array,
  ys: Int32Array,
  meets: (x: number, y: number) => boolean,
): string {
  const points: [number, number][] = [];
  const add = (x: number, y: number): void => {
    const [a, b] = [points.at(-2), points.at(-1)];
    // What lies on the way to the next point needs no point of its own.
    if (a !== undefined && b !== undefined && (b[0] - a[0]) * (y - b[1]) === (b[1] - a[1]) * (x - b[0])) points.pop();
    points.push([x, y]);
  };
  loop.forEach((corner, k) => {
    const next = loop[(k + 1) % loop.length]!;
    let [x, y] = [xs[corner]!, ys[corner]!];
    const [toX, toY] = [xs[next]!, ys[next]!];
    const [stepX, stepY] = [Math.sign(toX - x), Math.sign(toY - y)];
    while (x !== toX || y !== toY) {
      if (meets(x, y)) add(x, y);
      add(x + stepX / 2, y + stepY / 2);
      x += stepX;
      y += stepY;
    }
  });
  return `M${points.map(([x, y]) => `${x} ${y}`).join('L')}z`;
}
