import {
  editGroup,
  editPart,
  stackedGroups,
  stackedParts,
  type CastPart,
  type CastSheet,
  type RecordEdit,
} from '@jumble/core';
import ArrowDownwardIcon from '@mui/icons-material/ArrowDownward';
import ArrowUpwardIcon from '@mui/icons-material/ArrowUpward';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Typography from '@mui/material/Typography';
import { useState, type ReactNode } from 'react';
import { tones } from '../../../theme.ts';
import { PanelSection } from '../../PanelSection.tsx';
import { useBench, useBenchState } from '../../state/benchContext.ts';

/** What lies in front of what in the hand-off: groups, and the parts of each. */
export function Stacking(): ReactNode {
  const bench = useBench();
  const cast = useBenchState((state) => state.cast);
  const used = useBenchState((state) => state.regionsOfPart);
  const [open, setOpen] = useState<string | null>(null);
  if (cast === null) return null;
  const groups = stackedGroups(cast);
  return (
    <PanelSection title="Stacking, front to back">
      <Box component="ol" sx={{ m: 0, p: 0, listStyle: 'none' }}>
        {groups.map((group, k) => (
          <Box component="li" key={group.id} sx={{ borderBottom: `1px solid ${tones.chromeDark}` }}>
            <Row
              name={group.name}
              bold
              onToggle={() => setOpen(open === group.id ? null : group.id)}
              expanded={open === group.id}
              onMove={(by) => {
                const order = moved(groups, k, by);
                bench.changeCast(
                  `Stack ${group.name} ${by < 0 ? 'further in front' : 'further back'}`,
                  order.map((one, place) => editGroup({ ...one, stack: place })),
                );
              }}
              first={k === 0}
              last={k === groups.length - 1}
            />
            {open === group.id && <Parts cast={cast} groupId={group.id} used={used} />}
          </Box>
        ))}
      </Box>
    </PanelSection>
  );
}

function Parts({
  cast,
  groupId,
  used,
}: {
  readonly cast: CastSheet;
  readonly groupId: string;
  readonly used: ReadonlyMap<string, number>;
}): ReactNode {
  const bench = useBench();
  const parts = stackedParts(cast, groupId);
  /** Those it is moved among: a marking stays on its part. */
  const beside = (part: CastPart): CastPart[] => parts.filter((one) => one.on === part.on);
  return (
    <Box component="ol" sx={{ m: 0, pl: 1.5, pb: 0.5, listStyle: 'none' }}>
      {parts.map((part) => {
        const row = beside(part);
        const at = row.indexOf(part);
        const move = (by: -1 | 1): void => {
          const edits: RecordEdit[] = moved(row, at, by).map((one, place) => editPart({ ...one, stack: place }));
          bench.changeCast(`Stack ${part.name} ${by < 0 ? 'further in front' : 'further back'}`, edits);
        };
        return (
          <li key={part.id}>
            <Row
              name={part.on === undefined ? part.name : `${part.name} (marking)`}
              quiet={!used.has(part.id)}
              onMove={move}
              first={at === 0}
              last={at === row.length - 1}
            />
          </li>
        );
      })}
    </Box>
  );
}

interface RowProps {
  readonly name: string;
  readonly bold?: boolean;
  /** Not on this page. */
  readonly quiet?: boolean;
  readonly expanded?: boolean;
  readonly onToggle?: () => void;
  readonly onMove: (by: -1 | 1) => void;
  readonly first: boolean;
  readonly last: boolean;
}

function Row({ name, bold, quiet, expanded, onToggle, onMove, first, last }: RowProps): ReactNode {
  return (
    <Box sx={{ display: 'flex', alignItems: 'center' }}>
      {onToggle === undefined ? (
        <Typography variant="body2" noWrap sx={{ flex: 1, py: 0.25 }} color={quiet ? 'text.secondary' : 'text.primary'}>
          {name}
        </Typography>
      ) : (
        <Button
          onClick={onToggle}
          aria-expanded={expanded}
          sx={{
            flex: 1,
            justifyContent: 'start',
            px: 0,
            color: 'text.primary',
            fontWeight: bold ? 600 : 400,
            minWidth: 0,
          }}
        >
          {name}
        </Button>
      )}
      <IconButton size="small" disabled={first} aria-label={`${name}: further in front`} onClick={() => onMove(-1)}>
        <ArrowUpwardIcon sx={{ fontSize: 16 }} />
      </IconButton>
      <IconButton size="small" disabled={last} aria-label={`${name}: further back`} onClick={() => onMove(1)}>
        <ArrowDownwardIcon sx={{ fontSize: 16 }} />
      </IconButton>
    </Box>
  );
}

function moved<T>(all: readonly T[], at: number, by: -1 | 1): T[] {
  const order = [...all];
  const [one] = order.splice(at, 1);
  order.splice(at + by, 0, one!);
  return order;
}
