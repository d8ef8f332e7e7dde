import type { PageView, ScannerView } from '@jumble/contracts';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import LinearProgress from '@mui/material/LinearProgress';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState, type ReactNode } from 'react';
import { request } from '../api/http.ts';

export interface ScanDialogProps {
  readonly open: boolean;
  readonly jobId: string;
  readonly scanner: ScannerView;
  readonly onClose: () => void;
  readonly onScanned: (page: PageView) => void;
}

/** Takes a sheet off the scanner's tray as a new page. */
export function ScanDialog({ open, jobId, scanner, onClose, onScanned }: ScanDialogProps): ReactNode {
  const [sheetId, setSheetId] = useState(scanner.sheets[0]?.id ?? '');
  const [skew, setSkew] = useState('0.8');
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const skewDegrees = Number(skew);
  const wrong = skew.trim() === '' || !(Math.abs(skewDegrees) <= 5);
  const scan = async (): Promise<void> => {
    setBusy(true);
    setProblem(null);
    try {
      onScanned(await request<PageView>('POST', `/api/jobs/${jobId}/scans`, { sheetId, skewDegrees }));
      onClose();
    } catch (error) {
      setProblem((error as Error).message);
    } finally {
      setBusy(false);
    }
  };
  return (
    <Dialog open={open} onClose={busy ? undefined : onClose} maxWidth="xs" fullWidth>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          void scan();
        }}
      >
        <DialogTitle>Scan a page</DialogTitle>
        <DialogContent sx={{ display: 'grid', gap: 2 }}>
          <Typography variant="body2" color="text.secondary">
            {scanner.name}: grey paper, uneven light, noise and dust, as a real one has.
          </Typography>
          <TextField select label="Sheet" value={sheetId} onChange={(event) => setSheetId(event.target.value)}>
            {scanner.sheets.map((sheet) => (
              <MenuItem key={sheet.id} value={sheet.id}>
                {sheet.name}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            label="Laid down turned by, degrees clockwise"
            value={skew}
            onChange={(event) => setSkew(event.target.value)}
            error={wrong || problem !== null}
            helperText={wrong ? 'A number from -5 to 5' : (problem ?? ' ')}
          />
          {busy && <LinearProgress aria-label="Scanning" />}
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose} disabled={busy}>
            Cancel
          </Button>
          <Button type="submit" variant="contained" disabled={busy || wrong || sheetId === ''}>
            Scan
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
