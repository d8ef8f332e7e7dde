import Button from '@mui/material/Button';
import Slider from '@mui/material/Slider';
import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';
import { countText, counted } from '../../../measures.ts';
import { useBench, useBenchState } from '../../state/benchContext.ts';
import { countProposals, setSureFrom, takeGuide } from './colourGuide.ts';
import type { GuideOnPage } from './flatsState.ts';

/** What a key proposes, and how much of it is accepted without a look. */
export function GuideProposals({ guideOnPage: guide }: { readonly guideOnPage: GuideOnPage }): ReactNode {
  const bench = useBench();
  const resolved = useBenchState((state) => state.resolved);
  const others = useBenchState((state) => state.flats.examples !== null);
  const { sure, doubtful } = countProposals(guide, resolved);
  return (
    <>
      <Typography variant="caption" component="p">
        Sure from <b>{guide.sureFrom.toFixed(2)}</b>: <b>{countText(sure)}</b> accepted as they are,{' '}
        <b>{countText(doubtful)}</b> to be looked at
      </Typography>
      {guide.splits.length > 0 && (
        <Typography variant="caption" component="p">
          {guide.splits.length === 1 ? '1 region shows' : `${countText(guide.splits.length)} regions show`} several
          colours: their gaps will be closed
        </Typography>
      )}
      <Slider
        size="small"
        min={0.5}
        max={0.99}
        step={0.01}
        value={guide.sureFrom}
        aria-label="Proposals are sure from this confidence"
        onChange={(_, value) => setSureFrom(bench, value as number)}
        sx={{ py: 0.5 }}
      />
      <Button variant="contained" disabled={sure + doubtful === 0} onClick={() => void takeGuide(bench)}>
        Accept {counted(sure + doubtful, 'proposal')}
        {others ? '' : ' (/)'}
      </Button>
    </>
  );
}
