import { dropPart, editColour, editPart, type CastPart, type CastSheet } from '@jumble/core';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import FormControlLabel from '@mui/material/FormControlLabel';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState, type ReactNode } from 'react';
import { HexColorPicker } from 'react-colorful';
import { AskOnce } from '../../notices/AskOnce.tsx';
import { useBench } from '../state/benchContext.ts';
import { RESERVED_KEYS } from '../tools/keys.ts';

/** A part as it is being changed. */
export interface PartDraft extends CastPart {
  readonly colour: string;
  readonly isNew: boolean;
}

export interface PartDialogProps {
  readonly draft: PartDraft;
  readonly cast: CastSheet;
  readonly scene: string | null;
  /** Regions on this page. */
  readonly count: number;
  readonly onClose: () => void;
}

/** Name, colour, key and group of a part. */
export function PartDialog({ draft, cast, scene, count, onClose }: PartDialogProps): ReactNode {
  const bench = useBench();
  const [part, setPart] = useState(draft);
  const [asking, setAsking] = useState(false);
  const sceneId = scene ?? cast.scenes[0]?.id ?? null;
  const sceneName = cast.scenes.find((one) => one.id === sceneId)?.name ?? '';
  const problems = problemsOf(part, cast);
  const change = (fields: Partial<PartDraft>): void => setPart({ ...part, ...fields });

  const save = (): void => {
    const { colour, isNew, ...fields } = part;
    const name = part.name.trim();
    const edits = [editPart({ ...fields, name })];
    if (!part.empty && sceneId !== null && (isNew || colour !== draft.colour || draft.empty))
      edits.push(editColour(sceneId, part.id, colour));
    bench.changeCast(isNew ? `Add the part ${name}` : `Change the part ${name}`, edits);
    if (isNew) bench.choosePart(part.id);
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
          <Box sx={{ display: 'grid', gap: 2, alignContent: 'start', pt: 1, width: 230 }}>
            <TextField
              autoFocus
              label="Name"
              value={part.name}
              onChange={(event) => change({ name: event.target.value })}
              error={problems.name !== null}
              helperText={problems.name ?? ' '}
              slotProps={{ htmlInput: { maxLength: 80 } }}
            />
            <TextField
              select
              label="Belongs to"
              value={part.groupId}
              onChange={(event) => change({ groupId: event.target.value })}
            >
              {cast.groups.map((group) => (
                <MenuItem key={group.id} value={group.id}>
                  {group.name}
                </MenuItem>
              ))}
            </TextField>
            <TextField
              label="Key"
              value={part.slot ?? ''}
              onChange={(event) => change({ slot: event.target.value.slice(-1).toLowerCase() || null })}
              error={problems.slot !== null}
              helperText={problems.slot ?? 'One letter or digit that chooses it'}
            />
            <FormControlLabel
              control={<Checkbox checked={part.empty} onChange={(event) => change({ empty: event.target.checked })} />}
              label="Leave empty: decided, but prints nothing"
            />
          </Box>
          <Box
            sx={{
              visibility: part.empty ? 'hidden' : 'visible',
              display: 'grid',
              gap: 1.5,
              alignContent: 'start',
              pt: 1,
            }}
          >
            <HexColorPicker
              color={part.colour}
              onChange={(colour) => change({ colour })}
              style={{ width: 210, height: 160 }}
            />
            <TextField
              label={`Colour (${sceneName})`}
              value={part.colour}
              onChange={(event) => change({ colour: event.target.value.trim().toLowerCase() })}
              error={problems.colour !== null}
              helperText={problems.colour ?? ' '}
            />
            <Box
              sx={{
                height: 28,
                bgcolor: problems.colour === null ? part.colour : 'transparent',
                border: '1px solid rgba(0,0,0,0.35)',
              }}
            />
          </Box>
        </DialogContent>
        <DialogActions>
          {!draft.isNew && (
            <Button color="error" sx={{ mr: 'auto' }} onClick={() => setAsking(true)}>
              Delete the part
            </Button>
          )}
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={problems.any}>
            {draft.isNew ? 'Add the part' : 'Change it'}
          </Button>
        </DialogActions>
      </form>
      <AskOnce
        open={asking}
        title={`Delete "${draft.name}"?`}
        text={`It goes from every page of the job with its colours. ${count === 0 ? 'No region of this page has it.' : `${count === 1 ? '1 region' : `${count} regions`} of this page will have no part.`} Undo brings it back.`}
        action="Delete the part"
        onClose={() => setAsking(false)}
        onConfirm={() => {
          bench.changeCast(`Delete the part ${draft.name}`, dropPart(cast, draft.id));
          onClose();
        }}
      />
    </Dialog>
  );
}

function problemsOf(
  part: PartDraft,
  cast: CastSheet,
): { name: string | null; slot: string | null; colour: string | null; any: boolean } {
  const others = cast.parts.filter((one) => one.id !== part.id);
  const twin = others.some(
    (one) => one.groupId === part.groupId && one.name.toLowerCase() === part.name.trim().toLowerCase(),
  );
  const name = twin ? 'There is one of this name already.' : null;
  const holder = part.slot === null ? undefined : others.find((one) => one.slot === part.slot);
  const slot =
    part.slot === null
      ? null
      : !/^[a-z0-9]$/.test(part.slot)
        ? 'Only letters and digits.'
        : RESERVED_KEYS.has(part.slot)
          ? 'This key has a meaning on the bench.'
          : holder === undefined
            ? null
            : `${holder.name} has this key.`;
  const colour = part.empty || /^#[0-9a-f]{6}$/.test(part.colour) ? null : 'A colour like #a0b1c2.';
  return { name, slot, colour, any: part.name.trim() === '' || name !== null || slot !== null || colour !== null };
}
