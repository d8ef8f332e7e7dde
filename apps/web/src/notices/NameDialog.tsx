import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { useState, type ReactNode } from 'react';

export interface NameDialogProps {
  readonly title: string;
  readonly name: string;
  readonly action: string;
  /** Names that others have, whatever their case. */
  readonly taken?: readonly string[];
  readonly hint?: string;
  readonly onClose: () => void;
  readonly onName: (name: string) => void;
  /** What else the name's owner needs to be told. */
  readonly children?: ReactNode;
  /** Stands left of the buttons. */
  readonly aside?: ReactNode;
}

/** Asks for a name. */
export function NameDialog(props: NameDialogProps): ReactNode {
  const { title, name, action, taken = [], hint = ' ', onClose, onName, children, aside } = props;
  const [text, setText] = useState(name);
  const clean = text.trim();
  const twin = taken.some((one) => one.toLowerCase() === clean.toLowerCase());
  return (
    <Dialog open onClose={onClose} maxWidth="xs" fullWidth>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (clean === '' || twin) return;
          onName(clean);
          onClose();
        }}
      >
        <DialogTitle>{title}</DialogTitle>
        <DialogContent>
          <TextField
            autoFocus
            fullWidth
            margin="dense"
            label="Name"
            value={text}
            onChange={(event) => setText(event.target.value)}
            error={twin}
            helperText={twin ? 'There is one of this name already.' : hint}
            slotProps={{ htmlInput: { maxLength: 80 } }}
          />
          {children}
        </DialogContent>
        <DialogActions>
          {aside}
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={clean === '' || twin}>
            {action}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
