import { colourOfPart, editCastScene, editColour, editScene, type CastSheet } from '@jumble/core';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Slider from '@mui/material/Slider';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState, type ReactNode } from 'react';
import { useBench } from '../state/benchContext.ts';
import { newId } from './castEdits.ts';
import { NO_SHIFT, shiftColour, type SceneShift } from './shiftColour.ts';

const SHIFTS: readonly (readonly [keyof SceneShift, string])[] = [
  ['lightness', 'Lighter or darker'],
  ['warmth', 'Warmer or colder'],
  ['saturation', 'Fuller or greyer'],
];

export interface SceneDialogProps {
  readonly cast: CastSheet;
  /** Scene it is copied from. */
  readonly from: string;
  readonly onClose: () => void;
}

/** A new scene: another one's colours in another light. The page shows it at once. */
export function SceneDialog({ cast, from, onClose }: SceneDialogProps): ReactNode {
  const bench = useBench();
  const [name, setName] = useState('');
  const [shift, setShift] = useState(NO_SHIFT);
  const twin = cast.scenes.some((scene) => scene.name.toLowerCase() === name.trim().toLowerCase());
  const parts = cast.parts.filter((part) => !part.empty);
  const real = { ...cast, palette: 'scene' as const };
  const shifted = (partId: string): string => shiftColour(colourOfPart(real, partId, from), shift);
  const save = (): void => {
    const id = newId();
    const order = Math.max(-1, ...cast.scenes.map((scene) => scene.order)) + 1;
    bench.changeCast(`Add the scene ${name.trim()}`, [
      editCastScene({ id, name: name.trim(), order }),
      ...parts.map((part) => editColour(id, part.id, shifted(part.id))),
    ]);
    bench.push({ label: `Show the page in ${name.trim()}`, edits: [editScene(id)] });
    onClose();
  };
  return (
    <Dialog open onClose={onClose} maxWidth="xs" fullWidth>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (name.trim() !== '' && !twin) save();
        }}
      >
        <DialogTitle>New scene from {cast.scenes.find((scene) => scene.id === from)?.name}</DialogTitle>
        <DialogContent>
          <TextField
            autoFocus
            fullWidth
            margin="dense"
            label="Name"
            value={name}
            onChange={(event) => setName(event.target.value)}
            error={twin}
            helperText={twin ? 'There is one of this name already.' : 'Night, memory, neon …'}
            slotProps={{ htmlInput: { maxLength: 80 } }}
          />
          {SHIFTS.map(([key, words]) => (
            <Box key={key} sx={{ display: 'flex', alignItems: 'center', gap: 2 }}>
              <Typography variant="caption" sx={{ width: 110, flexShrink: 0 }}>
                {words}
              </Typography>
              <Slider
                size="small"
                min={-100}
                max={100}
                value={shift[key]}
                aria-label={words}
                valueLabelDisplay="auto"
                onChange={(_, value) => setShift({ ...shift, [key]: value as number })}
              />
            </Box>
          ))}
          <Box sx={{ display: 'flex', flexWrap: 'wrap', mt: 1.5 }} aria-hidden>
            {parts.slice(0, 60).map((part) => (
              <Box key={part.id} title={part.name} sx={{ width: 26, height: 30, mr: '2px', mb: '2px' }}>
                <Box sx={{ height: 12, bgcolor: colourOfPart(real, part.id, from) }} />
                <Box sx={{ height: 18, bgcolor: shifted(part.id) }} />
              </Box>
            ))}
          </Box>
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={name.trim() === '' || twin}>
            Add the scene
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
