import { readHistory } from '@jumble/core';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Typography from '@mui/material/Typography';
import dayjs from 'dayjs';
import { useState, type ReactNode } from 'react';
import { useBench, useBenchState } from './state/benchContext.ts';
import { goToStep } from './page/steps.ts';

/** What was done on this page and to the cast sheet, in words, the latest first. */
export function HistoryDialog({ open, onClose }: { readonly open: boolean; readonly onClose: () => void }): ReactNode {
  return (
    <Dialog open={open} onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle>History</DialogTitle>
      <DialogContent>
        <Steps />
      </DialogContent>
    </Dialog>
  );
}

function Steps(): ReactNode {
  const bench = useBench();
  const [going, setGoing] = useState(false);
  const history = useBenchState((state) => state.history);
  const { undo, redo } = readHistory(history);
  const done = new Set(undo);
  const steps = history.filter((step) => step.kind === 'do').reverse();
  return (
    <>
      {steps.length === 0 && (
        <Typography color="text.secondary">Nothing yet. Choose a part and click a region.</Typography>
      )}
      <Box component="ol" sx={{ m: 0, p: 0, listStyle: 'none', fontSize: 13 }}>
        {steps.map((step) => (
          <Box
            component="li"
            key={step.seq}
            sx={{ display: 'flex', gap: 2, py: 0.5, color: done.has(step.seq) ? 'text.primary' : 'text.secondary' }}
          >
            <Box sx={{ width: 92, flexShrink: 0, color: 'text.secondary' }}>{dayjs(step.at).format('D MMM HH:mm')}</Box>
            <Box sx={{ textDecoration: done.has(step.seq) ? 'none' : 'line-through' }}>{step.label}</Box>
            {!done.has(step.seq) && <Box>undone</Box>}
            {step.seq !== undo.at(-1) && (done.has(step.seq) || redo.includes(step.seq)) && (
              <Button
                disabled={going}
                sx={{ py: 0, ml: 'auto', flexShrink: 0 }}
                onClick={() => {
                  setGoing(true);
                  void goToStep(bench, step.seq).finally(() => setGoing(false));
                }}
              >
                Go to here
              </Button>
            )}
          </Box>
        ))}
      </Box>
    </>
  );
}
