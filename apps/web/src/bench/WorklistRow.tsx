import Box from '@mui/material/Box';
import type { ReactNode } from 'react';
import { tones } from '../theme.ts';
import { PageCrop, type PageCropProps } from './PageCrop.tsx';

export interface WorklistRowProps {
  readonly crop: PageCropProps;
  readonly current: boolean;
  readonly onStand: () => void;
  readonly children: ReactNode;
}

/** An open decision: a small picture, its measures, and a mark where the worklist stands. */
export function WorklistRow({ crop, current, onStand, children }: WorklistRowProps): ReactNode {
  return (
    <Box
      component="li"
      aria-current={current}
      onClick={onStand}
      sx={{
        display: 'flex',
        alignItems: 'center',
        gap: 1,
        px: 1.25,
        py: 0.5,
        cursor: 'pointer',
        borderBottom: `1px solid ${tones.chromeDark}`,
        bgcolor: current ? '#fff' : 'transparent',
        boxShadow: current ? `inset 3px 0 0 ${tones.accent}` : 'none',
        '&:hover': { bgcolor: '#fff' },
      }}
    >
      <PageCrop {...crop} />
      <Box sx={{ minWidth: 0 }}>{children}</Box>
    </Box>
  );
}
