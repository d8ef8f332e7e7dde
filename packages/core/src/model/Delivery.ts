import type { TrapRule } from './Trap.ts';

/**
 * What is built of a page: everything in layers as OpenRaster, TIFF or a folder of PNGs, the flats alone as PNG or SVG, a
 * proof as PDF.
 */
export const DELIVERY_FORMATS = ['ora', 'tif', 'folder', 'png', 'svg', 'pdf'] as const;
export type DeliveryFormat = (typeof DELIVERY_FORMATS)[number];

/** What files of a format end in; folders are packed. */
export const FILE_ENDINGS: Readonly<Record<DeliveryFormat, string>> = {
  ora: '.ora',
  tif: '.tif',
  folder: '.zip',
  png: '.png',
  svg: '.svg',
  pdf: '.pdf',
};

/** Whether a format has layers to choose. */
export const hasLayers = (format: DeliveryFormat): boolean =>
  format === 'ora' || format === 'tif' || format === 'folder';
/** Whether a format can hold colours for print. */
export const hasCmyk = (format: DeliveryFormat): boolean => format === 'tif' || format === 'pdf';

/** A layer for each part, character, colour or panel, or one for all flats. */
export const LAYER_SPLITS = ['part', 'group', 'colour', 'panel', 'single'] as const;
export type LayerSplit = (typeof LAYER_SPLITS)[number];

/** Whether layers may lie in front of each other, so that one can run under another. */
export const canRunUnder = ({
  format,
  layers,
  layerOrder,
}: Pick<DeliveryRule, 'format' | 'layers' | 'layerOrder'>): boolean =>
  hasLayers(format) && layers !== 'single' && layers !== 'panel' && layerOrder === 'stack';

/** How much of the file goes out: all of it, up to the bleed, or what is left after the cut. */
export const DELIVERY_AREAS = ['file', 'bleed', 'trim'] as const;
export type DeliveryArea = (typeof DELIVERY_AREAS)[number];

/** What a colourist, a printer or an archive asks for; kept with the job under its name. */
export interface DeliveryRule {
  readonly id: string;
  readonly name: string;
  /** Place among the rules of the job. */
  readonly order: number;
  readonly format: DeliveryFormat;
  readonly layers: LayerSplit;
  /** Layers in front first as they are stacked, or by their names. */
  readonly layerOrder: 'stack' | 'name';
  /** Pattern of a layer's name, with {@link LAYER_WORDS}. */
  readonly layerName: string;
  /** Pattern of a page's file name, with {@link FILE_WORDS}; without its ending. */
  readonly fileName: string;
  readonly colours: 'rgb' | 'cmyk';
  /** Id of the job's ICC profile that colours are printed by; null is the generic one. */
  readonly profile: string | null;
  /** Resolution of the files; null is the page's own. Flats are scaled by the nearest pixel. */
  readonly dpi: number | null;
  /** Null is what the pages say. */
  readonly trap: TrapRule | null;
  /** How far layers run under those in front, in px; null is what the job says. */
  readonly underlapPx: number | null;
  /** Whether colours of lines are a layer of their own, or the line art is coloured. */
  readonly holds: 'layer' | 'coloured';
  /** Outlines whose steps become slopes. */
  readonly smooth: boolean;
  readonly inkBits: 8 | 1;
  /** Resolution of a line art of 1 bit; null is that of the page's own file. */
  readonly inkDpi: number | null;
  /** A white layer with the silhouette of the flats, to shade on. */
  readonly shading: boolean;
  /** Closures as a hidden layer, or left out. */
  readonly closures: boolean;
  /** Scene whose colours go out; null is each page's own. */
  readonly scene: string | null;
  readonly area: DeliveryArea;
  /** Whether the page's notes go with it. */
  readonly notes: boolean;
}

/** What a rule begins as. */
export const NEW_DELIVERY: Omit<DeliveryRule, 'id' | 'name' | 'order'> = {
  format: 'ora',
  layers: 'part',
  layerOrder: 'stack',
  layerName: '{name}',
  fileName: '{job}_{page}_flats',
  colours: 'rgb',
  profile: null,
  dpi: null,
  trap: null,
  underlapPx: null,
  holds: 'layer',
  smooth: false,
  inkBits: 8,
  inkDpi: null,
  shading: false,
  closures: false,
  scene: null,
  area: 'file',
  notes: true,
};

/** What a job has before anyone says anything else. */
export const FIRST_DELIVERIES: readonly DeliveryRule[] = [
  { ...NEW_DELIVERY, id: 'colourist', name: 'Colourist', order: 0 },
  {
    ...NEW_DELIVERY,
    id: 'printer',
    name: 'Printer',
    order: 1,
    format: 'tif',
    colours: 'cmyk',
    layers: 'single',
    fileName: '{job}_{page}_print',
  },
  { ...NEW_DELIVERY, id: 'proof', name: 'Proof', order: 2, format: 'pdf', fileName: '{job}_{page}_proof' },
  { ...NEW_DELIVERY, id: 'archive', name: 'Archive', order: 3, format: 'folder', closures: true },
];

/** What a pattern of file names may say. */
export const FILE_WORDS = ['job', 'page', 'number', 'scene', 'colours', 'revision', 'date'] as const;
/** Those that tell pages apart. */
export const TELLING_FILE_WORDS = ['page', 'number'] as const;
/** What a pattern of layers' names may say: the part, character, colour or panel; its group; its place from the front. */
export const LAYER_WORDS = ['name', 'group', 'number'] as const;
export const TELLING_LAYER_WORDS = ['name', 'number'] as const;
