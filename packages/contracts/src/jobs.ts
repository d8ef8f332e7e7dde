import {
  ArrayMaxSize,
  ArrayUnique,
  IsArray,
  IsISO8601,
  IsInt,
  IsOptional,
  IsString,
  Length,
  Matches,
  Max,
  Min,
  ValidateIf,
} from 'class-validator';

const NAME = /\S/;

export class CreateJobDto {
  @IsString()
  @Length(1, 120)
  @Matches(NAME, { message: 'name must not be blank' })
  name: string;

  /** Day the flats are due, `YYYY-MM-DD`, or null. */
  @IsOptional()
  @ValidateIf((job: CreateJobDto) => job.dueOn !== null)
  @IsISO8601({ strict: true })
  @Length(10, 10)
  dueOn?: string | null;
}

export class UpdateJobDto {
  @IsOptional()
  @IsString()
  @Length(1, 120)
  @Matches(NAME, { message: 'name must not be blank' })
  name?: string;

  @IsOptional()
  @ValidateIf((job: UpdateJobDto) => job.dueOn !== null)
  @IsISO8601({ strict: true })
  @Length(10, 10)
  dueOn?: string | null;
}

export class OrderPagesDto {
  @IsArray()
  @ArrayMaxSize(2000)
  @ArrayUnique()
  @IsString({ each: true })
  pageIds: string[];
}

export class UpdatePageDto {
  @IsOptional()
  @IsString()
  @Length(1, 120)
  @Matches(NAME, { message: 'name must not be blank' })
  name?: string;

  @IsOptional()
  @IsInt()
  @Min(36)
  @Max(4800)
  dpi?: number;
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
  readonly pages: readonly PageView[];
}
