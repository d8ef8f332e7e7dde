/**
 * What is built: everything in layers as OpenRaster or TIFF, the flats alone as PNG or SVG, a proof as PDF; TIFF and PDF in
 * colours for print as well.
 */
export const HANDOFF_CONTAINERS = ['ora', 'tif', 'tif-cmyk', 'png', 'svg', 'pdf', 'pdf-cmyk'] as const;
export type HandoffContainer = (typeof HANDOFF_CONTAINERS)[number];

/** Whether a file has layers to choose. */
export const hasLayers = (container: HandoffContainer): boolean =>
  container === 'ora' || container === 'tif' || container === 'tif-cmyk';
