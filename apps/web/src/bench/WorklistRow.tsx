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
  // A long list is laid out and painted where it is in view.
  contentVisibility: 'auto',
  containIntrinsicHeight: 'auto 52px',
  borderBottom: `1px solid ${tones.chromeDark}`,
  '&[aria-current="true"]': { background: '#fff', boxShadow: `inset 3px 0 0 ${tones.accent}` },
  '&:hover': { background: '#fff' },
});

const Words = styled('div')({ minWidth: 0 });

/** An open decision: a small picture, its measures, and a mark where the worklist stands. */
export function WorklistRow({ crop, current, onStand, children }: WorklistRowProps): ReactNode {
  return (
    <Row aria-current={current} onClick={onStand}>
      <PageCrop {...crop} />
      <Words>{children}</Words>
    </Row>
  );
}
