import FormControl from '@mui/material/FormControl';
import FormControlLabel from '@mui/material/FormControlLabel';
import FormLabel from '@mui/material/FormLabel';
import Radio from '@mui/material/Radio';
import RadioGroup from '@mui/material/RadioGroup';
import TextField from '@mui/material/TextField';
import { MAX_TRAP_DEPTH_PX } from '@jumble/core';
import { useState, type ReactNode } from 'react';
import { lengthText } from '../../../measures.ts';
import { useBench, useBenchState } from '../../state/benchContext.ts';
import { setTrap } from './setTrap.ts';

/** How far colour runs under the ink. */
export function TrapField(): ReactNode {
  const bench = useBench();
  const trap = useBenchState((state) => state.document?.trap ?? null);
  const lineWidth = useBenchState((state) => state.survey?.lineWidthPx.median ?? 0);
  const dpi = useBenchState((state) => state.page?.dpi ?? null);
  const offered = trap?.rule === 'depth' ? trap.depthPx : Math.max(1, Math.round(lineWidth / 3));
  const [typed, setTyped] = useState<string | null>(null);
  if (trap === null) return null;
  const depth = Number(typed ?? offered);
  const good = Number.isInteger(depth) && depth >= 1 && depth <= MAX_TRAP_DEPTH_PX;
  const commit = (): void => {
    setTyped(null);
    if (good && trap.rule === 'depth' && depth !== trap.depthPx) setTrap(bench, { rule: 'depth', depthPx: depth });
  };
  return (
    <FormControl>
      <FormLabel sx={{ fontSize: 13, fontWeight: 600 }}>Trap</FormLabel>
      <RadioGroup
        value={trap.rule}
        onChange={(event) =>
          setTrap(bench, event.target.value === 'middle' ? { rule: 'middle' } : { rule: 'depth', depthPx: offered })
        }
      >
        <FormControlLabel
          value="middle"
          label="To the middle of the line"
          control={<Radio size="small" sx={{ py: 0.25 }} />}
          slotProps={{ typography: { variant: 'body2' } }}
        />
        <FormControlLabel
          value="depth"
          label="A number of px"
          control={<Radio size="small" sx={{ py: 0.25 }} />}
          slotProps={{ typography: { variant: 'body2' } }}
        />
      </RadioGroup>
      {trap.rule === 'depth' && (
        <TextField
          sx={{ mt: 1 }}
          label="Depth in px"
          value={typed ?? String(offered)}
          onChange={(event) => setTyped(event.target.value)}
          onBlur={commit}
          onKeyDown={(event) => event.key === 'Enter' && commit()}
          error={!good}
          helperText={
            good
              ? `${lengthText(depth, dpi)}; never past the middle of a line of ${lengthText(lineWidth, dpi)}`
              : `A whole number from 1 to ${MAX_TRAP_DEPTH_PX}.`
          }
          slotProps={{ htmlInput: { inputMode: 'numeric' } }}
        />
      )}
    </FormControl>
  );
}
