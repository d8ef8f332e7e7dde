import type { Point } from '../model/Point.ts';
import { convexHull } from '../layout/convexHull.ts';
import type { TrapFault, TrapFaultKind } from './findTrapFaults.ts';

interface Place {
  readonly kind: TrapFaultKind;
  readonly parts: readonly [number, number];
  /** First and last column in each row of the square; the first is -1 in a row that has none. */
  readonly left: Int32Array;
  readonly right: Int32Array;
  readonly top: number;
  at: Point;
  foundPx: number;
  depthPx: number;
  worst: number;
  areaPx: number;
}

/** Numbers of parts are below this. */
const PARTS = 65_536;
/** What outlines keep around the pixels they hold, so that both sides of a line lie inside. */
const ROOM_PX = 1;

/** Gathers faulty pixels into places: those of one kind between the same parts in one square of the page. */
export class FaultPlaces {
  private readonly places = new Map<number, Place>();
  private readonly tilesPerRow: number;
  private last: { readonly key: number; readonly place: Place } | null = null;

  constructor(
    private readonly width: number,
    private readonly height: number,
    private readonly tilePx: number,
  ) {
    this.tilesPerRow = Math.ceil(width / tilePx);
  }

  /** @param worst by how many px it fails. */
  add(
    kind: TrapFaultKind,
    x: number,
    y: number,
    foundPx: number,
    depthPx: number,
    worst: number,
    low: number,
    high: number,
  ): void {
    const tile = Math.floor(y / this.tilePx) * this.tilesPerRow + Math.floor(x / this.tilePx);
    const key = ((tile * 2 + (kind === 'halo' ? 0 : 1)) * PARTS + low + 1) * PARTS + high + 1;
    const place = this.last?.key === key ? this.last.place : this.placeOf(key, kind, y, low, high);
    this.last = { key, place };
    const row = y - place.top;
    if (place.left[row]! < 0 || x < place.left[row]!) place.left[row] = x;
    if (x > place.right[row]!) place.right[row] = x;
    place.areaPx++;
    if (worst <= place.worst) return;
    Object.assign(place, { at: [x, y], worst, foundPx, depthPx });
  }

  private placeOf(key: number, kind: TrapFaultKind, y: number, low: number, high: number): Place {
    let place = this.places.get(key);
    if (place === undefined) {
      place = {
        kind,
        parts: [low, high],
        left: new Int32Array(this.tilePx).fill(-1),
        right: new Int32Array(this.tilePx).fill(-1),
        top: y - (y % this.tilePx),
        at: [0, 0],
        foundPx: 0,
        depthPx: 0,
        worst: -Infinity,
        areaPx: 0,
      };
      this.places.set(key, place);
    }
    return place;
  }

  /** The places, the worst first. */
  list(): TrapFault[] {
    return [...this.places.values()]
      .sort((a, b) => b.worst - a.worst || b.areaPx - a.areaPx || a.at[1] - b.at[1] || a.at[0] - b.at[0])
      .map(({ kind, parts, at, foundPx, depthPx, areaPx, left, right, top }) => {
        const rows = [...left.keys()].filter((row) => left[row]! >= 0);
        const box = [
          Math.min(...rows.map((row) => left[row]!)),
          top + rows[0]!,
          Math.max(...rows.map((row) => right[row]!)) + 1,
          top + rows.at(-1)! + 1,
        ] as const;
        return { kind, at, box, areaPx, foundPx, depthPx, parts, outline: this.outline(rows, left, right, top) };
      });
  }

  private outline(rows: readonly number[], left: Int32Array, right: Int32Array, top: number): Point[] {
    const corners = rows.flatMap((row): Point[] => {
      const [x0, x1] = [Math.max(0, left[row]! - ROOM_PX), Math.min(this.width, right[row]! + 1 + ROOM_PX)];
      const [y0, y1] = [Math.max(0, top + row - ROOM_PX), Math.min(this.height, top + row + 1 + ROOM_PX)];
      return [
        [x0, y0],
        [x0, y1],
        [x1, y0],
        [x1, y1],
      ];
    });
    return convexHull(corners);
  }
}
