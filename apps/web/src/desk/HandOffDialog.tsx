import type { DocumentView, JobView, PackageView } from '@jumble/contracts';
import { readCastSheet } from '@jumble/core';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import useSWR from 'swr';
import { request } from '../api/http.ts';
import { ruleInWords } from '../handoff/deliveryWords.ts';
import { counted } from '../measures.ts';
import { progressText } from './progress.ts';

export interface HandOffDialogProps {
  readonly job: JobView;
  /** Pages that were chosen before; none is all. */
  readonly chosen: ReadonlySet<string>;
  readonly onClose: () => void;
  readonly onBegun: () => void;
}

/** Chooses pages and a delivery rule, and begins to pack. */
export function HandOffDialog({ job, chosen, onClose, onBegun }: HandOffDialogProps): ReactNode {
  const { data } = useSWR<DocumentView, Error>(`/api/jobs/${job.id}/cast`);
  const [leftOut, setLeftOut] = useState<ReadonlySet<string>>(
    new Set(chosen.size === 0 ? [] : job.pages.map(({ id }) => id).filter((id) => !chosen.has(id))),
  );
  const [deliveryId, setDeliveryId] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const deliveries = data === undefined ? [] : readCastSheet(new Map(data.records)).deliveries;
  const rule = deliveries.find(({ id }) => id === deliveryId) ?? deliveries[0];
  const pageIds = job.pages.map(({ id }) => id).filter((id) => !leftOut.has(id));
  const begin = async (): Promise<void> => {
    try {
      await request<PackageView>('POST', `/api/jobs/${job.id}/packages`, { pageIds, deliveryId: rule!.id });
      onBegun();
      onClose();
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  const toggle = (id: string): void => {
    const next = new Set(leftOut);
    if (!next.delete(id)) next.add(id);
    setLeftOut(next);
  };
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle>Hand off pages</DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 1.5 }}>
        <TextField
          select
          margin="dense"
          label="Delivery rule"
          value={rule?.id ?? ''}
          onChange={(event) => setDeliveryId(event.target.value)}
          helperText={rule === undefined ? ' ' : ruleInWords(rule)}
        >
          {deliveries.map(({ id, name }) => (
            <MenuItem key={id} value={id}>
              {name}
            </MenuItem>
          ))}
        </TextField>
        <div role="group" aria-label="Pages">
          {job.pages.map((page, k) => (
            <label key={page.id} style={{ display: 'flex', gap: 8, fontSize: 13, padding: '2px 0' }}>
              <input type="checkbox" checked={!leftOut.has(page.id)} onChange={() => toggle(page.id)} />
              <span style={{ flex: 1 }}>
                {k + 1}. {page.name}
              </span>
              <span>{progressText(page.filledCount, page.regionCount)}</span>
            </label>
          ))}
        </div>
        <Typography variant="caption" color="text.secondary">
          What a rule says is changed on the stage Hand off of a page. The package lies in the{' '}
          <Link to="/outbox">outbox</Link> when it is packed; it goes on after a restart.
        </Typography>
        {problem !== null && (
          <Typography variant="body2" color="error">
            {problem}
          </Typography>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button variant="contained" disabled={pageIds.length === 0 || rule === undefined} onClick={() => void begin()}>
          Hand off {counted(pageIds.length, 'page')}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
