import Box from '@mui/material/Box';
import type { ReactNode } from 'react';
import { tones } from '../theme.ts';

/** A key, as it stands on the keyboard. */
export function Key({ children }: { readonly children: ReactNode }): ReactNode {
  return (
    <Box
      component="kbd"
      sx={{
        font: 'inherit',
        fontWeight: 600,
        px: 0.5,
        border: `1px solid ${tones.line}`,
        borderRadius: 0.5,
        bgcolor: '#fff',
        whiteSpace: 'nowrap',
      }}
    >
      {children}
    </Box>
  );
}
