import { HANDOFF_CONTAINERS, LAYER_SPLITS, type HandoffContainer, type LayerSplit, type TrapRule } from '@jumble/core';
import { IsIn, IsOptional } from 'class-validator';

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
