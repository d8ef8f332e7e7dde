import type { PageView } from '@jumble/contracts';
import { LARGE_PAGE_PX } from '@jumble/core';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import Typography from '@mui/material/Typography';
import { useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import { request } from '../api/http.ts';
import { useNotices } from '../notices/NoticeProvider.tsx';
import { tones } from '../theme.ts';
import { PageMenu } from './PageMenu.tsx';
import { printSize, progressText } from './progress.ts';
import { Thumbnail } from './Thumbnail.tsx';

export interface PageCardProps {
  readonly page: PageView;
  readonly number: number;
  readonly onChanged: () => void;
  readonly onMoveEarlier: (() => void) | undefined;
  readonly onMoveLater: (() => void) | undefined;
  readonly onAskResolution: () => void;
}

/** A page on the job's desk: what it looks like now and how far it is. */
export function PageCard(props: PageCardProps): ReactNode {
  const { page, number, onChanged } = props;
  const [replacing, setReplacing] = useState(false);
  const [halving, setHalving] = useState(false);
  /** Slow to work on, and nothing is done on it yet. */
  const offersHalf = page.full === null && page.revision === 0 && page.width * page.height > LARGE_PAGE_PX;
  return (
    <Box
      component="li"
      sx={{
        bgcolor: tones.sheet,
        border: `1px solid ${tones.line}`,
        borderRadius: 1,
        position: 'relative',
        '&:hover': { borderColor: tones.accent },
      }}
    >
      <Box sx={{ height: 286, bgcolor: tones.ground, display: 'grid', placeItems: 'center', overflow: 'hidden' }}>
        <Thumbnail page={page} style={{ maxWidth: '94%', maxHeight: 274, display: 'block' }} />
      </Box>
      {(replacing || halving) && (
        <LinearProgress aria-label={halving ? 'The page is halved' : 'The revised file is read'} />
      )}
      <Box sx={{ p: 1.25, pr: 5 }}>
        <Typography variant="h3" component="h2" noWrap>
          <Link to={`/jobs/${page.jobId}/pages/${page.id}/flats`} style={{ color: 'inherit', textDecoration: 'none' }}>
            {number}. {page.name}
            <span style={{ position: 'absolute', inset: 0 }} />
          </Link>
        </Typography>
        <Typography variant="caption" color="text.secondary" component="p">
          {progressText(page.filledCount, page.regionCount)}
        </Typography>
        <Typography variant="caption" color="text.secondary" component="p" noWrap>
          {printSize(page)}
        </Typography>
        {offersHalf && <HalfSize page={page} halving={halving} onHalving={setHalving} onChanged={onChanged} />}
        <LinearProgress
          variant="determinate"
          value={page.regionCount === 0 ? 0 : (100 * page.filledCount) / page.regionCount}
          sx={{ mt: 0.75, mr: -3.75 }}
          aria-label={`Progress of ${page.name}`}
        />
      </Box>
      <PageMenu {...props} onReplacing={setReplacing} />
    </Box>
  );
}

interface HalfSizeProps {
  readonly page: PageView;
  readonly halving: boolean;
  readonly onHalving: (halving: boolean) => void;
  readonly onChanged: () => void;
}

/** A page that is slow to work on can be worked on at half its size. */
function HalfSize({ page, halving, onHalving, onChanged }: HalfSizeProps): ReactNode {
  const { fail, say } = useNotices();
  const halve = async (): Promise<void> => {
    onHalving(true);
    try {
      await request<PageView>('POST', `/api/pages/${page.id}/half`);
      say(`"${page.name}" is worked on at half its size; what is handed off has the whole.`, 'success');
      onChanged();
    } catch (error) {
      fail(error);
    } finally {
      onHalving(false);
    }
  };
  return (
    <Button
      disabled={halving}
      onClick={() => void halve()}
      title="What is handed off has the page's whole size"
      sx={{ position: 'relative', zIndex: 1, ml: -0.75, py: 0 }}
    >
      {Math.round((page.width * page.height) / 1e6)} megapixels: work at half size
    </Button>
  );
}
