import Box from '@mui/material/Box';
import FormControlLabel from '@mui/material/FormControlLabel';
import Slider from '@mui/material/Slider';
import Switch from '@mui/material/Switch';
import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';
import { Key } from '../Key.tsx';
import { useBench, useBenchState } from '../state/benchContext.ts';

/** What a loop takes. */
export function SurroundControls(): ReactNode {
  const bench = useBench();
  const { share, onlyOpen } = useBenchState((state) => state.flats);
  return (
    <Box sx={{ px: 1.25, py: 0.75 }}>
      <Typography variant="caption" component="p">
        Takes regions with at least <b>{Math.round(share * 100)}%</b> inside the loop
      </Typography>
      <Slider
        size="small"
        min={0.5}
        max={1}
        step={0.05}
        value={share}
        aria-label="Share of a region inside the loop"
        onChange={(_, value) => bench.showFlats({ share: value as number })}
        sx={{ py: 0.5 }}
      />
      <FormControlLabel
        control={<Switch size="small" checked={onlyOpen} onChange={(_, on) => bench.showFlats({ onlyOpen: on })} />}
        label="Leave regions that have a part"
        slotProps={{ typography: { variant: 'caption' } }}
      />
      <Typography variant="caption" color="text.secondary" component="p">
        <Key>Shift</Key> + loop takes away; <Key>Shift</Key> + click takes away what was spread loosely there
      </Typography>
    </Box>
  );
}
