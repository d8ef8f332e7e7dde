/** Making one takes far longer than using it. */
const thousands = new Intl.NumberFormat('en-GB');

/** "12,340". */
export const countText = (count: number): string => thousands.format(count);

/** "1 region", "12,340 regions". */
export function counted(count: number, one: string): string {
  return `${countText(count)} ${count === 1 ? one : `${one}s`}`;
}

/** "12,340 px² (88.4 mm²)": numbers with their units, mm where the resolution is known. */
export function areaText(areaPx: number, dpi: number | null): string {
  const px = `${countText(areaPx)} px²`;
  if (dpi === null) return px;
  const mm2 = (areaPx * 25.4 * 25.4) / (dpi * dpi);
  return `${px} (${mm2 >= 100 ? countText(Math.round(mm2)) : mm2.toPrecision(2)} mm²)`;
}

/** "5.4 px (0.46 mm)". */
export function lengthText(px: number, dpi: number | null): string {
  const text = `${px.toFixed(1)} px`;
  return dpi === null ? text : `${text} (${((px * 25.4) / dpi).toFixed(2)} mm)`;
}

/** "4 min", "1 h 12 min". */
export function durationText(seconds: number): string {
  const minutes = Math.floor(seconds / 60);
  if (minutes < 1) return `${seconds} s`;
  return minutes < 60 ? `${minutes} min` : `${Math.floor(minutes / 60)} h ${minutes % 60} min`;
}
