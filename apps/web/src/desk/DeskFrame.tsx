import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { tones } from '../theme.ts';

export interface DeskFrameProps {
  readonly title: string;
  /** Where the title stands under, if not at the top. */
  readonly parent?: { readonly label: string; readonly to: string };
  readonly subtitle?: ReactNode;
  readonly actions?: ReactNode;
  readonly children: ReactNode;
}

/** The frame of the views outside the page bench. */
export function DeskFrame({ title, parent, subtitle, actions, children }: DeskFrameProps): ReactNode {
  return (
    <Box sx={{ minHeight: '100%', display: 'grid', gridTemplateRows: 'auto 1fr' }}>
      <Box
        component="header"
        sx={{ px: 4, pt: 2.5, pb: 2, borderBottom: `1px solid ${tones.line}`, bgcolor: tones.sheet }}
      >
        <Box sx={{ maxWidth: 1180, mx: 'auto', display: 'flex', alignItems: 'flex-end', gap: 2 }}>
          <Box sx={{ flex: 1, minWidth: 0 }}>
            <Typography variant="caption" color="text.secondary" component="nav" aria-label="Where you are">
              <Link to="/" style={{ color: 'inherit' }}>
                Jumble
              </Link>
              {parent !== undefined && (
                <>
                  {' / '}
                  <Link to={parent.to} style={{ color: 'inherit' }}>
                    {parent.label}
                  </Link>
                </>
              )}
            </Typography>
            <Typography variant="h1" noWrap>
              {title}
            </Typography>
            {subtitle}
          </Box>
          {actions}
        </Box>
      </Box>
      <Box component="main" sx={{ px: 4, py: 3 }}>
        <Box sx={{ maxWidth: 1180, mx: 'auto' }}>{children}</Box>
      </Box>
    </Box>
  );
}
