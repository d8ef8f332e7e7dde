import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import FormControlLabel from '@mui/material/FormControlLabel';
import Slider from '@mui/material/Slider';
import Switch from '@mui/material/Switch';
import Typography from '@mui/material/Typography';
import type { SpreadOptions } from '@jumble/core';
import type { ReactNode } from 'react';
import { useBench, useBenchState } from '../../state/benchContext.ts';
import { drawOver } from '../../page/show.ts';
import { eraseMarksOf, marksToFills, previewSpread, spreadMarks } from './marks.ts';
import { setFlats } from './setFlats.ts';
import { countText } from '../../../measures.ts';

/** The marks of this page and how they spread. */
export function MarksControls(): ReactNode {
  const bench = useBench();
  const { spread, marksShown, spreading, unspread } = useBenchState((state) => state.flats);
  const marks = useBenchState((state) => state.document?.marks);
  const partId = useBenchState((state) => state.partId);
  const panelShown = useBenchState((state) => state.panelShown);
  /** Shows at once what it would do; let go, it is done. */
  const change = (fields: Partial<SpreadOptions>): void => {
    setFlats(bench, { spread: { ...spread, ...fields } });
    void previewSpread(bench);
  };
  const count = marks?.size ?? 0;
  const ofPart = [...(marks?.values() ?? [])].filter((mark) => mark.part === partId).length;
  return (
    <Box sx={{ px: 1.25, py: 0.75, display: 'grid', gap: 0.5 }}>
      <Box sx={{ display: 'flex', alignItems: 'center', justifyContent: 'space-between', gap: 1 }}>
        <Typography variant="caption">
          <b>{countText(count)}</b> {count === 1 ? 'mark' : 'marks'}
          {count === 0 ? ': draw loosely over the page' : unspread ? ', not spread yet' : ''}
        </Typography>
        <FormControlLabel
          control={
            <Switch
              size="small"
              checked={marksShown}
              onChange={(_, on) => {
                setFlats(bench, { marksShown: on });
                drawOver(bench);
              }}
            />
          }
          label="Show"
          slotProps={{ typography: { variant: 'caption' } }}
          sx={{ m: 0 }}
        />
      </Box>
      <Button
        variant="contained"
        disabled={spreading || (count === 0 && !unspread)}
        onClick={() => void spreadMarks(bench)}
      >
        {spreading ? 'Spreading …' : panelShown === null ? 'Spread (/)' : `Spread in panel ${panelShown + 1} (/)`}
      </Button>
      <Typography variant="caption" component="p">
        Openings hold from confidence <b>{spread.holdFrom.toFixed(2)}</b>
      </Typography>
      <Slider
        size="small"
        min={0.05}
        max={1}
        step={0.05}
        value={spread.holdFrom}
        aria-label="Openings hold from this confidence"
        onChange={(_, value) => change({ holdFrom: value as number })}
        onChangeCommitted={() => void spreadMarks(bench)}
        sx={{ py: 0.5 }}
      />
      <Typography variant="caption" component="p">
        Ends over a line are forgiven up to <b>{Math.round(spread.stray * 100)}%</b> of a mark
      </Typography>
      <Slider
        size="small"
        min={0}
        max={0.5}
        step={0.05}
        value={spread.stray}
        aria-label="Share of a mark that may stray"
        onChange={(_, value) => change({ stray: value as number })}
        onChangeCommitted={() => void spreadMarks(bench)}
        sx={{ py: 0.5 }}
      />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 0.5 }}>
        <Button disabled={ofPart === 0} onClick={() => eraseMarksOf(bench, partId)}>
          Erase this part’s {ofPart > 0 ? ofPart : ''}
        </Button>
        <Button disabled={count === 0} onClick={() => eraseMarksOf(bench, null)}>
          Erase all
        </Button>
        <Button disabled={count === 0} onClick={() => marksToFills(bench)}>
          Turn into plain fills
        </Button>
      </Box>
    </Box>
  );
}
