import { colourOfPart, editCastScene, editColour, editScene, type CastSheet } from '@jumble/core';
import Box from '@mui/material/Box';
import Slider from '@mui/material/Slider';
import Typography from '@mui/material/Typography';
import { useState, type ReactNode } from 'react';
import { NameDialog } from '../../notices/NameDialog.tsx';
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
  const [shift, setShift] = useState(NO_SHIFT);
  const parts = cast.parts.filter((part) => !part.empty);
  const real = { ...cast, palette: 'scene' as const };
  const shifted = (partId: string): string => shiftColour(colourOfPart(real, partId, from), shift);
  const save = (name: string): void => {
    const id = newId();
    const order = Math.max(-1, ...cast.scenes.map((scene) => scene.order)) + 1;
    bench.changeCast(`Add the scene ${name}`, [
      editCastScene({ id, name, order }),
      ...parts.map((part) => editColour(id, part.id, shifted(part.id))),
    ]);
    bench.push({ label: `Show the page in ${name}`, edits: [editScene(id)] });
  };
  return (
    <NameDialog
      title={`New scene from ${cast.scenes.find((scene) => scene.id === from)?.name ?? ''}`}
      name=""
      action="Add the scene"
      taken={cast.scenes.map((scene) => scene.name)}
      hint="Night, memory, neon …"
      onClose={onClose}
      onName={save}
    >
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
    </NameDialog>
  );
}
