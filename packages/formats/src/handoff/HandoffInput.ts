import type {
  Corrections,
  HoldPaint,
  LayerSplit,
  LinePieces,
  OutputGrid,
  PlannedGroup,
  RegionTrap,
  Survey,
  TrapInk,
} from '@jumble/core';
import type { EncodeRgba } from '../png/encodeFlatsPng.ts';

/** A page and how it is handed off. */
export interface HandoffInput {
  readonly survey: Survey;
  /** Part of each region, null for none. */
  readonly partOfRegion: readonly (string | null)[];
  /** Place of each region's scene among those the parts have colours for. @default all in the first */
  readonly sceneOfRegion?: Int32Array;
  readonly groups: readonly PlannedGroup[];
  /** What was painted over the regions. @default nothing */
  readonly corrections?: Corrections;
  readonly trap: RegionTrap;
  readonly trapInk: TrapInk;
  /** How far layers run under those in front of them, in px of the page as it was worked on. */
  readonly underlapPx: number;
  /** Colours of the lines. @default all black */
  readonly holds?: { readonly pieces: LinePieces; readonly paint: HoldPaint };
  /** Whether the colours of lines are a layer of their own, or the line art is coloured. @default 'layer' */
  readonly lines?: 'layer' | 'coloured';
  readonly split: LayerSplit;
  /** Layers in front first, or by their names. @default 'stack' */
  readonly layerOrder?: 'stack' | 'name';
  /** Pattern of the layers' names. @default '{name}' */
  readonly layerName?: string;
  /** Panel of each region in reading order, -1 for none: what layers by panel go by. @default all in none */
  readonly panelOfRegion?: Int32Array;
  /** Of the file the page came from. */
  readonly dpi: number | null;
  /** The printed ink at twice the size the page was worked on: flats are scaled back to it. @default as worked on */
  readonly full?: Pick<Survey, 'width' | 'height' | 'inkAlpha'>;
  /** Box that goes out, in px of the file. @default all of it */
  readonly box?: OutputGrid['box'];
  /** Resolution that is asked for; nothing is scaled where the file states none. @default the file's */
  readonly outDpi?: number;
  /** Line art of 1 bit is black or nothing. @default 8 */
  readonly inkBits?: 8 | 1;
  /** Resolution of a line art of 1 bit. @default the file's */
  readonly inkDpi?: number;
  /** A white layer to shade on. @default false */
  readonly shading?: boolean;
  /** Closures as a hidden layer. @default false */
  readonly closures?: boolean;
  /** True when the colours are scratch colours; the layers' names say so. */
  readonly scratch: boolean;
}

export interface HandoffPorts {
  readonly encodeRgba: EncodeRgba;
  /** Called with 0..1 as pictures are finished; may throw to stop. */
  readonly onProgress?: (share: number) => void;
}
