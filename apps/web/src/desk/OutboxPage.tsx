import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';
import { PackageRow } from '../handoff/PackageRow.tsx';
import { usePackages } from '../handoff/usePackages.ts';
import { DeskFrame } from './DeskFrame.tsx';

/** What was handed off, of all jobs, the newest first; it stands in for the service that delivers. */
export function OutboxPage(): ReactNode {
  const { data: packages, error, mutate } = usePackages(null);
  return (
    <DeskFrame title="Outbox" parent={{ label: 'Desk', to: '/' }}>
      {error !== undefined && <Alert severity="error">{error.message}</Alert>}
      {packages?.length === 0 && (
        <Typography color="text.secondary" sx={{ py: 6, textAlign: 'center' }}>
          Nothing was handed off yet. Open a page and go on to Hand off, or take several pages from their job.
        </Typography>
      )}
      {packages !== undefined && packages.length > 0 && (
        <Box component="ul" aria-label="Packages" sx={{ m: 0, p: 0, listStyle: 'none' }}>
          {packages.map((pack) => (
            <PackageRow key={pack.id} pack={pack} withJob onChanged={() => void mutate()} />
          ))}
        </Box>
      )}
    </DeskFrame>
  );
}
