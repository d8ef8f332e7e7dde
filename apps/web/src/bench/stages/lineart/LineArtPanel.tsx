import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';
import { tones } from '../../../theme.ts';
import { CleanUp } from './CleanUp.tsx';
import { Facts } from './Facts.tsx';
import { InkFiles } from './InkFiles.tsx';
import { Panels } from './Panels.tsx';

/** The drawing itself: what was measured, how it is read, its files and its panels. */
export function LineArtPanel(): ReactNode {
  return (
    <Box sx={{ overflowY: 'auto', flex: 1 }}>
      <Section name="Reading">
        <CleanUp />
      </Section>
      <Section name="Measured">
        <Facts />
      </Section>
      <Section name="Panels">
        <Panels />
      </Section>
      <Section name="Ink files">
        <InkFiles />
      </Section>
    </Box>
  );
}

function Section({ name, children }: { readonly name: string; readonly children: ReactNode }): ReactNode {
  return (
    <Box component="section" sx={{ px: 1.25, py: 1, borderBottom: `1px solid ${tones.line}` }} aria-label={name}>
      <Typography variant="h3" component="h2" sx={{ mb: 0.5 }}>
        {name}
      </Typography>
      {children}
    </Box>
  );
}
