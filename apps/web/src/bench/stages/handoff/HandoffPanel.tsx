import type { HandoffView } from '@jumble/contracts';
import { degreesOfSlope, hasLayers, type HandoffContainer, type LayerSplit } from '@jumble/core';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import FormControl from '@mui/material/FormControl';
import FormControlLabel from '@mui/material/FormControlLabel';
import FormLabel from '@mui/material/FormLabel';
import LinearProgress from '@mui/material/LinearProgress';
import Radio from '@mui/material/Radio';
import RadioGroup from '@mui/material/RadioGroup';
import Typography from '@mui/material/Typography';
import dayjs from 'dayjs';
import { useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import useSWR from 'swr';
import { request } from '../../../api/http.ts';
import { useNotices } from '../../../notices/NoticeProvider.tsx';
import { tones } from '../../../theme.ts';
import { ruleWords } from '../../page/ruleWords.ts';
import { useBench, useBenchState } from '../../state/benchContext.ts';
import { Stacking } from './Stacking.tsx';
import { counted } from '../../../measures.ts';

/** How the flats go out, and what went out already. */
export function HandoffPanel(): ReactNode {
  const bench = useBench();
  const { fail } = useNotices();
  const page = useBenchState((state) => state.page);
  const open = useBenchState((state) => state.openRegions.length);
  const palette = useBenchState((state) => state.cast?.palette ?? 'scene');
  const slopePpm = useBenchState((state) => state.survey?.slopePpm ?? 0);
  const underlapPx = useBenchState((state) => state.cast?.trap.underlapPx ?? 0);
  const hasHolds = useBenchState((state) => (state.document?.holds.size ?? 0) > 0);
  const [lines, setLines] = useState<'layer' | 'coloured'>('layer');
  const [split, setSplit] = useState<LayerSplit>('part');
  const [container, setContainer] = useState<HandoffContainer>('ora');
  const [asking, setAsking] = useState(false);
  const { data: handoffs, mutate } = useSWR<HandoffView[], Error>(
    page === null ? null : `/api/pages/${page.id}/handoffs`,
    {
      refreshInterval: (latest) => (latest?.some((one) => one.state === 'building') === true ? 300 : 0),
    },
  );
  if (page === null) return null;

  const build = async (): Promise<void> => {
    setAsking(true);
    try {
      await bench.settled();
      await request<HandoffView>('POST', `/api/pages/${page.id}/handoffs`, { split, container, lines });
      await mutate();
    } catch (error) {
      fail(error);
    } finally {
      setAsking(false);
    }
  };
  const isSingle = hasLayers(container) ? split === 'single' || split === 'panel' : container === 'png';
  const building = handoffs?.some((one) => one.state === 'building') === true;
  return (
    <Box sx={{ overflowY: 'auto', flex: 1, p: 1.25, display: 'grid', gap: 1.5, alignContent: 'start' }}>
      {open > 0 && (
        <Alert severity="warning" sx={{ py: 0 }}>
          {counted(open, 'region')} {open === 1 ? 'has' : 'have'} no part and would be empty.
        </Alert>
      )}
      {palette === 'scratch' && (
        <Alert severity="info" sx={{ py: 0 }}>
          Scratch colours are in use; the hand-off has them and its layers say so.
        </Alert>
      )}
      {slopePpm !== 0 && (
        <Alert severity="info" sx={{ py: 0 }}>
          The page is straightened by {degreesOfSlope(slopePpm).toFixed(2)}°. Line art and flats fit each other and lie
          level; they do not lie as the file that came.
        </Alert>
      )}
      <FormControl>
        <FormLabel sx={{ fontSize: 13, fontWeight: 600 }}>File</FormLabel>
        <RadioGroup value={container} onChange={(event) => setContainer(event.target.value as HandoffContainer)}>
          <Choice value="ora" label="Layered, with line art (OpenRaster)" />
          <Choice value="tif" label="Layered, with line art (TIFF)" />
          <Choice value="tif-cmyk" label="The same for print (TIFF, CMYK)" />
          <Choice value="png" label="Flats alone (PNG)" />
          <Choice value="svg" label="Flats as outlines (SVG)" />
          <Choice value="pdf" label="A proof with its parts (PDF)" />
          <Choice value="pdf-cmyk" label="The same for print (PDF, CMYK)" />
        </RadioGroup>
      </FormControl>
      <FormControl disabled={!hasLayers(container)}>
        <FormLabel sx={{ fontSize: 13, fontWeight: 600 }}>Layers</FormLabel>
        <RadioGroup
          value={hasLayers(container) ? split : 'single'}
          onChange={(event) => setSplit(event.target.value as LayerSplit)}
        >
          <Choice value="part" label="One layer per part, in groups" />
          <Choice value="group" label="One layer per character, prop or set" />
          <Choice value="colour" label="One layer per colour" />
          <Choice value="panel" label="One layer per panel" />
          <Choice value="single" label="One layer for all flats" />
        </RadioGroup>
      </FormControl>
      {hasHolds && container === 'ora' && (
        <FormControl>
          <FormLabel sx={{ fontSize: 13, fontWeight: 600 }}>Coloured lines</FormLabel>
          <RadioGroup value={lines} onChange={(event) => setLines(event.target.value as 'layer' | 'coloured')}>
            <Choice value="layer" label="A layer of holds, clipped to the line art" />
            <Choice value="coloured" label="Line art in its colours" />
          </RadioGroup>
        </FormControl>
      )}
      <TrapNote />
      {underlapPx > 0 && (
        <Alert severity={isSingle ? 'error' : 'info'} sx={{ py: 0 }}>
          {isSingle
            ? `Layers run ${underlapPx} px under each other in this job, and these layers have none in front of them. Choose one layer per part, or set that to 0 on the Trap stage.`
            : `Layers run ${underlapPx} px under those in front of them.`}
        </Alert>
      )}
      <Button
        variant="contained"
        disabled={asking || building || (underlapPx > 0 && isSingle)}
        onClick={() => void build()}
      >
        Build the hand-off
      </Button>
      <Typography variant="caption" color="text.secondary">
        {page.dpi === null
          ? 'The page has no resolution stated; the files state none either.'
          : `Every picture states ${Math.round(page.dpi)} dpi and sRGB.`}{' '}
        Cast colours: <a href={`/api/jobs/${page.jobId}/cast/colours.json`}>JSON</a>,{' '}
        <a href={`/api/jobs/${page.jobId}/cast/colours.csv`}>CSV</a>
      </Typography>
      {container === 'ora' && split === 'part' && <Stacking />}
      {handoffs !== undefined && handoffs.length > 0 && (
        <Box component="ul" sx={{ m: 0, p: 0, listStyle: 'none', borderTop: `1px solid ${tones.line}` }}>
          {handoffs.map((handoff) => (
            <HandoffRow
              key={handoff.id}
              handoff={handoff}
              onCancel={() => void request('DELETE', `/api/handoffs/${handoff.id}`).then(() => mutate(), fail)}
            />
          ))}
        </Box>
      )}
    </Box>
  );
}

/** How far colour runs under the ink; it is decided on the stage before. */
function TrapNote(): ReactNode {
  const words = useBenchState(({ document, cast }) =>
    ruleWords(document?.trap ?? cast?.trap.rule ?? { rule: 'middle' }),
  );
  const areas = useBenchState((state) => state.document?.areas.size ?? 0);
  const url = useBenchState(({ page }) => (page === null ? '/' : `/jobs/${page.jobId}/pages/${page.id}/trap`));
  return (
    <Typography variant="body2">
      <b>Trap</b> {words}
      {areas > 0 && `, with ${counted(areas, 'area')} of its own`}. <Link to={url}>Change it</Link>
    </Typography>
  );
}

function Choice({ value, label }: { readonly value: string; readonly label: string }): ReactNode {
  return (
    <FormControlLabel
      value={value}
      label={label}
      control={<Radio size="small" sx={{ py: 0.25 }} />}
      slotProps={{ typography: { variant: 'body2' } }}
    />
  );
}

const SPLIT_WORDS: Readonly<Record<LayerSplit, string>> = {
  part: 'layer per part',
  group: 'layer per character',
  colour: 'layer per colour',
  panel: 'layer per panel',
  single: 'one layer',
};
const FILE_WORDS: Readonly<Record<string, string>> = { png: 'flats alone', svg: 'outlines', pdf: 'proof' };

interface HandoffRowProps {
  readonly handoff: HandoffView;
  readonly onCancel: () => void;
}

function HandoffRow({ handoff, onCancel }: HandoffRowProps): ReactNode {
  const what = `${hasLayers(handoff.container) ? SPLIT_WORDS[handoff.split] : FILE_WORDS[handoff.container.split('-')[0]!]}, ${handoff.palette === 'scratch' ? 'scratch colours' : 'real colours'}, trap ${ruleWords(handoff.trap)}`;
  return (
    <Box component="li" sx={{ py: 1, borderBottom: `1px solid ${tones.chromeDark}` }}>
      <Typography variant="body2" sx={{ overflowWrap: 'anywhere' }}>
        {handoff.state === 'ready' ? (
          <a href={`/api/handoffs/${handoff.id}/file`} download>
            {handoff.fileName}
          </a>
        ) : (
          handoff.fileName
        )}
      </Typography>
      <Typography variant="caption" color="text.secondary" component="p">
        {dayjs(handoff.createdAt).format('D MMM HH:mm')}
        {handoff.sizeBytes === null ? '' : `, ${(handoff.sizeBytes / 1e6).toFixed(1)} MB`}; {what}
      </Typography>
      {handoff.state === 'building' && (
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
          <LinearProgress
            sx={{ flex: 1 }}
            variant="determinate"
            value={handoff.progress * 100}
            aria-label="Building the hand-off"
          />
          <Button onClick={onCancel}>Cancel</Button>
        </Box>
      )}
      {handoff.state === 'cancelled' && <Typography variant="caption">Cancelled.</Typography>}
      {handoff.state === 'failed' && (
        <Typography variant="caption" color="error">
          {handoff.problem}
        </Typography>
      )}
    </Box>
  );
}
