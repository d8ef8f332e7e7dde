import Box from '@mui/material/Box';
import type { ReactNode } from 'react';
import { tones } from '../../../theme.ts';

/** A small field of a colour, with its name. */
export function Swatch({ colour }: { readonly colour: string }): ReactNode {
  return (
    <>
      <Box
        component="span"
        aria-hidden
        sx={{
          display: 'inline-block',
          width: 12,
          height: 12,
          border: `1px solid ${tones.line}`,
          verticalAlign: -2,
          mr: 0.5,
        }}
        style={{ background: colour }}
      />
      {colour}
    </>
  );
}
