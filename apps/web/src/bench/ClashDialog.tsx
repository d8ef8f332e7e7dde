import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogContentText from '@mui/material/DialogContentText';
import DialogTitle from '@mui/material/DialogTitle';
import type { ReactNode } from 'react';
import { useBench, useBenchState } from './state/benchContext.ts';
import { countText } from '../measures.ts';

/** Two tabs changed the same thing: the user chooses, nothing is dropped by itself. */
export function ClashDialog(): ReactNode {
  const bench = useBench();
  const clash = useBenchState((state) => state.clash);
  const count = clash?.keys.length ?? 0;
  return (
    <Dialog open={clash !== null} maxWidth="sm">
      <DialogTitle>Changed in two places</DialogTitle>
      <DialogContent>
        <DialogContentText>
          Here: &quot;{clash?.mine.label}&quot;. Meanwhile, elsewhere: &quot;
          {clash?.theirs.map((step) => step.label).join('", "')}&quot;. Both touch{' '}
          {count === 1 ? 'the same thing' : `${countText(count)} of the same things`}. Everything else of both is kept
          either way.
        </DialogContentText>
      </DialogContent>
      <DialogActions>
        <Button onClick={() => bench.resolveClash('theirs')}>Keep theirs</Button>
        <Button variant="contained" onClick={() => bench.resolveClash('mine')}>
          Use mine
        </Button>
      </DialogActions>
    </Dialog>
  );
}
