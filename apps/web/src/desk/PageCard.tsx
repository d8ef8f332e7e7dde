import type { PageView } from '@jumble/contracts';
import MoreHorizIcon from '@mui/icons-material/MoreHoriz';
import { LARGE_PAGE_PX } from '@jumble/core';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import LinearProgress from '@mui/material/LinearProgress';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import Typography from '@mui/material/Typography';
import { useRef, useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import { request, uploadFile } from '../api/http.ts';
import { useNotices } from '../notices/NoticeProvider.tsx';
import { tones } from '../theme.ts';
import { AskOnce } from '../notices/AskOnce.tsx';
import { printSize, progressText } from './progress.ts';
import { Thumbnail } from './Thumbnail.tsx';
import { NameDialog } from '../notices/NameDialog.tsx';
import { counted } from '../measures.ts';

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
  const { page, number, onChanged, onMoveEarlier, onMoveLater, onAskResolution } = props;
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [asking, setAsking] = useState(false);
  const [renaming, setRenaming] = useState(false);
  const [replacing, setReplacing] = useState(false);
  const [halving, setHalving] = useState(false);
  /** Slow to work on, and nothing is done on it yet. */
  const offersHalf = page.full === null && page.revision === 0 && page.width * page.height > LARGE_PAGE_PX;
  const halve = async (): Promise<void> => {
    setHalving(true);
    try {
      await request<PageView>('POST', `/api/pages/${page.id}/half`);
      say(`"${page.name}" is worked on at half its size; what is handed off has the whole.`, 'success');
      onChanged();
    } catch (error) {
      fail(error);
    } finally {
      setHalving(false);
    }
  };
  const revised = useRef<HTMLInputElement>(null);
  const { fail, say } = useNotices();
  const pick = (action: () => void) => () => {
    setAnchor(null);
    action();
  };
  const replace = async (file: File): Promise<void> => {
    setReplacing(true);
    try {
      await uploadFile<PageView>(
        'PUT',
        `/api/pages/${page.id}/file`,
        file,
        () => undefined,
        new AbortController().signal,
      );
      say(`"${page.name}" has its revised line art. Its fills are kept.`, 'success');
      onChanged();
    } catch (error) {
      fail(error);
    } finally {
      setReplacing(false);
    }
  };
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
        {offersHalf && (
          <Button
            disabled={halving}
            onClick={() => void halve()}
            title="What is handed off has the page's whole size"
            sx={{ position: 'relative', zIndex: 1, ml: -0.75, py: 0 }}
          >
            {Math.round((page.width * page.height) / 1e6)} megapixels: work at half size
          </Button>
        )}
        <LinearProgress
          variant="determinate"
          value={page.regionCount === 0 ? 0 : (100 * page.filledCount) / page.regionCount}
          sx={{ mt: 0.75, mr: -3.75 }}
          aria-label={`Progress of ${page.name}`}
        />
      </Box>
      <IconButton
        aria-label={`More about ${page.name}`}
        onClick={(event) => setAnchor(event.currentTarget)}
        sx={{ position: 'absolute', right: 4, bottom: 40, zIndex: 1 }}
      >
        <MoreHorizIcon fontSize="small" />
      </IconButton>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        <MenuItem onClick={pick(() => setRenaming(true))}>Rename …</MenuItem>
        <MenuItem onClick={pick(onMoveEarlier ?? (() => undefined))} disabled={onMoveEarlier === undefined}>
          Move earlier
        </MenuItem>
        <MenuItem onClick={pick(onMoveLater ?? (() => undefined))} disabled={onMoveLater === undefined}>
          Move later
        </MenuItem>
        <MenuItem onClick={pick(onAskResolution)}>Resolution …</MenuItem>
        <MenuItem onClick={pick(() => revised.current?.click())}>Replace with revised line art …</MenuItem>
        <MenuItem component="a" href={`/api/pages/${page.id}/file`} onClick={() => setAnchor(null)}>
          Download the original file
        </MenuItem>
        <MenuItem onClick={pick(() => setAsking(true))} sx={{ color: 'error.main' }}>
          Delete …
        </MenuItem>
      </Menu>
      <input
        ref={revised}
        type="file"
        hidden
        aria-label={`Revised line art for ${page.name}`}
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = '';
          if (file !== undefined) void replace(file);
        }}
      />
      {renaming && (
        <NameDialog
          title="Rename"
          name={page.name}
          action="Rename"
          onClose={() => setRenaming(false)}
          onName={(name) => void request('PATCH', `/api/pages/${page.id}`, { name }).then(onChanged, fail)}
        />
      )}
      <AskOnce
        open={asking}
        title={`Delete "${page.name}"?`}
        text={`The page with its ${counted(page.filledCount, 'filled region')}, its history and its hand-offs is lost. This cannot be undone.`}
        action="Delete the page"
        onClose={() => setAsking(false)}
        onConfirm={() => void request('DELETE', `/api/pages/${page.id}`).then(onChanged, fail)}
      />
    </Box>
  );
}
