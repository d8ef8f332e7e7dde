import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';
import { useBench, useBenchState } from '../../state/benchContext.ts';
import { countText, counted } from '../../../measures.ts';
import { dropExamples, examplesProposed, proposeExamples, takeExamples } from './examples.ts';

/** Proposals from what is done already: other pages of the job, or other panels of this page. */
export function ExampleControls(): ReactNode {
  const bench = useBench();
  const examples = useBenchState((state) => state.flats.examples);
  const panelShown = useBenchState((state) => state.panelShown);
  // The list changes with what is given meanwhile.
  useBenchState((state) => state.resolved);
  const proposed = examplesProposed(bench.state);
  const sure = proposed.filter((one) => one.confidence >= 0.8).length;
  if (examples === null) {
    return (
      <Box sx={{ px: 1.25, pb: 0.75, display: 'grid', gap: 0.5 }}>
        <Typography variant="caption" color="text.secondary">
          Without a key: regions of this page are compared with those that have a part already.
        </Typography>
        <Button key="propose" variant="outlined" onClick={() => void proposeExamples(bench, 'pages')}>
          Propose from done pages
        </Button>
        <Button
          variant="outlined"
          disabled={panelShown === null}
          title={panelShown === null ? 'Keep the worklist to a panel first (])' : undefined}
          onClick={() => void proposeExamples(bench, 'panels')}
        >
          {panelShown === null
            ? 'Propose for a panel from the others'
            : `Propose for panel ${panelShown + 1} from the others`}
        </Button>
      </Box>
    );
  }
  return (
    <Box sx={{ px: 1.25, pb: 0.75, display: 'grid', gap: 0.5 }} role="status">
      {examples.proposals === null ? (
        <Typography variant="caption">Regions are compared …</Typography>
      ) : examples.from === 'pages' && examples.pages === 0 ? (
        <Typography variant="caption">
          No other page of this job is done yet. A page counts once nine tenths of its regions have a part.
        </Typography>
      ) : proposed.length === 0 ? (
        <Typography variant="caption">Nothing is alike enough to be proposed.</Typography>
      ) : (
        <>
          <Typography variant="caption">
            <b>{countText(proposed.length)}</b> {proposed.length === 1 ? 'proposal' : 'proposals'} from{' '}
            {examples.from === 'panels'
              ? 'the other panels'
              : examples.pages === 1
                ? '1 page'
                : `${examples.pages} pages`}
            , <b>{sure}</b> of them likely (.8 and more). Each is listed to be looked at.
          </Typography>
          <Button variant="contained" onClick={() => takeExamples(bench)}>
            Accept {counted(proposed.length, 'proposal')} (/)
          </Button>
        </>
      )}
      {/* A button of its own: Enter must not press what stands in its place afterwards. */}
      <Button key="away" onClick={() => dropExamples(bench)} sx={{ justifySelf: 'start' }}>
        Put away
      </Button>
    </Box>
  );
}
