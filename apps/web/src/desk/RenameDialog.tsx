import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { useState, type ReactNode } from 'react';

export interface RenameDialogProps {
  readonly open: boolean;
  readonly name: string;
  readonly onClose: () => void;
  readonly onRename: (name: string) => void;
}

export function RenameDialog({ open, name, onClose, onRename }: RenameDialogProps): ReactNode {
  return (
    <Dialog open={open} onClose={onClose} maxWidth="xs" fullWidth>
      {open && <RenameForm name={name} onClose={onClose} onRename={onRename} />}
    </Dialog>
  );
}

function RenameForm({ name, onClose, onRename }: Omit<RenameDialogProps, 'open'>): ReactNode {
  const [text, setText] = useState(name);
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        onClose();
        onRename(text.trim());
      }}
    >
      <DialogTitle>Rename</DialogTitle>
      <DialogContent>
        <TextField
          autoFocus
          fullWidth
          margin="dense"
          label="Name"
          value={text}
          onChange={(event) => setText(event.target.value)}
          slotProps={{ htmlInput: { maxLength: 80 } }}
        />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button type="submit" variant="contained" disabled={text.trim() === ''}>
          Rename
        </Button>
      </DialogActions>
    </form>
  );
}
