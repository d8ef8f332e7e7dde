import Box from '@mui/material/Box';
import FormControlLabel from '@mui/material/FormControlLabel';
import Slider from '@mui/material/Slider';
import Switch from '@mui/material/Switch';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import Typography from '@mui/material/Typography';
import { BOUNDS_FROM } from '@jumble/core';
import type { ReactNode } from 'react';
import { Key } from '../../Key.tsx';
import type { LoopTakes } from './flatsState.ts';
import { useBench, useBenchState } from '../../state/benchContext.ts';
import { setFlats } from './setFlats.ts';

/** What a loop takes. */
export function SurroundControls(): ReactNode {
  const bench = useBench();
  const { loopTakes, share, contourHold, onlyOpen } = useBenchState((state) => state.flats);
  return (
    <Box sx={{ px: 1.25, py: 0.75 }}>
      <ToggleButtonGroup
        exclusive
        fullWidth
        size="small"
        value={loopTakes}
        onChange={(_, next: LoopTakes | null) => next !== null && setFlats(bench, { loopTakes: next })}
        aria-label="What a loop takes"
        sx={{ '& .MuiToggleButton-root': { py: 0.25, textTransform: 'none', fontSize: 12 } }}
      >
        <ToggleButton value="shapes">Shapes</ToggleButton>
        <ToggleButton value="silhouette">Silhouette</ToggleButton>
      </ToggleButtonGroup>
      <Typography variant="caption" color="text.secondary" component="p" sx={{ my: 0.5 }}>
        {loopTakes === 'shapes'
          ? 'takes the regions it encloses; what is open to the outside stays out'
          : 'assigns all inside the outer contour to one part, to be carved after; gaps in the contour are closed'}{' '}
        (<Key>/</Key> goes on to the other)
      </Typography>
      {loopTakes === 'silhouette' && (
        <>
          <Typography variant="caption" component="p">
            Openings hold from a likelihood of <b>{Math.round(contourHold * 100)}%</b>
          </Typography>
          <Slider
            size="small"
            min={0}
            max={BOUNDS_FROM}
            step={0.02}
            value={contourHold}
            aria-label="Likelihood from which openings hold"
            onChange={(_, value) => setFlats(bench, { contourHold: value as number })}
            sx={{ py: 0.5 }}
          />
        </>
      )}
      <Typography variant="caption" component="p">
        Takes what lies inside the loop by at least <b>{Math.round(share * 100)}%</b>
      </Typography>
      <Slider
        size="small"
        min={0.5}
        max={1}
        step={0.05}
        value={share}
        aria-label="Share of a region inside the loop"
        onChange={(_, value) => setFlats(bench, { share: value as number })}
        sx={{ py: 0.5 }}
      />
      <FormControlLabel
        control={<Switch size="small" checked={onlyOpen} onChange={(_, on) => setFlats(bench, { onlyOpen: on })} />}
        label="Leave regions that have a part"
        slotProps={{ typography: { variant: 'caption' } }}
      />
      <Typography variant="caption" color="text.secondary" component="p">
        <Key>Shift</Key> + loop removes; <Key>Shift</Key> + click removes what was spread loosely there
      </Typography>
    </Box>
  );
}
