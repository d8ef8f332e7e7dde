import { colourOfPart, type CastPart, type CastSheet } from '@jumble/core';
import EditOutlinedIcon from '@mui/icons-material/EditOutlined';
import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import Typography from '@mui/material/Typography';
import { useEffect, useRef, type ReactNode } from 'react';
import { tones } from '../../theme.ts';

export interface PartRowProps {
  readonly part: CastPart;
  readonly cast: CastSheet;
  readonly scene: string | null;
  readonly current: boolean;
  /** Regions on this page. */
  readonly count: number;
  readonly onChoose: () => void;
  readonly onEdit: (colour: string) => void;
}

/** A part with its swatch, key and count; the current one is framed and says so. */
export function PartRow({ part, cast, scene, current, count, onChoose, onEdit }: PartRowProps): ReactNode {
  const colour = colourOfPart(cast, part.id, scene);
  const real = cast.colours.get(scene ?? cast.scenes[0]?.id ?? '')?.get(part.id) ?? colour;
  const row = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (current) row.current?.scrollIntoView({ block: 'nearest' });
  }, [current]);
  return (
    <Box
      ref={row}
      sx={{
        display: 'flex',
        alignItems: 'stretch',
        mx: 0.75,
        border: '2px solid',
        borderColor: current ? tones.accent : 'transparent',
        borderRadius: 1,
        bgcolor: current ? '#fff' : 'transparent',
        '&:hover': { bgcolor: '#fff' },
        '& .edit': { opacity: current ? 1 : 0 },
        '&:hover .edit, & .edit:focus-visible': { opacity: 1 },
      }}
    >
      <Box
        component="button"
        role="radio"
        aria-checked={current}
        onClick={onChoose}
        sx={{
          all: 'unset',
          flex: 1,
          minWidth: 0,
          display: 'flex',
          alignItems: 'center',
          gap: 1,
          p: 0.375,
          cursor: 'pointer',
          '&:focus-visible': { outline: `2px solid ${tones.accent}` },
        }}
      >
        <Box
          sx={{
            width: 34,
            height: 24,
            flexShrink: 0,
            border: '1px solid rgba(0,0,0,0.35)',
            bgcolor: part.empty ? '#fff' : colour,
            display: 'grid',
            placeItems: 'center',
            color: tones.quiet,
            fontSize: 11,
          }}
        >
          {part.empty ? 'none' : ''}
        </Box>
        <Typography variant="body2" noWrap sx={{ flex: 1, fontWeight: current ? 600 : 400 }}>
          {part.name}
        </Typography>
        <Typography variant="caption" color="text.secondary" sx={{ fontVariantNumeric: 'tabular-nums' }}>
          {count === 0 ? '' : count}
        </Typography>
        <Box
          sx={{
            width: 18,
            textAlign: 'center',
            fontSize: 12,
            fontWeight: 600,
            border: part.slot === null ? 'none' : `1px solid ${tones.line}`,
            borderRadius: 0.5,
            bgcolor: '#fff',
          }}
        >
          {part.slot ?? ''}
        </Box>
      </Box>
      <Tooltip title={`Change ${part.name}`}>
        <IconButton className="edit" aria-label={`Change ${part.name}`} onClick={() => onEdit(real)} sx={{ p: 0.25 }}>
          <EditOutlinedIcon sx={{ fontSize: 16 }} />
        </IconButton>
      </Tooltip>
    </Box>
  );
}
