import type { DeliveryRule } from '@jumble/core';
import { ArrayMaxSize, ArrayMinSize, ArrayUnique, IsArray, IsString, Length } from 'class-validator';

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
