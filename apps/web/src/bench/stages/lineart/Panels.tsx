import { endsPerThousand, type JudgedPanel } from '@jumble/core';
import ArrowDownwardIcon from '@mui/icons-material/ArrowDownward';
import ArrowUpwardIcon from '@mui/icons-material/ArrowUpward';
import DeleteIcon from '@mui/icons-material/Delete';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';
import { tones } from '../../../theme.ts';
import { IconAction } from '../../IconAction.tsx';
import { Note } from '../../Note.tsx';
import { useBench, useBenchState } from '../../state/benchContext.ts';
import { countText, counted } from '../../../measures.ts';
import { movePanel, pickPanel, removePanel, setPanelScene, setPanels } from './editPanels.ts';

/** The panels in reading order, each with its verdict; correctable. */
export function Panels(): ReactNode {
  const bench = useBench();
  const facts = useBenchState((state) => state.facts);
  const corrected = useBenchState((state) => state.document?.panels ?? null);
  const picked = useBenchState((state) => state.panelPicked);
  if (facts === null) return <Note>Found when the line art is measured.</Note>;
  return (
    <>
      {facts.panels.length === 0 && <Note>No panel was found. Draw them: press f, then drag a rectangle.</Note>}
      <Box component="ol" sx={{ m: 0, p: 0, listStyle: 'none' }}>
        {facts.panels.map((panel, k) => (
          <PanelRow key={panel.points.join(' ')} panel={panel} index={k} picked={picked === k} />
        ))}
      </Box>
      <Box sx={{ display: 'flex', gap: 1, mt: 0.5 }}>
        <Button onClick={() => bench.set({ pointing: 'panel' })}>Draw a panel (f)</Button>
        {corrected !== null && (
          <Button onClick={() => setPanels(bench, 'Find the panels again', null)}>Find again</Button>
        )}
      </Box>
    </>
  );
}

const VERDICTS = { holds: 'holds a fill as it is', closing: 'needs closing', sketchy: 'too sketchy here' } as const;

function reasonOf({ verdict, counts }: JudgedPanel): string {
  if (verdict === 'sketchy') return `${endsPerThousand(counts).toFixed(0)} loose ends on 1,000 line widths`;
  if (verdict === 'holds')
    return counts.looseEnds === 0 ? 'no gap, no loose end' : `no gap, ${counted(counts.looseEnds, 'loose end')}`;
  return `${counted(counts.closed, 'gap')} closed, ${countText(counts.toRule)} to rule on`;
}

interface PanelRowProps {
  readonly panel: JudgedPanel;
  readonly index: number;
  readonly picked: boolean;
}

function PanelRow({ panel, index, picked }: PanelRowProps): ReactNode {
  const bench = useBench();
  const scenes = useBenchState((state) => state.cast?.scenes);
  const scene = useBenchState((state) => state.document?.panels?.[index]?.scene ?? null);
  const count = useBenchState((state) => state.facts?.panels.length ?? 0);
  return (
    <Box
      component="li"
      aria-current={picked}
      onClick={() => pickPanel(bench, picked ? null : index)}
      sx={{
        px: 0.75,
        py: 0.5,
        mx: -0.75,
        cursor: 'pointer',
        bgcolor: picked ? '#fff' : 'transparent',
        boxShadow: picked ? `inset 3px 0 0 ${tones.accent}` : 'none',
        '&:hover': { bgcolor: '#fff' },
      }}
    >
      <Typography variant="body2">
        <b>{index + 1}</b> {VERDICTS[panel.verdict]}
      </Typography>
      <Typography variant="caption" color="text.secondary" component="p">
        {reasonOf(panel)}
        {panel.framed ? '' : '; no frame, found by what is drawn'}
      </Typography>
      {picked && (
        <Box sx={{ display: 'flex', alignItems: 'center' }} onClick={(event) => event.stopPropagation()}>
          <Select
            size="small"
            variant="standard"
            value={scene ?? ''}
            displayEmpty
            onChange={(event) => setPanelScene(bench, index, event.target.value === '' ? null : event.target.value)}
            inputProps={{ 'aria-label': `Scene of panel ${index + 1}` }}
            sx={{ flex: 1, fontSize: 12, minWidth: 0 }}
          >
            <MenuItem value="">scene of the page</MenuItem>
            {scenes?.map((one) => (
              <MenuItem key={one.id} value={one.id}>
                {one.name}
              </MenuItem>
            ))}
          </Select>
          <IconAction name="Read earlier" disabled={index === 0} onClick={() => movePanel(bench, index, -1)}>
            <ArrowUpwardIcon sx={{ fontSize: 16 }} />
          </IconAction>
          <IconAction name="Read later" disabled={index === count - 1} onClick={() => movePanel(bench, index, 1)}>
            <ArrowDownwardIcon sx={{ fontSize: 16 }} />
          </IconAction>
          <IconAction name="Delete this panel" disabled={false} onClick={() => removePanel(bench, index)}>
            <DeleteIcon sx={{ fontSize: 16 }} />
          </IconAction>
        </Box>
      )}
    </Box>
  );
}
