import type { JobView } from '@jumble/contracts';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState, type ReactNode } from 'react';
import { FormDialog } from '../notices/FormDialog.tsx';
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
  const send = async (trim: JobView['trim']): Promise<void> => {
    await request('PATCH', `/api/jobs/${job.id}`, { trim });
    onChanged();
  };
  const numbers = {
    widthMm: Number(values.widthMm),
    heightMm: Number(values.heightMm),
    bleedMm: Number(values.bleedMm),
  };
  return (
    <FormDialog
      title="Trim and bleed"
      action="Set"
      isComplete={FIELDS.every(([field]) => values[field].trim() !== '' && Number.isFinite(numbers[field]))}
      onSend={() => send(numbers)}
      other={job.trim === null ? undefined : { label: 'No trim', onSend: () => send(null) }}
      onClose={onClose}
    >
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
    </FormDialog>
  );
}
