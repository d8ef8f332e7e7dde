import type { JobView } from '@jumble/contracts';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState, type ReactNode } from 'react';
import { request } from '../api/http.ts';

export interface TrimDialogProps {
  readonly job: JobView;
  readonly onClose: () => void;
  readonly onChanged: () => void;
}

const FIELDS = [
  ['widthMm', 'Width after the cut, mm'],
  ['heightMm', 'Height after the cut, mm'],
  ['bleedMm', 'Bleed on every side, mm'],
] as const;

/** The size pages are cut to, and how far the drawing goes on beyond it. */
export function TrimDialog({ job, onClose, onChanged }: TrimDialogProps): ReactNode {
  const [values, setValues] = useState({
    widthMm: String(job.trim?.widthMm ?? ''),
    heightMm: String(job.trim?.heightMm ?? ''),
    bleedMm: String(job.trim?.bleedMm ?? 3),
  });
  const [problem, setProblem] = useState<string | null>(null);
  const send = async (trim: JobView['trim']): Promise<void> => {
    try {
      await request('PATCH', `/api/jobs/${job.id}`, { trim });
      onChanged();
      onClose();
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  const numbers = {
    widthMm: Number(values.widthMm),
    heightMm: Number(values.heightMm),
    bleedMm: Number(values.bleedMm),
  };
  return (
    <Dialog open onClose={onClose} maxWidth="xs" fullWidth>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          void send(numbers);
        }}
      >
        <DialogTitle>Trim and bleed</DialogTitle>
        <DialogContent sx={{ display: 'grid', gap: 2 }}>
          <Typography variant="body2" color="text.secondary">
            Shown as lines on every page of the job whose resolution is known, in the middle of the file.
          </Typography>
          {FIELDS.map(([field, label]) => (
            <TextField
              key={field}
              label={label}
              required
              value={values[field]}
              onChange={(event) => setValues({ ...values, [field]: event.target.value })}
              error={values[field] !== '' && !(numbers[field] >= 0)}
              slotProps={{ htmlInput: { inputMode: 'decimal' } }}
            />
          ))}
          {problem !== null && (
            <Typography variant="body2" color="error">
              {problem}
            </Typography>
          )}
        </DialogContent>
        <DialogActions>
          {job.trim !== null && <Button onClick={() => void send(null)}>No trim</Button>}
          <Button onClick={onClose}>Cancel</Button>
          <Button
            type="submit"
            variant="contained"
            disabled={FIELDS.some(([field]) => values[field].trim() === '' || !Number.isFinite(numbers[field]))}
          >
            Set
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
