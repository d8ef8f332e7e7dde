import type { RecordEdit } from '@jumble/core';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsIn,
  IsInt,
  IsString,
  Length,
  Min,
  ValidateNested,
  IsDefined,
  ValidateIf,
} from 'class-validator';

/** One edit of a document: a value under a key, or null to take the key away. */
export class RecordEditDto {
  @IsString()
  @Length(1, 200)
  key: string;

  @ValidateIf((edit: RecordEditDto) => edit.value !== null)
  @IsDefined()
  value: RecordEdit['value'];
}

/** A gesture: one step in the history. */
export class AppendEditsDto {
  /** The revision the edits were made on. */
  @IsInt()
  @Min(0)
  baseRevision: number;

  /** What was done, in words, for the history list. */
  @IsString()
  @Length(1, 200)
  label: string;

  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(200_000)
  @ValidateNested({ each: true })
  @Type(() => RecordEditDto)
  edits: RecordEditDto[];
}

export class StepBackDto {
  @IsIn(['undo', 'redo'])
  direction: 'undo' | 'redo';
}

export type StepScope = 'page' | 'cast';

/** A step of the log as the client needs it. */
export interface StepView {
  readonly seq: number;
  readonly scope: StepScope;
  readonly revision: number;
  readonly kind: 'do' | 'undo' | 'redo';
  readonly of: number | null;
  readonly label: string;
  readonly edits: readonly RecordEdit[];
  readonly at: string;
}

/** A cast file: CSV or design tokens. */
export class ImportCastDto {
  @IsString()
  @Length(1, 4_000_000)
  text: string;
}

/** Where a part is used. */
export interface PartUsageView {
  readonly partId: string;
  readonly pages: readonly { readonly pageId: string; readonly name: string; readonly places: number }[];
}

/** A picture beside the cast sheet; `/api/references/:id/picture` is a PNG of this size in px. */
export interface ReferencePictureView {
  readonly id: string;
  readonly name: string;
  readonly width: number;
  readonly height: number;
}

/** The answer to an accepted edit. */
export interface AppendedView {
  readonly step: StepView;
}

/** A document as it stands. */
export interface DocumentView {
  readonly revision: number;
  readonly records: readonly (readonly [string, RecordEdit['value']])[];
}
