import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';
import { useBench, useBenchState } from '../../state/benchContext.ts';
import { dropGuide, guideFits, nudgeGuide, takeGuide } from './colourGuide.ts';
import type { GuideOnPage } from './flatsState.ts';
import { GuidePicture } from './GuidePicture.tsx';
import { GuideProposals } from './GuideProposals.tsx';
import { UnknownColours } from './UnknownColours.tsx';

interface LoadedGuideProps {
  readonly guideOnPage: GuideOnPage;
  readonly onOther: () => void;
}

/** A key that lies on the page: how it fits, where it lies, and what it proposes. */
export function LoadedGuide({ guideOnPage: guide, onOther }: LoadedGuideProps): ReactNode {
  const bench = useBench();
  const { match, reading } = guide;
  const others = useBenchState((state) => state.flats.examples !== null);
  return (
    <>
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
        <GuidePicture guideOnPage={guide} />
        <Box sx={{ minWidth: 0 }}>
          <Typography variant="body2" noWrap title={guide.name}>
            {guide.name}
          </Typography>
          <Typography variant="caption" color="text.secondary" component="p">
            {match !== null && reading !== null
              ? `The page explains ${Math.round(match.explained * 100)}% of it`
              : guide.share === 0
                ? 'It is laid over the page …'
                : 'Its colours are read …'}
          </Typography>
          {reading?.isWhole === false && (
            <Typography variant="caption" color="text.secondary" component="p">
              First look on the page; what is small is still being weighed …
            </Typography>
          )}
        </Box>
      </Box>
      {reading?.isWhole !== true && (
        <LinearProgress variant="determinate" value={100 * guide.share} aria-label="How much of the key is read" />
      )}
      {match !== null && reading !== null && !guideFits(match) && (
        <Alert severity="warning" sx={{ py: 0 }}>
          Nothing here matches this key: it seems to belong to another page.
        </Alert>
      )}
      {match !== null && <Nudge />}
      {reading?.isWhole === true ? (
        <>
          <GuideProposals guideOnPage={guide} />
          <UnknownColours guideOnPage={guide} />
        </>
      ) : (
        <Button variant="contained" disabled={guide.takeOnceWhole} onClick={() => void takeGuide(bench)}>
          {guide.takeOnceWhole ? 'Accepted once all is read' : `Accept once all is read${others ? '' : ' (/)'}`}
        </Button>
      )}
      <Box sx={{ display: 'flex', gap: 0.5 }}>
        <Button onClick={onOther}>Another key …</Button>
        <Button onClick={() => dropGuide(bench)}>Put away</Button>
      </Box>
    </>
  );
}

/** Moves the key over the page in steps. */
function Nudge(): ReactNode {
  const bench = useBench();
  const width = useBenchState((state) => state.page?.width ?? 1);
  const step = Math.max(1, Math.round(width / 1000));
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.25 }}>
      <Typography variant="caption">Nudge</Typography>
      {(
        [
          ['←', -step, 0, 'left'],
          ['→', step, 0, 'right'],
          ['↑', 0, -step, 'up'],
          ['↓', 0, step, 'down'],
        ] as const
      ).map(([sign, dx, dy, words]) => (
        <Button
          key={words}
          aria-label={`Nudge the key ${words} by ${step} px`}
          onClick={() => nudgeGuide(bench, dx, dy)}
          sx={{ minWidth: 28, px: 0 }}
        >
          {sign}
        </Button>
      ))}
      <Typography variant="caption" color="text.secondary">
        {step} px
      </Typography>
    </Box>
  );
}
