import Box from '@mui/material/Box';
import Slider from '@mui/material/Slider';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import Typography from '@mui/material/Typography';
import { MOST_PEN_PX } from '@jumble/core';
import type { ReactNode } from 'react';
import { Key } from '../../Key.tsx';
import { counted, lengthText } from '../../../measures.ts';
import type { PenNib } from './flatsState.ts';
import { useBench, useBenchState } from '../../state/benchContext.ts';
import { setNib, setPenSize } from './pen.ts';

const NIBS: readonly { readonly nib: PenNib; readonly name: string; readonly words: string }[] = [
  { nib: 'inside', name: 'Inside', words: 'paints only in the region where the stroke began' },
  { nib: 'pixel', name: 'Any pixel', words: 'hard and opaque, over whatever lies there' },
  { nib: 'cut', name: 'Cut, join', words: 'parts a region where no line was drawn' },
];
/** Sizes grow by steps that look alike. */
const CURVE = 3;

/** What the pen paints like. */
export function PenControls(): ReactNode {
  const bench = useBench();
  const { nib, sizePx } = useBenchState((state) => state.flats.pen);
  const dpi = useBenchState((state) => state.page?.dpi ?? null);
  const squares = useBenchState((state) => state.document?.tiles.size ?? 0);
  return (
    <Box sx={{ px: 1.25, py: 0.75, display: 'grid', gap: 0.5 }}>
      <ToggleButtonGroup
        exclusive
        size="small"
        value={nib}
        onChange={(_, next: PenNib | null) => next !== null && setNib(bench, next)}
        aria-label="What the pen does"
        sx={{ '& .MuiToggleButton-root': { flex: 1, py: 0.25, textTransform: 'none', fontSize: 12 } }}
      >
        {NIBS.map((one) => (
          <ToggleButton key={one.nib} value={one.nib}>
            {one.name}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      <Typography variant="caption" color="text.secondary" component="p">
        {NIBS.find((one) => one.nib === nib)!.words} (<Key>/</Key> goes on to the next)
      </Typography>
      {nib === 'cut' ? (
        <Typography variant="caption" component="p">
          Drag across a region to cut it; <Key>Shift</Key> + drag from one region into the other joins two that no line
          parts.
        </Typography>
      ) : (
        <>
          <Typography variant="caption" component="p">
            <b>{lengthText(sizePx, dpi)}</b> wide (<Key>&lt;</Key> <Key>&gt;</Key>)
          </Typography>
          <Slider
            size="small"
            min={0}
            max={1}
            step={0.01}
            value={((sizePx - 1) / (MOST_PEN_PX - 1)) ** (1 / CURVE)}
            aria-label="Size of the pen"
            aria-valuetext={`${sizePx} px`}
            onChange={(_, value) => setPenSize(bench, 1 + (MOST_PEN_PX - 1) * (value as number) ** CURVE)}
            sx={{ py: 0.5 }}
          />
          <Typography variant="caption" color="text.secondary" component="p">
            <Key>Shift</Key> + drag wipes out; <Key>Ctrl</Key> + click takes up a part.
            {squares > 0 && ` Painted on ${counted(squares, 'square')} of the page.`}
          </Typography>
        </>
      )}
    </Box>
  );
}
