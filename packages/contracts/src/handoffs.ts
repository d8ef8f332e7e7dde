import { LAYER_SPLITS, type LayerSplit, type TrapRule } from '@jumble/core';
import { IsIn, IsOptional } from 'class-validator';

/**
 * What is built: everything in layers as OpenRaster or TIFF, the flats alone as PNG or SVG, a proof as PDF; TIFF and PDF in
 * colours for print as well.
 */
export const HANDOFF_CONTAINERS = ['ora', 'tif', 'tif-cmyk', 'png', 'svg', 'pdf', 'pdf-cmyk'] as const;
export type HandoffContainer = (typeof HANDOFF_CONTAINERS)[number];

/** Whether a file has layers to choose. */
export const hasLayers = (container: HandoffContainer): boolean =>
  container === 'ora' || container === 'tif' || container === 'tif-cmyk';

export class CreateHandoffDto {
  @IsIn(LAYER_SPLITS)
  split: LayerSplit;

  @IsIn(HANDOFF_CONTAINERS)
  container: HandoffContainer;

  /** Whether colours of lines are a layer of their own, or the line art is coloured. @default layer */
  @IsOptional()
  @IsIn(['layer', 'coloured'])
  lines?: 'layer' | 'coloured';
}

export interface HandoffView {
  readonly id: string;
  readonly pageId: string;
  readonly split: LayerSplit;
  readonly container: HandoffContainer;
  readonly trap: TrapRule;
  readonly palette: 'scene' | 'scratch';
  readonly pageRevision: number;
  readonly state: 'building' | 'ready' | 'failed' | 'cancelled';
  /** 0..1 while it is built. */
  readonly progress: number;
  /** What happened and what to do, when it failed. */
  readonly problem: string | null;
  readonly fileName: string;
  readonly sizeBytes: number | null;
  readonly createdAt: string;
}
