import {
  hasCmyk,
  hasLayers,
  type DeliveryArea,
  type DeliveryFormat,
  type DeliveryRule,
  type LayerSplit,
} from '@jumble/core';

export const FORMAT_WORDS: Readonly<Record<DeliveryFormat, string>> = {
  ora: 'OpenRaster',
  tif: 'TIFF',
  folder: 'Folder of PNGs',
  png: 'PNG, flats alone',
  svg: 'SVG outlines',
  pdf: 'PDF proof',
};

export const SPLIT_WORDS: Readonly<Record<LayerSplit, string>> = {
  part: 'one a part',
  group: 'one a character',
  colour: 'one a colour',
  panel: 'one a panel',
  single: 'one for all',
};

export const AREA_WORDS: Readonly<Record<DeliveryArea, string>> = {
  file: 'the whole file',
  bleed: 'up to the bleed',
  trim: 'as it is cut',
};

/** "OpenRaster, layers one a part, 300 dpi". */
export function ruleInWords(rule: DeliveryRule): string {
  return [
    FORMAT_WORDS[rule.format],
    ...(hasLayers(rule.format) ? [`layers ${SPLIT_WORDS[rule.layers]}`] : []),
    ...(hasCmyk(rule.format) && rule.colours === 'cmyk' ? ['CMYK'] : []),
    ...(rule.dpi === null ? [] : [`${rule.dpi} dpi`]),
    ...(rule.area === 'file' ? [] : [AREA_WORDS[rule.area]]),
  ].join(', ');
}
