import type { DeliveryRule, Finding } from '@jumble/core';
import { ArrayMaxSize, ArrayMinSize, ArrayUnique, IsArray, IsIn, IsString, Length } from 'class-validator';
import { IfGiven } from './texts.ts';

/** Pages of a job that are handed off together. */
export class CreatePackageDto {
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(500)
  @ArrayUnique()
  @IsString({ each: true })
  pageIds: string[];

  /** Id of the delivery rule of the job. */
  @IsString()
  @Length(1, 64)
  deliveryId: string;
}

/** What is asked of flats from elsewhere. */
export class ForeignQueryDto {
  /** Whether the colours of the job's cast alone may occur. */
  @IfGiven()
  @IsIn(['job'])
  cast?: 'job';

  @IfGiven()
  @IsIn(['rgb', 'cmyk'])
  mode?: 'rgb' | 'cmyk';
}

/** The file of one page. */
export interface HandoffView {
  readonly id: string;
  readonly pageId: string;
  readonly pageRevision: number;
  readonly state: 'waiting' | 'building' | 'ready' | 'failed' | 'cancelled';
  /** What happened and what to do, when it failed. */
  readonly problem: string | null;
  readonly fileName: string;
  readonly sizeBytes: number | null;
  readonly sha256: string | null;
  /** What was read again and compared with the page; null before, and for what was built before that was done. */
  readonly readBack: { readonly pictures: number; readonly pixels: number } | null;
}

/** What was handed off together, by which rule. */
export interface PackageView {
  readonly id: string;
  readonly jobId: string;
  readonly jobName: string;
  readonly rule: DeliveryRule;
  readonly palette: 'scene' | 'scratch';
  readonly state: 'packing' | 'ready' | 'failed' | 'cancelled';
  /** 0..1 while it is packed. */
  readonly progress: number;
  readonly problem: string | null;
  readonly createdAt: string;
  /** Of the archive of all files; null until it is there. */
  readonly fileName: string;
  readonly sizeBytes: number | null;
  readonly sha256: string | null;
  readonly files: readonly HandoffView[];
}

/** An ICC profile of a job. */
export interface ProfileView {
  readonly id: string;
  readonly name: string;
}

/** What became of flats that went out, by part and scene of the cast sheet. */
export interface ReturnedReport {
  readonly recoloured: readonly {
    readonly partId: string;
    /** Null is the job's first. */
    readonly sceneId: string | null;
    /** `#rrggbb` */
    readonly from: string;
    readonly to: string;
    readonly areaPx: number;
  }[];
  /** Places that have another part now, the largest first; null for none. Not all, where there are very many. */
  readonly moved: readonly {
    readonly x: number;
    readonly y: number;
    readonly width: number;
    readonly height: number;
    readonly areaPx: number;
    readonly from: string | null;
    readonly to: string | null;
  }[];
  readonly movedCount: number;
  readonly movedPx: number;
  /** Layers that were not sent. */
  readonly ownLayers: readonly string[];
  /** Layers that did not come back. */
  readonly removedLayers: readonly string[];
  /** Pixels in colours that no part has. */
  readonly unknownPx: number;
}

/** A file that came back for a page; it is kept as it is. */
export interface ReturnedView {
  readonly id: string;
  readonly pageId: string;
  readonly fileName: string;
  readonly sizeBytes: number;
  readonly createdAt: string;
  readonly report: ReturnedReport;
}

/** Flats from elsewhere with their line art, checked without being taken over. */
export interface ForeignCheckView {
  readonly id: string;
  readonly inkName: string;
  readonly flatsName: string;
  readonly width: number;
  readonly height: number;
  readonly regionCount: number;
  /** Colours of the flats, those with most pixels first. */
  readonly colours: readonly { readonly colour: string; readonly areaPx: number }[];
  readonly findings: readonly Finding[];
}
