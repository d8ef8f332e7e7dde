import type { PageView } from '@jumble/contracts';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogContentText from '@mui/material/DialogContentText';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { useState, type ReactNode } from 'react';
import { MAX_DPI, MIN_DPI } from '@jumble/core';
import { request } from '../api/http.ts';
import { useNotices } from '../notices/NoticeProvider.tsx';
import { printSize } from './progress.ts';

/** Asks for what a file did not say. Without it nothing can be told in mm. */
export function ResolutionDialog({
  page,
  onDone,
}: {
  readonly page: PageView | null;
  readonly onDone: () => void;
}): ReactNode {
  return (
    <Dialog open={page !== null} onClose={onDone} maxWidth="xs" fullWidth>
      {page !== null && <ResolutionForm key={page.id} page={page} onDone={onDone} />}
    </Dialog>
  );
}

function ResolutionForm({ page, onDone }: { readonly page: PageView; readonly onDone: () => void }): ReactNode {
  const [text, setText] = useState(String(page.dpi ?? 300));
  const { fail } = useNotices();
  const dpi = Number(text);
  const good = Number.isInteger(dpi) && dpi >= MIN_DPI && dpi <= MAX_DPI;
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        void request('PATCH', `/api/pages/${page.id}`, { dpi }).catch(fail).then(onDone);
      }}
    >
      <DialogTitle>Resolution of &quot;{page.name}&quot;</DialogTitle>
      <DialogContent>
        <DialogContentText sx={{ mb: 2 }}>
          {page.dpi === null ? 'The file does not say at which resolution it was made. ' : ''}
          Sizes in mm and the resolution of the hand-off follow from it.
        </DialogContentText>
        <TextField
          autoFocus
          label="Resolution in dpi"
          value={text}
          onChange={(event) => setText(event.target.value)}
          error={!good}
          helperText={
            good
              ? `The page then measures ${printSize({ ...page, dpi })}.`
              : `A whole number from ${MIN_DPI} to ${MAX_DPI}.`
          }
          slotProps={{ htmlInput: { inputMode: 'numeric' } }}
          fullWidth
        />
      </DialogContent>
      <DialogActions>
        <Button onClick={onDone}>Leave it open</Button>
        <Button type="submit" variant="contained" disabled={!good}>
          Set the resolution
        </Button>
      </DialogActions>
    </form>
  );
}
