import { MAX_DPI, MIN_DPI } from '@jumble/core';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayUnique,
  IsArray,
  IsISO8601,
  IsInt,
  IsNumber,
  IsObject,
  IsString,
  Length,
  Max,
  Min,
  ValidateIf,
  ValidateNested,
} from 'class-validator';
import { IfGiven, IsName } from './texts.ts';

export class CreateJobDto {
  @IsName()
  name: string;

  /** Day the flats are due, `YYYY-MM-DD`, or null. */
  @IfGiven()
  @ValidateIf((job: CreateJobDto) => job.dueOn !== null)
  @IsISO8601({ strict: true })
  @Length(10, 10)
  dueOn?: string | null;
}

/** What is left of a page when it is cut, in mm; it lies in the middle of the file. */
export class TrimDto {
  @IsNumber()
  @Min(20)
  @Max(2000)
  widthMm: number;

  @IsNumber()
  @Min(20)
  @Max(2000)
  heightMm: number;

  /** Drawing that goes on beyond the cut, on every side. */
  @IsNumber()
  @Min(0)
  @Max(50)
  bleedMm: number;
}

export class UpdateJobDto {
  @IfGiven()
  @IsName()
  name?: string;

  @IfGiven()
  @ValidateIf((job: UpdateJobDto) => job.dueOn !== null)
  @IsISO8601({ strict: true })
  @Length(10, 10)
  dueOn?: string | null;

  /** Size of the trimmed page, or null where nobody said. */
  @IfGiven()
  @ValidateIf((job: UpdateJobDto) => job.trim !== null)
  @IsObject()
  @ValidateNested()
  @Type(() => TrimDto)
  trim?: TrimDto | null;
}

export class OrderPagesDto {
  @IsArray()
  @ArrayMaxSize(2000)
  @ArrayUnique()
  @IsString({ each: true })
  pageIds: string[];
}

export class UpdatePageDto {
  @IfGiven()
  @IsName()
  name?: string;

  @IfGiven()
  @IsInt()
  @Min(MIN_DPI)
  @Max(MAX_DPI)
  dpi?: number;
}

/** A further ink file of a page. */
export interface InkFileView {
  readonly id: string;
  readonly fileName: string;
  readonly format: string;
  readonly mode: string;
  readonly greyHash: string;
}

export interface PageView {
  readonly id: string;
  readonly jobId: string;
  readonly name: string;
  readonly position: number;
  readonly width: number;
  readonly height: number;
  /** Null until the file or the flatter says it. */
  readonly dpi: number | null;
  readonly fileName: string;
  readonly format: string;
  readonly mode: string;
  readonly bitsPerChannel: number;
  /** Content hash of the grey raster: changes with a revised file. */
  readonly greyHash: string;
  /** Raster of the file before the last revision, while its changes are not settled. */
  readonly previousGreyHash: string | null;
  readonly inks: readonly InkFileView[];
  /** Gaps that were found in the page, and the sign of the reading they belong to. */
  readonly cuts: { readonly hash: string; readonly cacheKey: string } | null;
  /** Size of the file where the page is worked on at half of it; null where it is not. */
  readonly full: { readonly width: number; readonly height: number } | null;
  readonly regionCount: number;
  readonly filledCount: number;
  readonly revision: number;
  readonly thumbnailHash: string | null;
}

export interface JobView {
  readonly id: string;
  readonly name: string;
  readonly dueOn: string | null;
  readonly createdAt: string;
  readonly trim: TrimDto | null;
  readonly pages: readonly PageView[];
}
