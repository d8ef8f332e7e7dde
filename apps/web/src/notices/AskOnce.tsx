import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogContentText from '@mui/material/DialogContentText';
import DialogTitle from '@mui/material/DialogTitle';
import type { ReactNode } from 'react';

export interface AskOnceProps {
  readonly open: boolean;
  readonly title: string;
  /** Names what is lost. */
  readonly text: string;
  readonly action: string;
  readonly onClose: () => void;
  readonly onConfirm: () => void;
}

/** Asks once before something is lost. */
export function AskOnce({ open, title, text, action, onClose, onConfirm }: AskOnceProps): ReactNode {
  return (
    <Dialog open={open} onClose={onClose} maxWidth="xs" fullWidth>
      <DialogTitle>{title}</DialogTitle>
      <DialogContent>
        <DialogContentText>{text}</DialogContentText>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose} autoFocus>
          Keep it
        </Button>
        <Button
          color="error"
          variant="contained"
          onClick={() => {
            onClose();
            onConfirm();
          }}
        >
          {action}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
