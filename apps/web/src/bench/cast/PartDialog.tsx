import { editColour, editPart, markingsOn, type CastSheet, type RecordEdit } from '@jumble/core';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState, type ReactNode } from 'react';
import { choosePart } from '../page/parts.ts';
import { useBench } from '../state/benchContext.ts';
import type { PartDraft } from './castEdits.ts';
import { PartColour } from './PartColour.tsx';
import { PartFate } from './PartFate.tsx';
import { PartFields } from './PartFields.tsx';
import { PartPlaces } from './PartPlaces.tsx';
import { partProblems } from './partProblems.ts';
import { followColour } from './shiftColour.ts';

export interface PartDialogProps {
  readonly draft: PartDraft;
  readonly cast: CastSheet;
  readonly scene: string | null;
  readonly onClose: () => void;
}

/** Name, colour, key and group of a part. */
export function PartDialog({ draft, cast, scene, onClose }: PartDialogProps): ReactNode {
  const bench = useBench();
  const [part, setPart] = useState(draft);
  const sceneId = (cast.scenes.find((one) => one.id === scene) ?? cast.scenes[0])?.id ?? null;
  const problems = partProblems(part, cast);

  const save = (): void => {
    const { colour, isNew, notes, ...fields } = part;
    const name = part.name.trim();
    const said = notes?.trim() ?? '';
    const edits = [editPart({ ...fields, name, ...(said === '' ? {} : { notes: said }) })];
    if (!part.empty && sceneId !== null && (isNew || colour !== draft.colour || draft.empty))
      edits.push(editColour(sceneId, part.id, colour));
    if (!isNew && sceneId !== null && colour !== draft.colour)
      edits.push(...followingColours(cast, sceneId, part.id, draft.colour, colour));
    bench.changeCast(isNew ? `Add the part ${name}` : `Change the part ${name}`, edits);
    if (isNew) choosePart(bench, part.id);
    onClose();
  };
  return (
    <Dialog open onClose={onClose} maxWidth="sm">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (problems.any) return;
          save();
        }}
      >
        <DialogTitle>{draft.isNew ? 'New part' : `Change "${draft.name}"`}</DialogTitle>
        <DialogContent sx={{ display: 'flex', gap: 3 }}>
          <PartFields part={part} cast={cast} problems={problems} onChange={setPart} />
          <PartColour
            part={part}
            cast={cast}
            sceneId={sceneId}
            problem={problems.colour}
            onChange={(colour) => setPart({ ...part, colour })}
          />
        </DialogContent>
        {!draft.isNew && <PartPlaces part={draft} cast={cast} onClose={onClose} />}
        <DialogActions>
          {!draft.isNew && <PartFate draft={draft} cast={cast} onClose={onClose} />}
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={problems.any}>
            {draft.isNew ? 'Add the part' : 'Save'}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}

/** The colours of markings that follow that of the part they lie on, and of those on them. */
function followingColours(
  cast: CastSheet,
  sceneId: string,
  partId: string,
  before: string,
  after: string,
): RecordEdit[] {
  return markingsOn(cast, partId).flatMap((marking) => {
    const own = cast.colours.get(sceneId)?.get(marking.id);
    if (own === undefined) return [];
    const next = followColour(own, before, after);
    return [editColour(sceneId, marking.id, next), ...followingColours(cast, sceneId, marking.id, own, next)];
  });
}
