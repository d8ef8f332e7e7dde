import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogContentText from '@mui/material/DialogContentText';
import DialogTitle from '@mui/material/DialogTitle';
import type { ReactNode } from 'react';
import { durationText } from '../measures.ts';
import type { Away } from './useWorkTime.ts';

/** Asks once about time away that could have been work. */
export function AwayDialog(props: {
  readonly away: Away | null;
  readonly onAnswer: (wasWork: boolean) => void;
}): ReactNode {
  const { away, onAnswer } = props;
  if (away === null) return null;
  return (
    <Dialog open onClose={() => onAnswer(false)} maxWidth="xs" fullWidth>
      <DialogTitle>Was that work on this page?</DialogTitle>
      <DialogContent>
        <DialogContentText>
          Nothing was done here for {durationText(Math.round((away.toMs - away.fromMs) / 1000))}. Looking at a drawing
          is work too; it is counted if you say so.
        </DialogContentText>
      </DialogContent>
      <DialogActions>
        <Button onClick={() => onAnswer(true)}>Count it</Button>
        <Button variant="contained" autoFocus onClick={() => onAnswer(false)}>
          It was not
        </Button>
      </DialogActions>
    </Dialog>
  );
}
