import { MOST_PEN_PX } from '@jumble/core';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';
import { counted, lengthText } from '../../../measures.ts';
import { tones } from '../../../theme.ts';
import { Key } from '../../Key.tsx';
import { NumberField } from '../../NumberField.tsx';
import { useBench, useBenchState } from '../../state/benchContext.ts';
import { removeStrokes, setBrush } from './brush.ts';

/** The hard brush that touches lines up by hand, over whatever rules say. */
export function BrushControls(): ReactNode {
  const bench = useBench();
  const { on, colour, sizePx } = useBenchState((state) => state.holdBrush);
  const dpi = useBenchState((state) => state.page?.dpi ?? null);
  const strokes = useBenchState((state) => state.document?.lineStrokes.size ?? 0);
  return (
    <Box component="section" aria-label="Brush" sx={{ px: 1.25, py: 0.75, borderBottom: `1px solid ${tones.line}` }}>
      <label style={{ fontSize: 12.5, display: 'flex', gap: 6, alignItems: 'center' }}>
        <input type="checkbox" checked={on} onChange={(event) => setBrush(bench, { on: event.target.checked })} />
        Touch up by brush (t)
      </label>
      {on && (
        <>
          <label style={{ display: 'flex', alignItems: 'center', gap: 8, fontSize: 13, marginTop: 6 }}>
            <input
              type="color"
              aria-label="Colour of the brush"
              value={colour}
              onChange={(event) => setBrush(bench, { colour: event.target.value })}
            />
            {colour}
          </label>
          <NumberField
            label={`Size: ${lengthText(sizePx, dpi)}`}
            value={sizePx}
            least={1}
            most={MOST_PEN_PX}
            onSet={(next) => setBrush(bench, { sizePx: next })}
          />
          <Typography variant="caption" color="text.secondary" component="p">
            It colours ink alone. <Key>Shift</Key> + drag wipes out, <Key>Ctrl</Key> + click takes a line&rsquo;s
            colour.
          </Typography>
        </>
      )}
      {strokes > 0 && (
        <Button sx={{ ml: -0.5 }} onClick={() => removeStrokes(bench)}>
          Remove {counted(strokes, 'brush stroke')}
        </Button>
      )}
    </Box>
  );
}
