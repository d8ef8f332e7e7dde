import { fieldsOf, isPlainText, type Json, type RecordEdit } from '@jumble/core';
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

/**
 * Reads a gesture that came from outside. It is checked by hand, its count first: a validator that makes an
 * object for each edit holds up the server for seconds.
 *
 * @throws TypeError or RangeError naming the field and the rule. What an edit says is checked by its document.
 */
export function readAppendEdits(body: unknown): AppendEdits {
  const { baseRevision, label, edits } = fieldsOf('body', body, ['baseRevision', 'label', 'edits']);
  if (typeof baseRevision !== 'number' || !Number.isSafeInteger(baseRevision) || baseRevision < 0)
    throw new RangeError('`baseRevision` must be an integer of at least 0');
  if (typeof label !== 'string' || label.length < 1 || label.length > MAX_LABEL || !isPlainText(label))
    throw new RangeError(`\`label\` must have 1 to ${MAX_LABEL} characters, control characters not among them`);
  if (!Array.isArray(edits)) throw new TypeError('`edits` must be a list');
  if (edits.length < 1 || edits.length > MAX_EDITS)
    throw new RangeError(`\`edits\` must hold 1 to ${MAX_EDITS} edits; received ${edits.length}`);
  return { baseRevision, label, edits: edits.map(readEdit) };
}

function readEdit(edit: unknown, place: number): RecordEdit {
  const { key, value } = fieldsOf(`edits[${place}]`, edit, ['key', 'value']);
  if (typeof key !== 'string' || key.length < 1 || key.length > MAX_KEY)
    throw new RangeError(`\`edits[${place}].key\` must have 1 to ${MAX_KEY} characters`);
  if (value === undefined)
    throw new TypeError(`\`edits[${place}].value\` must be a value, or null to take the key away`);
  return { key, value: value as Json };
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
