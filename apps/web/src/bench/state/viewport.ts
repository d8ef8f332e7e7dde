import type { Viewport } from '@jumble/core';

export const MIN_SCALE = 1 / 32;
export const MAX_SCALE = 32;

/** Room left around a page that is shown whole, in px. */
const MARGIN_PX = 16;

/** The whole page, in the middle. */
export function fitPage(page: { width: number; height: number }, size: { width: number; height: number }): Viewport {
  const scale = clampScale(
    Math.min((size.width - 2 * MARGIN_PX) / page.width, (size.height - 2 * MARGIN_PX) / page.height),
  );
  return centreOn({ ...size, x: 0, y: 0, scale }, page.width / 2, page.height / 2);
}

/** Whether the view shows the whole page, as {@link fitPage} leaves it. */
export function isFitted(view: Viewport, page: { width: number; height: number }): boolean {
  const fitted = fitPage(page, view);
  return fitted.scale === view.scale && fitted.x === view.x && fitted.y === view.y;
}

/** Moves the view by picture pixels, onto whole ones, so that the picture can be moved along. */
export function panBy(view: Viewport, dx: number, dy: number): Viewport {
  return onWholePixels({ ...view, x: view.x - dx / view.scale, y: view.y - dy / view.scale });
}

/** The page pixel at a picture point. */
export function pagePointAt(
  view: Viewport,
  { x, y }: { readonly x: number; readonly y: number },
): readonly [number, number] {
  return [Math.floor(view.x + x / view.scale), Math.floor(view.y + y / view.scale)];
}

/** Zooms so that the page point under (px, py) stays there. */
export function zoomAt(view: Viewport, factor: number, px: number, py: number): Viewport {
  const scale = clampScale(view.scale * factor);
  const x = view.x + px / view.scale - px / scale;
  const y = view.y + py / view.scale - py / scale;
  return onWholePixels({ ...view, x, y, scale });
}

export function centreOn(view: Viewport, x: number, y: number): Viewport {
  return onWholePixels({ ...view, x: x - view.width / 2 / view.scale, y: y - view.height / 2 / view.scale });
}

/** Shows a box close up, never larger than 4 px per px nor smaller than it is shown whole. */
export function showBox(
  view: Viewport,
  page: { width: number; height: number },
  box: readonly [number, number, number, number],
): Viewport {
  const least = fitPage(page, view).scale;
  const room = Math.min(view.width / Math.max(1, box[2] - box[0]), view.height / Math.max(1, box[3] - box[1])) * 0.4;
  const scale = clampScale(Math.min(4, Math.max(least, room)));
  return centreOn({ ...view, scale }, (box[0] + box[2]) / 2, (box[1] + box[3]) / 2);
}

function clampScale(scale: number): number {
  return Math.min(MAX_SCALE, Math.max(MIN_SCALE, scale));
}

function onWholePixels(view: Viewport): Viewport {
  return { ...view, x: Math.round(view.x * view.scale) / view.scale, y: Math.round(view.y * view.scale) / view.scale };
}
