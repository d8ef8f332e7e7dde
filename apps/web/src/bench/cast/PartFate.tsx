import { dropPart, mergeParts, type CastSheet } from '@jumble/core';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState, type ReactNode } from 'react';
import { counted } from '../../measures.ts';
import { AskOnce } from '../../notices/AskOnce.tsx';
import { choosePart } from '../page/parts.ts';
import { useBench, useBenchState } from '../state/benchContext.ts';
import type { PartDraft } from './castEdits.ts';

interface PartFateProps {
  /** As it is stored. */
  readonly draft: PartDraft;
  readonly cast: CastSheet;
  readonly onClose: () => void;
}

/** Merges a part into another, or deletes it, after a question. */
export function PartFate({ draft, cast, onClose }: PartFateProps): ReactNode {
  const bench = useBench();
  /** Regions on this page. */
  const count = useBenchState((state) => state.regionsOfPart.get(draft.id) ?? 0);
  const [asking, setAsking] = useState(false);
  const [mergeInto, setMergeInto] = useState<string | null>(null);
  const target = cast.parts.find((one) => one.id === mergeInto);
  return (
    <>
      <TextField
        select
        size="small"
        label="Merge into"
        value=""
        onChange={(event) => setMergeInto(event.target.value)}
        sx={{ width: 150 }}
      >
        {cast.parts
          .filter((one) => one.id !== draft.id)
          .map((one) => (
            <MenuItem key={one.id} value={one.id}>
              {cast.groups.find((group) => group.id === one.groupId)?.name}: {one.name}
            </MenuItem>
          ))}
      </TextField>
      <Button color="error" sx={{ mr: 'auto' }} onClick={() => setAsking(true)}>
        Delete the part
      </Button>
      <AskOnce
        open={asking}
        title={`Delete "${draft.name}"?`}
        text={`It goes from every page of the job with its colours. ${count === 0 ? 'No region of this page has it.' : `${counted(count, 'region')} of this page will have no part.`} Undo brings it back.`}
        action="Delete the part"
        onClose={() => setAsking(false)}
        onConfirm={() => {
          bench.changeCast(`Delete the part ${draft.name}`, dropPart(cast, draft.id));
          onClose();
        }}
      />
      <AskOnce
        open={mergeInto !== null}
        title={`Merge "${draft.name}" into "${target?.name ?? ''}"?`}
        text={`Every region of the job that has ${draft.name} becomes ${target?.name ?? ''}, on earlier pages too; its own colours go. Undo brings it back.`}
        action="Merge"
        onClose={() => setMergeInto(null)}
        onConfirm={() => {
          bench.changeCast(`Merge ${draft.name} into ${target?.name ?? ''}`, mergeParts(cast, draft.id, mergeInto!));
          choosePart(bench, mergeInto!);
          onClose();
        }}
      />
    </>
  );
}
