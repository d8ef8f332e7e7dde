import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';

/** A quiet line in a panel. */
export function Note({ children }: { readonly children: ReactNode }): ReactNode {
  return (
    <Typography variant="caption" color="text.secondary" sx={{ p: 1.25 }} component="p">
      {children}
    </Typography>
  );
}
