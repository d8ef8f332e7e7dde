import EditOutlinedIcon from '@mui/icons-material/EditOutlined';
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import Typography from '@mui/material/Typography';
import useSWR from 'swr';
import { memo, useEffect, useRef, type ReactNode } from 'react';
import { tones } from '../../theme.ts';
import { inksUrl, inkSum, type Inks } from '../page/inkSums.ts';
import { useBenchState } from '../state/benchContext.ts';

export interface PartRowProps {
  readonly id: string;
  readonly name: string;
  readonly slot: string | null;
  readonly empty: boolean;
  /** What it shows, and its colour in the page's scene. */
  readonly colour: string;
  readonly real: string;
  readonly current: boolean;
  readonly onChoose: (partId: string) => void;
  readonly onEdit: (partId: string, colour: string) => void;
}

/** A part with its swatch, key and count; the current one is framed and says so. A cast may have thousands: each draws itself anew only when it changed. */
export const PartRow = memo(function PartRow(props: PartRowProps): ReactNode {
  const { id, name, slot, empty, colour, real, current, onChoose, onEdit } = props;
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
        onClick={() => onChoose(id)}
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
            display: 'grid',
            placeItems: 'center',
            color: tones.quiet,
            fontSize: 11,
          }}
          style={{ background: empty ? '#fff' : colour }}
        >
          {empty ? 'none' : ''}
        </Box>
        <Typography variant="body2" noWrap sx={{ flex: 1, fontWeight: current ? 600 : 400 }}>
          {name}
        </Typography>
        {!empty && <InkSum colour={real} />}
        <RegionCount partId={id} />
        <Box
          sx={{
            width: 18,
            textAlign: 'center',
            fontSize: 12,
            fontWeight: 600,
            border: slot === null ? 'none' : `1px solid ${tones.line}`,
            borderRadius: 0.5,
            bgcolor: '#fff',
          }}
        >
          {slot ?? ''}
        </Box>
      </Box>
      <ButtonBase
        className="edit"
        title={`Change ${name}`}
        aria-label={`Change ${name}`}
        onClick={() => onEdit(id, real)}
        sx={{ p: 0.25, color: tones.quiet }}
      >
        <EditOutlinedIcon sx={{ fontSize: 16 }} />
      </ButtonBase>
    </Box>
  );
});

/** How many regions of this page have the part: it alone is drawn anew when a gesture changes that. */
function RegionCount({ partId }: { readonly partId: string }): ReactNode {
  const count = useBenchState((state) => state.regionsOfPart.get(partId) ?? 0);
  return (
    <Typography variant="caption" color="text.secondary" sx={{ fontVariantNumeric: 'tabular-nums' }}>
      {count === 0 ? '' : count}
    </Typography>
  );
}

/** How much ink the part's colour takes in print: on the stage Hand off, where it matters. */
function InkSum({ colour }: { readonly colour: string }): ReactNode {
  const cast = useBenchState((state) => (state.stage === 'handoff' ? state.cast : null));
  const jobId = useBenchState((state) => state.page?.jobId ?? null);
  const steps = useBenchState((state) => state.history.length);
  const { data } = useSWR<Inks, Error>(cast === null || jobId === null ? null : inksUrl(jobId, cast, steps), {
    keepPreviousData: true,
    dedupingInterval: 60_000,
    revalidateOnFocus: false,
  });
  const sum = cast === null || data === undefined ? null : inkSum(data, colour);
  if (cast === null || sum === null) return null;
  const most = cast.checks.inkLimitPercent;
  return (
    <Typography variant="caption" color="text.secondary" title="Ink in print, all four together">
      ink {sum} %{most !== null && sum > most && ' over'}
    </Typography>
  );
}
