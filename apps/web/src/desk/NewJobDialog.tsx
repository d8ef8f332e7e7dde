import type { JobView } from '@jumble/contracts';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { useState, type ReactNode } from 'react';
import { request } from '../api/http.ts';

export interface NewJobDialogProps {
  readonly open: boolean;
  readonly onClose: () => void;
  readonly onCreated: (job: JobView) => void;
}

export function NewJobDialog({ open, onClose, onCreated }: NewJobDialogProps): ReactNode {
  const [name, setName] = useState('');
  const [dueOn, setDueOn] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const create = async (): Promise<void> => {
    try {
      const job = await request<JobView>('POST', '/api/jobs', { name, dueOn: dueOn === '' ? null : dueOn });
      setName('');
      setDueOn('');
      setProblem(null);
      onClose();
      onCreated(job);
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  return (
    <Dialog open={open} onClose={onClose} maxWidth="xs" fullWidth>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          void create();
        }}
      >
        <DialogTitle>New job</DialogTitle>
        <DialogContent sx={{ display: 'grid', gap: 2 }}>
          <TextField
            autoFocus
            required
            margin="dense"
            label="Name of the comic or chapter"
            value={name}
            onChange={(event) => setName(event.target.value)}
            error={problem !== null}
            helperText={problem ?? ' '}
            slotProps={{ htmlInput: { maxLength: 120 } }}
          />
          <TextField
            type="date"
            label="Flats due on (optional)"
            value={dueOn}
            onChange={(event) => setDueOn(event.target.value)}
            slotProps={{ inputLabel: { shrink: true } }}
          />
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={name.trim() === ''}>
            Begin the job
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
