import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Typography from '@mui/material/Typography';
import type { SxProps } from '@mui/material/styles';
import { useState, type ReactNode } from 'react';

export interface FormDialogProps {
  readonly title: string;
  readonly action: string;
  /** Whether it can be sent now. @default yes */
  readonly isComplete?: boolean;
  /** Sends it; what it throws is shown, and nothing is closed. */
  readonly onSend: () => Promise<void>;
  readonly onClose: () => void;
  /** Another thing that can be done instead. */
  readonly other?: { readonly label: string; readonly onSend: () => Promise<void> } | undefined;
  readonly width?: 'xs' | 'sm';
  readonly layout?: SxProps;
  readonly children: ReactNode;
}

/** A form that is sent as a whole, and says what was wrong with it. */
export function FormDialog(props: FormDialogProps): ReactNode {
  const { title, action, isComplete = true, onSend, onClose, other, width = 'xs', layout = {}, children } = props;
  const [problem, setProblem] = useState<string | null>(null);
  const send = async (act: () => Promise<void>): Promise<void> => {
    try {
      await act();
      onClose();
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  return (
    <Dialog open onClose={onClose} maxWidth={width} fullWidth>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          void send(onSend);
        }}
      >
        <DialogTitle>{title}</DialogTitle>
        <DialogContent sx={{ display: 'grid', gap: 2, pt: '8px !important', ...layout }}>
          {children}
          {problem !== null && (
            <Typography variant="body2" color="error" role="alert" sx={{ gridColumn: '1 / -1' }}>
              {problem}
            </Typography>
          )}
        </DialogContent>
        <DialogActions>
          {other !== undefined && <Button onClick={() => void send(other.onSend)}>{other.label}</Button>}
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={!isComplete}>
            {action}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
