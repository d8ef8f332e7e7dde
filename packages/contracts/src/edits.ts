import { anyJson, checkRecord, fields, integer, isPlainText, list, textFrom, type RecordEdit } from '@jumble/core';
import { IsIn, IsString, Length } from 'class-validator';

/** A gesture: one step in the history. */
export interface AppendEdits {
  /** The revision the edits were made on. */
  readonly baseRevision: number;
  /** What was done, in words, for the history list. */
  readonly label: string;
  readonly edits: readonly RecordEdit[];
}

/** A step holds this many edits at most: a page has fewer regions. */
export const MAX_EDITS = 100_000;
const MAX_LABEL = 200;
const MAX_KEY = 200;

const appendEdits = fields({
  baseRevision: integer(0, Number.MAX_SAFE_INTEGER),
  label: textFrom(1, MAX_LABEL, isPlainText),
  edits: list(fields({ key: textFrom(1, MAX_KEY), value: anyJson }), 1, MAX_EDITS, 'edits'),
});

/**
 * Reads a gesture that came from outside.
 *
 * @throws TypeError or RangeError naming the field and the rule. What an edit says is checked by its document.
 */
export function readAppendEdits(body: unknown): AppendEdits {
  return checkRecord('body', appendEdits, body);
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
