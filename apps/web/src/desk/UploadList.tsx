import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';
import type { Uploads } from './useUploads.ts';

const WORDS = { waiting: 'waits', sending: 'is sent', reading: 'is read', failed: '' } as const;

/** Files on their way, and those that were no pages with the reason. */
export function UploadList({ uploads }: { readonly uploads: Uploads }): ReactNode {
  if (uploads.list.length === 0) return null;
  return (
    <Box sx={{ display: 'grid', gap: 1, mb: 2 }} aria-live="polite">
      {uploads.list.map((upload) =>
        upload.state === 'failed' ? (
          <Alert key={upload.id} severity="error" onClose={() => uploads.dismiss(upload.id)}>
            <b>{upload.name}</b>: {upload.problem}
          </Alert>
        ) : (
          <Box key={upload.id} sx={{ display: 'flex', alignItems: 'center', gap: 2 }}>
            <Typography variant="body2" noWrap sx={{ width: 260 }}>
              {upload.name} {WORDS[upload.state]}
            </Typography>
            <LinearProgress
              sx={{ flex: 1 }}
              variant={upload.state === 'reading' ? 'indeterminate' : 'determinate'}
              value={upload.share * 100}
              aria-label={`Upload of ${upload.name}`}
            />
            <Button onClick={() => uploads.cancel(upload.id)}>Cancel</Button>
          </Box>
        ),
      )}
    </Box>
  );
}
