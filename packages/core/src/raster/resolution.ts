/** Resolutions that a page can have, in dpi: outside of them a file's figure is a mistake. */
export const MIN_DPI = 36;
export const MAX_DPI = 4800;
