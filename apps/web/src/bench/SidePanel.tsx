import ChevronLeftIcon from '@mui/icons-material/ChevronLeft';
import ChevronRightIcon from '@mui/icons-material/ChevronRight';
import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import Typography from '@mui/material/Typography';
import { useState, type ReactNode } from 'react';
import { tones } from '../theme.ts';

export interface SidePanelProps {
  readonly side: 'left' | 'right';
  readonly name: string;
  readonly children: ReactNode;
}

const LEAST_PX = 200;
const MOST_PX = 440;
const FOLDED_PX = 28;

/** A panel beside the page: its width and whether it is folded survive a reload. */
export function SidePanel({ side, name, children }: SidePanelProps): ReactNode {
  const [width, setWidth] = useKept(`jumble.panel.${side}.width`, side === 'left' ? 236 : 262);
  const [folded, setFolded] = useKept(`jumble.panel.${side}.folded`, 0);
  const edge = side === 'left' ? 'borderRight' : 'borderLeft';
  const Icon = (side === 'left') === (folded === 1) ? ChevronRightIcon : ChevronLeftIcon;
  return (
    <Box
      component="section"
      aria-label={name}
      sx={{
        width: folded === 1 ? FOLDED_PX : width,
        flexShrink: 0,
        bgcolor: tones.chrome,
        [edge]: `1px solid ${tones.line}`,
        position: 'relative',
        display: 'flex',
        flexDirection: 'column',
        minHeight: 0,
      }}
    >
      <Box
        sx={{
          display: 'flex',
          alignItems: 'center',
          height: 30,
          pl: folded === 1 ? 0 : 1.25,
          borderBottom: `1px solid ${tones.line}`,
          flexShrink: 0,
        }}
      >
        {folded === 0 && (
          <Typography variant="h3" component="h2" sx={{ flex: 1 }} noWrap>
            {name}
          </Typography>
        )}
        <Tooltip title={folded === 1 ? `Unfold: ${name}` : 'Fold'}>
          <IconButton
            aria-label={folded === 1 ? `Unfold ${name}` : `Fold ${name}`}
            onClick={() => setFolded(1 - folded)}
          >
            <Icon sx={{ fontSize: 18 }} />
          </IconButton>
        </Tooltip>
      </Box>
      <Box sx={{ flex: 1, minHeight: 0, display: folded === 1 ? 'none' : 'flex', flexDirection: 'column' }}>
        {children}
      </Box>
      {folded === 0 && (
        <Box
          role="separator"
          aria-orientation="vertical"
          aria-label={`Width of ${name}`}
          aria-valuenow={width}
          aria-valuemin={LEAST_PX}
          aria-valuemax={MOST_PX}
          sx={{
            position: 'absolute',
            top: 0,
            bottom: 0,
            [side === 'left' ? 'right' : 'left']: -3,
            width: 6,
            cursor: 'col-resize',
            zIndex: 2,
            touchAction: 'none',
          }}
          onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
          onPointerMove={(event) => {
            if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
            const wanted = side === 'left' ? event.clientX : window.innerWidth - event.clientX;
            setWidth(Math.min(MOST_PX, Math.max(LEAST_PX, Math.round(wanted))));
          }}
        />
      )}
    </Box>
  );
}

function useKept(key: string, initial: number): [number, (value: number) => void] {
  const [value, setValue] = useState(() => {
    const kept = Number(localStorage.getItem(key) ?? initial);
    return Number.isFinite(kept) ? kept : initial;
  });
  return [
    value,
    (next) => {
      localStorage.setItem(key, String(next));
      setValue(next);
    },
  ];
}
