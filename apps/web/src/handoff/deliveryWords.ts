import {
  hasCmyk,
  hasLayers,
  type DeliveryArea,
  type DeliveryFormat,
  type DeliveryRule,
  type LayerSplit,
} from '@jumble/core';

export const FORMAT_WORDS: Readonly<Record<DeliveryFormat, string>> = {
  ora: 'OpenRaster, with line art',
  tif: 'TIFF, with line art',
  folder: 'Folder of PNGs, with line art',
  png: 'PNG, flats alone',
  svg: 'SVG, flats as outlines',
  pdf: 'PDF, a proof with its parts',
};

export const SPLIT_WORDS: Readonly<Record<LayerSplit, string>> = {
  part: 'one a part, in groups',
  group: 'one a character, prop or set',
  colour: 'one a colour',
  panel: 'one a panel',
  single: 'one for all flats',
};

export const AREA_WORDS: Readonly<Record<DeliveryArea, string>> = {
  file: 'the whole file',
  bleed: 'up to the bleed',
  trim: 'as it is cut',
};

/** "OpenRaster, layers one a part, 300 dpi". */
export function ruleInWords(rule: DeliveryRule): string {
  return [
    FORMAT_WORDS[rule.format].split(',')[0]!,
    ...(hasLayers(rule.format) ? [`layers ${SPLIT_WORDS[rule.layers]}`] : []),
    ...(hasCmyk(rule.format) && rule.colours === 'cmyk' ? ['CMYK'] : []),
    ...(rule.dpi === null ? [] : [`${rule.dpi} dpi`]),
    ...(rule.area === 'file' ? [] : [AREA_WORDS[rule.area]]),
  ].join(', ');
}
