import Box from '@mui/material/Box';
import { styled } from '@mui/material/styles';
import type { ReactNode } from 'react';
import { tones } from '../theme.ts';
import { PageCrop, type PageCropProps } from './PageCrop.tsx';

export interface WorklistRowProps {
  readonly crop: PageCropProps;
  readonly current: boolean;
  readonly onStand: () => void;
  readonly children: ReactNode;
}

const Row = styled('li')({
  display: 'flex',
  alignItems: 'center',
  gap: 8,
  padding: '4px 10px',
  cursor: 'pointer',
  borderBottom: `1px solid ${tones.chromeDark}`,
  '&[aria-current="true"]': { background: '#fff', boxShadow: `inset 3px 0 0 ${tones.accent}` },
  '&:hover': { background: '#fff' },
});

/** An open decision: a small picture, its measures, and a mark where the worklist stands. */
export function WorklistRow({ crop, current, onStand, children }: WorklistRowProps): ReactNode {
  return (
    <Row aria-current={current} onClick={onStand}>
      <PageCrop {...crop} />
      <Box sx={{ minWidth: 0 }}>{children}</Box>
    </Row>
  );
}
