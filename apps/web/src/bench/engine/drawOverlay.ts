import type { Viewport } from '@jumble/core';
import {
  CLOSURE_NUMBERS,
  STROKE,
  type Overlay,
  type OverlayMark,
  type OverlayShape,
  type OverlayWay,
  type ShapeLook,
} from './messages.ts';

/** Marks are told apart by their shape first: solid, dashed, dotted, with squares at the ends for those drawn by hand. */
const LOOKS = {
  [STROKE.closed]: { colour: '#0f6f7c', dash: [] as number[], width: 3 },
  [STROKE.proposed]: { colour: '#8a4b00', dash: [5, 4], width: 2 },
  [STROKE.ruledOpen]: { colour: '#555555', dash: [1.5, 4], width: 2 },
  [STROKE.hand]: { colour: '#0f6f7c', dash: [] as number[], width: 3 },
} as const;
const CURRENT = '#d04f2d';
const PROPOSED_FROM = 0.6;

/** Draws closures, the one being drawn, and a leak's way over the picture. */
export function drawOverlay(context: OffscreenCanvasRenderingContext2D, overlay: Overlay, view: Viewport): void {
  const sx = (x: number): number => (x + 0.5 - view.x) * view.scale;
  const sy = (y: number): number => (y + 0.5 - view.y) * view.scale;
  context.lineCap = 'round';
  for (const mark of overlay.marks ?? []) drawMark(context, mark, view);
  const strokePath = (path: () => void, colour: string, width: number, dash: number[]): void => {
    const trace = (): void => {
      context.beginPath();
      path();
      context.stroke();
    };
    // A pale rim keeps it visible on ink and on every colour.
    context.setLineDash([]);
    context.lineWidth = width + 2.5;
    context.strokeStyle = 'rgba(255,255,255,0.85)';
    trace();
    context.setLineDash(dash);
    context.lineWidth = width;
    context.strokeStyle = colour;
    trace();
  };
  const line = (points: readonly (readonly [number, number])[], colour: string, width: number, dash: number[]): void =>
    strokePath(
      () => points.forEach(([x, y], k) => (k === 0 ? context.moveTo(sx(x), sy(y)) : context.lineTo(sx(x), sy(y)))),
      colour,
      width,
      dash,
    );
  // Many areas would hide a whole page: from afar they are thin.
  for (const shape of overlay.shapes)
    drawShape(context, shape, sx, sy, shape.look === 'area' && view.scale < PROPOSED_FROM);
  drawSpecks(context, overlay.specks, view);
  const { closures } = overlay;
  for (let k = 0; k * CLOSURE_NUMBERS < closures.length; k++) {
    const numbers = closures.subarray(k * CLOSURE_NUMBERS, (k + 1) * CLOSURE_NUMBERS);
    const at = (n: number): [number, number] => [sx(numbers[2 * n]!), sy(numbers[2 * n + 1]!)];
    const [from, inner, further, to] = [at(0), at(1), at(2), at(3)];
    if (Math.max(from[0], to[0]) < -20 || Math.min(from[0], to[0]) > view.width + 20) continue;
    if (Math.max(from[1], to[1]) < -20 || Math.min(from[1], to[1]) > view.height + 20) continue;
    const stroke = numbers[8]!;
    // Proposals are for a close look; on the whole page they would hide it.
    if (stroke === STROKE.proposed && view.scale < PROPOSED_FROM && k !== overlay.current) continue;
    const look = LOOKS[stroke as keyof typeof LOOKS];
    const colour = k === overlay.current ? CURRENT : look.colour;
    strokePath(
      () => {
        context.moveTo(...from);
        context.bezierCurveTo(...inner, ...further, ...to);
      },
      colour,
      look.width,
      [...look.dash],
    );
    if (stroke === STROKE.hand) ends(context, from, to, colour);
    if (k === overlay.current)
      ring(
        context,
        (from[0] + to[0]) / 2,
        (from[1] + to[1]) / 2,
        Math.hypot(to[0] - from[0], to[1] - from[1]) / 2 + 12,
      );
  }
  if (overlay.leak !== null) {
    const points: [number, number][] = [];
    for (let k = 0; k < overlay.leak.length; k += 2) points.push([overlay.leak[k]!, overlay.leak[k + 1]!]);
    line(points, '#7a2fa0', 2.5, [8, 5]);
  }
  if (overlay.narrowest !== null) ring(context, sx(overlay.narrowest[0]), sy(overlay.narrowest[1]), 14);
  if (overlay.draft !== null) {
    const [x0, y0, x1, y1] = overlay.draft;
    line(
      [
        [x0, y0],
        [x1, y1],
      ],
      CURRENT,
      2,
      [],
    );
    ends(context, [sx(x0), sy(y0)], [sx(x1), sy(y1)], CURRENT);
    if (overlay.draftLabel !== undefined) flag(context, sx(x1) + 12, sy(y1) - 24, overlay.draftLabel, CURRENT);
  }
  context.setLineDash([]);
}

/** A loose stroke: its part's colour between two casings, so that it shows on any ground; hollow for "leave empty". */
export function drawMark(
  context: OffscreenCanvasRenderingContext2D,
  { points, colour, empty }: OverlayMark,
  view: Viewport,
): void {
  const at = ([x, y]: readonly [number, number]): [number, number] => [
    (x + 0.5 - view.x) * view.scale,
    (y + 0.5 - view.y) * view.scale,
  ];
  context.setLineDash([]);
  context.lineJoin = 'round';
  const passes: [string, number][] = [
    ['#1b1c1d', 9],
    ['#ffffff', 7],
    [empty ? '#1b1c1d' : colour, empty ? 1.5 : 5],
  ];
  for (const [stroke, width] of passes) {
    context.strokeStyle = stroke;
    context.lineWidth = width;
    context.beginPath();
    points.forEach((point, k) => (k === 0 ? context.moveTo(...at(point)) : context.lineTo(...at(point))));
    // A dot is a mark too.
    if (points.length === 1) context.lineTo(at(points[0]!)[0] + 0.01, at(points[0]!)[1]);
    context.stroke();
  }
}

/** A loop or a cut as it is drawn: dashes on a pale rim. */
export function drawWay(
  context: OffscreenCanvasRenderingContext2D,
  { points, closed, handles }: OverlayWay,
  view: Viewport,
): void {
  for (const [stroke, width, dash] of [
    ['rgba(255,255,255,0.9)', 4, []],
    [CURRENT, 2, [7, 5]],
  ] as const) {
    context.strokeStyle = stroke;
    context.lineWidth = width;
    context.setLineDash([...dash]);
    context.beginPath();
    for (const [x, y] of points) context.lineTo((x + 0.5 - view.x) * view.scale, (y + 0.5 - view.y) * view.scale);
    if (closed) context.closePath();
    context.stroke();
  }
  context.setLineDash([]);
  if (handles !== true) return;
  for (const [x, y] of points) handle(context, (x + 0.5 - view.x) * view.scale, (y + 0.5 - view.y) * view.scale);
}

/** A square that can be taken hold of. */
function handle(context: OffscreenCanvasRenderingContext2D, x: number, y: number): void {
  context.fillStyle = '#fff';
  context.fillRect(x - 7, y - 7, 14, 14);
  context.fillStyle = CURRENT;
  context.fillRect(x - 5, y - 5, 10, 10);
}

/** Outlines differ in their dashes first, then in colour. */
const SHAPES: Record<ShapeLook, { readonly colour: string; readonly dash: readonly number[]; readonly width: number }> =
  {
    panel: { colour: '#2f5d68', dash: [], width: 2 },
    chosen: { colour: CURRENT, dash: [], width: 3 },
    balloon: { colour: '#5b4a9c', dash: [2, 4], width: 2.5 },
    solid: { colour: '#b06a00', dash: [9, 4], width: 2.5 },
    change: { colour: '#a32c5b', dash: [6, 3, 2, 3], width: 2.5 },
    area: { colour: '#3d5a40', dash: [4, 3, 1, 3], width: 2 },
    fault: { colour: CURRENT, dash: [3, 3], width: 2 },
    trim: { colour: '#1b1c1d', dash: [14, 5], width: 1.5 },
    bleed: { colour: '#1b1c1d', dash: [3, 5], width: 1.5 },
  };

function drawShape(
  context: OffscreenCanvasRenderingContext2D,
  { points, look, label, handles }: OverlayShape,
  sx: (x: number) => number,
  sy: (y: number) => number,
  isThin: boolean,
): void {
  const { colour, dash, width } = isThin ? { ...SHAPES[look], dash: [], width: 1 } : SHAPES[look];
  const trace = (): void => {
    context.beginPath();
    // Corners lie between pixels, not on them.
    points.forEach(([x, y], k) =>
      k === 0 ? context.moveTo(sx(x - 0.5), sy(y - 0.5)) : context.lineTo(sx(x - 0.5), sy(y - 0.5)),
    );
    context.closePath();
    context.stroke();
  };
  context.setLineDash([]);
  context.lineWidth = width + 2;
  context.strokeStyle = 'rgba(255,255,255,0.8)';
  if (!isThin) trace();
  context.setLineDash([...dash]);
  context.lineWidth = width;
  context.strokeStyle = colour;
  trace();
  context.setLineDash([]);
  context.fillStyle = colour;
  if (handles === true) for (const [x, y] of points) context.fillRect(sx(x - 0.5) - 5, sy(y - 0.5) - 5, 10, 10);
  if (label === undefined) return;
  const [lx, ly] = [Math.min(...points.map(([x]) => sx(x))), Math.min(...points.map(([, y]) => sy(y)))];
  flag(context, lx, ly, label, colour);
}

/** A word on a ground of its own. */
function flag(context: OffscreenCanvasRenderingContext2D, x: number, y: number, text: string, colour: string): void {
  context.font = '600 13px "IBM Plex Sans", sans-serif';
  context.fillStyle = colour;
  context.fillRect(x, y, context.measureText(text).width + 10, 20);
  context.fillStyle = '#fff';
  context.fillText(text, x + 5, y + 14.5);
}

function drawSpecks(context: OffscreenCanvasRenderingContext2D, specks: Float32Array, view: Viewport): void {
  context.setLineDash([]);
  context.lineWidth = 1.5;
  context.strokeStyle = CURRENT;
  context.beginPath();
  for (let k = 0; k < specks.length; k += 3) {
    const x = (specks[k]! + 0.5 - view.x) * view.scale;
    const y = (specks[k + 1]! + 0.5 - view.y) * view.scale;
    if (x < -20 || y < -20 || x > view.width + 20 || y > view.height + 20) continue;
    const radius = Math.max(5, specks[k + 2]! * view.scale + 3);
    context.moveTo(x + radius, y);
    context.arc(x, y, radius, 0, 2 * Math.PI);
  }
  context.stroke();
}

function ends(
  context: OffscreenCanvasRenderingContext2D,
  a: readonly [number, number],
  b: readonly [number, number],
  colour: string,
): void {
  context.fillStyle = colour;
  for (const [x, y] of [a, b]) context.fillRect(x - 3, y - 3, 6, 6);
}

function ring(context: OffscreenCanvasRenderingContext2D, x: number, y: number, radius: number): void {
  context.setLineDash([]);
  for (const [colour, width] of [
    ['rgba(255,255,255,0.85)', 4.5],
    [CURRENT, 2],
  ] as const) {
    context.beginPath();
    context.arc(x, y, Math.min(radius, 60), 0, 2 * Math.PI);
    context.strokeStyle = colour;
    context.lineWidth = width;
    context.stroke();
  }
}
