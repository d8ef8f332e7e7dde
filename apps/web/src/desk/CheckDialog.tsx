import type { JobView, PageView } from '@jumble/contracts';
import { KIND_WORDS } from '@jumble/core';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import LinearProgress from '@mui/material/LinearProgress';
import Typography from '@mui/material/Typography';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import { checkUnseen, type UnseenCheck } from '../bench/checkUnseen.ts';
import { counted } from '../measures.ts';

export interface CheckDialogProps {
  readonly job: JobView;
  readonly pageIds: readonly string[];
  readonly onClose: () => void;
  /** A page was checked, and perhaps certified. */
  readonly onChecked: () => void;
}

type Outcome = UnseenCheck | { readonly problem: string };

/** Checks several pages one after the other. It can be stopped; what is checked stays so, and it goes on from there. */
export function CheckDialog({ job, pageIds, onClose, onChecked }: CheckDialogProps): ReactNode {
  const [certifies, setCertifies] = useState(true);
  const [outcomes, setOutcomes] = useState<ReadonlyMap<string, Outcome>>(new Map());
  const [running, setRunning] = useState<string | null>(null);
  const stop = useRef<AbortController | null>(null);
  useEffect(() => () => stop.current?.abort(), []);
  const pages = job.pages.filter(({ id }) => pageIds.includes(id));
  const waiting = pages.filter(({ id }) => !outcomes.has(id));
  const begin = async (): Promise<void> => {
    const { signal } = (stop.current = new AbortController());
    for (const { id } of waiting) {
      setRunning(id);
      let outcome: Outcome;
      try {
        outcome = await checkUnseen(id, job, certifies, signal);
      } catch (error) {
        if (signal.aborted) break;
        outcome = { problem: (error as Error).message };
      }
      setOutcomes((before) => new Map(before).set(id, outcome));
      onChecked();
    }
    setRunning(null);
  };
  const done = pages.length - waiting.length;
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle>Check {counted(pages.length, 'page')}</DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 1.5 }}>
        <label style={{ fontSize: 13 }}>
          <input
            type="checkbox"
            checked={certifies}
            disabled={running !== null}
            onChange={(event) => setCertifies(event.target.checked)}
          />{' '}
          Certify pages without findings to settle
        </label>
        <LinearProgress
          variant="determinate"
          value={(100 * done) / Math.max(1, pages.length)}
          aria-label="Pages checked"
        />
        <ul style={{ margin: 0, padding: 0, listStyle: 'none', fontSize: 13 }} aria-label="Pages">
          {pages.map((page) => (
            <li key={page.id} style={{ display: 'flex', gap: 8, padding: '3px 0' }}>
              <span style={{ flex: '0 0 160px' }}>{page.name}</span>
              <OutcomeWords page={page} outcome={outcomes.get(page.id)} isRunning={running === page.id} />
            </li>
          ))}
        </ul>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
        {running === null ? (
          <Button variant="contained" disabled={waiting.length === 0} onClick={() => void begin()}>
            {done === 0 ? `Check ${counted(pages.length, 'page')}` : `Go on with ${counted(waiting.length, 'page')}`}
          </Button>
        ) : (
          <Button variant="outlined" onClick={() => stop.current?.abort()}>
            Stop
          </Button>
        )}
      </DialogActions>
    </Dialog>
  );
}

interface OutcomeWordsProps {
  readonly page: PageView;
  readonly outcome: Outcome | undefined;
  readonly isRunning: boolean;
}

function OutcomeWords({ page, outcome, isRunning }: OutcomeWordsProps): ReactNode {
  if (outcome === undefined)
    return <Typography variant="body2">{isRunning ? 'is checked ...' : 'not checked yet'}</Typography>;
  if ('problem' in outcome)
    return (
      <Typography variant="body2" color="error">
        {outcome.problem}
      </Typography>
    );
  const all = [...outcome.open.values()].reduce((sum, one) => sum + one, 0);
  const kinds = [...outcome.open].sort(([, a], [, b]) => b - a).map(([kind, count]) => `${KIND_WORDS[kind]} ${count}`);
  return (
    <Typography variant="body2">
      {all === 0
        ? `nothing to settle${outcome.isCertified ? ', certified' : ''}`
        : `${counted(all, 'finding')} to settle: ${kinds.join(', ')} `}
      {all > 0 && <Link to={`/jobs/${page.jobId}/pages/${page.id}/check`}>Look</Link>}
    </Typography>
  );
}
