import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import Tooltip from '@mui/material/Tooltip';
import { memo, type ReactNode } from 'react';
import { tones } from '../../../theme.ts';
import { FILL_WAYS, type FillWay } from './flatsState.ts';
import { useBench, useBenchState } from '../../state/benchContext.ts';
import { ExampleControls } from './ExampleControls.tsx';
import { GuideControls } from './GuideControls.tsx';
import { MarksControls } from './MarksControls.tsx';
import { PenControls } from './PenControls.tsx';
import { SurroundControls } from './SurroundControls.tsx';
import { setWay } from './flats.ts';

const WAYS: Record<FillWay, { readonly name: string; readonly words: string }> = {
  sweep: { name: 'Point', words: 'Click or drag across regions' },
  surround: { name: 'Surround', words: 'Draw a rough loop; what it encloses is assigned' },
  marks: { name: 'Marks', words: 'Loose strokes of each part, spread over the page' },
  pen: { name: 'Pen', words: 'Paint what is left, cut and join regions' },
  key: { name: 'Key', words: "The colourist's guide, or what is done already, says which part is where" },
};

/** The ways to fill, and what the chosen one can be told. All of them leave the same document. */
export const FillWays = memo(function FillWays(): ReactNode {
  const bench = useBench();
  const way = useBenchState((state) => state.flats.way);
  return (
    <Box sx={{ borderBottom: `1px solid ${tones.line}` }}>
      <Box role="tablist" aria-label="Ways to fill" sx={{ display: 'flex', bgcolor: tones.chromeDark }}>
        {FILL_WAYS.map((one, k) => (
          <Tooltip key={one} describeChild title={`${WAYS[one].words} (Shift+${k + 1})`}>
            <ButtonBase
              role="tab"
              aria-selected={one === way}
              onClick={() => setWay(bench, one)}
              sx={{
                flex: '1 1 auto',
                px: 0.5,
                py: 0.75,
                fontFamily: 'inherit',
                fontSize: 13,
                fontWeight: one === way ? 600 : 400,
                bgcolor: one === way ? tones.sheet : 'transparent',
                borderBottom: `2px solid ${one === way ? tones.accent : 'transparent'}`,
                '&:hover': { bgcolor: tones.sheet },
              }}
            >
              {WAYS[one].name}
            </ButtonBase>
          </Tooltip>
        ))}
      </Box>
      {way === 'surround' && <SurroundControls />}
      {way === 'marks' && <MarksControls />}
      {way === 'key' && <GuideControls />}
      {way === 'key' && <ExampleControls />}
      {way === 'pen' && <PenControls />}
    </Box>
  );
});
