import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';
import { tones } from '../theme.ts';

/** What belongs together on a stage's panel. */
export function PanelSection({ title, children }: { readonly title: string; readonly children: ReactNode }): ReactNode {
  return (
    <Box component="section" aria-label={title} sx={{ px: 1.25, py: 1, borderBottom: `1px solid ${tones.line}` }}>
      <Typography variant="h3" component="h3" sx={{ mb: 0.5 }}>
        {title}
      </Typography>
      {children}
    </Box>
  );
}
