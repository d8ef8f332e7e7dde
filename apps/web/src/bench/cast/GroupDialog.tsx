import { editGroup, type CastSheet } from '@jumble/core';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { useState, type ReactNode } from 'react';
import { useBench } from '../state/benchContext.ts';
import { newId } from './castEdits.ts';

export interface GroupDialogProps {
  readonly group: { readonly id: string | null; readonly name: string };
  readonly cast: CastSheet;
  readonly onClose: () => void;
}

/** Adds or renames a character, prop or set; one without parts can be taken away. */
export function GroupDialog({ group, cast, onClose }: GroupDialogProps): ReactNode {
  const bench = useBench();
  const [name, setName] = useState(group.name);
  const twin = cast.groups.some((one) => one.id !== group.id && one.name.toLowerCase() === name.trim().toLowerCase());
  const known = cast.groups.find((one) => one.id === group.id);
  const used = cast.parts.some((part) => part.groupId === group.id);
  const save = (): void => {
    const order = known?.order ?? Math.max(-1, ...cast.groups.map((one) => one.order)) + 1;
    const label = group.id === null ? `Add ${name.trim()} to the cast` : `Rename ${group.name} to ${name.trim()}`;
    bench.changeCast(label, [editGroup({ id: group.id ?? newId(), name: name.trim(), order })]);
    onClose();
  };
  return (
    <Dialog open onClose={onClose} maxWidth="xs" fullWidth>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (name.trim() !== '' && !twin) save();
        }}
      >
        <DialogTitle>{group.id === null ? 'New character, prop or set' : 'Rename'}</DialogTitle>
        <DialogContent>
          <TextField
            autoFocus
            fullWidth
            margin="dense"
            label="Name"
            value={name}
            onChange={(event) => setName(event.target.value)}
            error={twin}
            helperText={twin ? 'There is one of this name already.' : ' '}
            slotProps={{ htmlInput: { maxLength: 80 } }}
          />
        </DialogContent>
        <DialogActions>
          {known !== undefined && !used && (
            <Button
              color="error"
              sx={{ mr: 'auto' }}
              onClick={() => {
                bench.changeCast(`Delete ${known.name} from the cast`, [{ key: `group/${known.id}`, value: null }]);
                onClose();
              }}
            >
              Delete
            </Button>
          )}
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={name.trim() === '' || twin}>
            {group.id === null ? 'Add' : 'Rename'}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
