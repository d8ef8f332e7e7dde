import { MOST_SPECK_PX2, type Prep } from '@jumble/core';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import FormControlLabel from '@mui/material/FormControlLabel';
import Slider from '@mui/material/Slider';
import Switch from '@mui/material/Switch';
import Typography from '@mui/material/Typography';
import { useState, type ReactNode } from 'react';
import { Key } from '../../Key.tsx';
import { areaText, countText } from '../../../measures.ts';
import { useBench, useBenchState } from '../../state/benchContext.ts';
import { specksUpTo } from './lineDecisions.ts';
import { NumberField } from '../../NumberField.tsx';
import { previewSpecks, setPrep, setSlope } from './cleanUp.ts';

/** Largest speck the control offers, in px². */
const SPECKS_SHOWN = 120;

/** How the file becomes ink: paper and ink points, evenness, straightness, specks, detail. */
export function CleanUp(): ReactNode {
  const bench = useBench();
  const survey = useBenchState((state) => state.survey);
  const prep = useBenchState((state) => state.document?.prep);
  const facts = useBenchState((state) => state.facts);
  const comparing = useBenchState((state) => state.comparing);
  const dpi = useBenchState((state) => state.page?.dpi ?? null);
  const [moving, setMoving] = useState<number | null>(null);
  if (survey === null || prep === undefined) return null;
  const { inkPoints } = survey;
  const limit = moving ?? prep.speckLimitPx2 ?? 0;
  const set = (label: string, change: Partial<Prep>): void => setPrep(bench, label, change);
  return (
    <Box sx={{ display: 'grid', gap: 0.75 }}>
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'end' }}>
        <NumberField
          label="Ink to"
          value={inkPoints.blackPoint}
          least={0}
          most={inkPoints.whitePoint - 1}
          onSet={(blackPoint) => set(`Set the ink point to ${blackPoint}`, { inkPoints: { ...inkPoints, blackPoint } })}
        />
        <NumberField
          label="Paper from"
          value={inkPoints.whitePoint}
          least={inkPoints.blackPoint + 1}
          most={255}
          onSet={(whitePoint) =>
            set(`Set the paper point to ${whitePoint}`, { inkPoints: { ...inkPoints, whitePoint } })
          }
        />
        <Button
          disabled={prep.inkPoints === 'auto'}
          onClick={() => set('Find ink and paper points by measure', { inkPoints: 'auto' })}
        >
          Auto
        </Button>
      </Box>
      <Typography variant="caption" color="text.secondary">
        Point on the page: <Key>p</Key> at paper, <Key>i</Key> at ink
      </Typography>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 1 }}>
        <FormControlLabel
          control={
            <Switch
              size="small"
              checked={survey.flattened}
              onChange={(_, on) => set(on ? 'Even out the paper' : 'Leave the paper uneven', { flatten: on })}
            />
          }
          label="Even out the paper"
          slotProps={{ typography: { variant: 'caption' } }}
        />
        <FormControlLabel
          control={<Switch size="small" checked={comparing} onChange={(_, on) => bench.set({ comparing: on })} />}
          label="Before and after (c)"
          slotProps={{ typography: { variant: 'caption' } }}
        />
      </Box>
      {(prep.slopePpm ?? 0) !== 0 && (
        <Button variant="outlined" onClick={() => setSlope(bench, 0)}>
          Leave the page as it lies
        </Button>
      )}
      <Box>
        <Typography variant="caption" id="speck-limit">
          Wipe out specks to <b>{limit === 0 ? 'none' : areaText(limit, dpi)}</b>
          {facts !== null && moving !== null && `: ${specksUpTo(facts, limit)} would go`}
          {moving === null && survey.specksCleared > 0 && `: ${countText(survey.specksCleared)} went`}
        </Typography>
        <Slider
          size="small"
          aria-labelledby="speck-limit"
          min={0}
          max={Math.min(SPECKS_SHOWN, MOST_SPECK_PX2)}
          value={limit}
          onChange={(_, next) => {
            setMoving(next as number);
            previewSpecks(bench, next as number);
          }}
          onChangeCommitted={(_, next) => {
            setMoving(null);
            previewSpecks(bench, null);
            set(next === 0 ? 'Keep all specks' : `Wipe out specks to ${next as number} px²`, {
              speckLimitPx2: next as number,
            });
          }}
          sx={{ py: 0.75 }}
        />
      </Box>
      <Typography variant="caption">Detail that bounds no region, strokes</Typography>
      <Box sx={{ display: 'flex', gap: 1 }}>
        <NumberField
          label="thinner than, px"
          value={prep.detail.thinnerThanPx}
          least={0}
          most={60}
          onSet={(thinnerThanPx) =>
            set(`Set strokes thinner than ${thinnerThanPx} px as detail`, {
              detail: { ...prep.detail, thinnerThanPx },
            })
          }
        />
        <NumberField
          label="shorter than, px"
          value={prep.detail.shorterThanPx}
          least={0}
          most={2000}
          onSet={(shorterThanPx) =>
            set(`Set strokes shorter than ${shorterThanPx} px as detail`, {
              detail: { ...prep.detail, shorterThanPx },
            })
          }
        />
      </Box>
    </Box>
  );
}
