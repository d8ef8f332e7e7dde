import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import type { ReactNode } from 'react';

export interface IconActionProps {
  readonly name: string;
  readonly disabled: boolean;
  readonly onClick: () => void;
  readonly children: ReactNode;
}

/** A small button that is a picture, with its name for who points at it and who listens. */
export function IconAction({ name, disabled, onClick, children }: IconActionProps): ReactNode {
  return (
    <Tooltip title={name}>
      <span>
        <IconButton aria-label={name} disabled={disabled} onClick={onClick} sx={{ p: 0.25 }}>
          {children}
        </IconButton>
      </span>
    </Tooltip>
  );
}
