import type { JobView } from '@jumble/contracts';
import { readHistory } from '@jumble/core';
import HistoryIcon from '@mui/icons-material/History';
import KeyboardIcon from '@mui/icons-material/Keyboard';
import NavigateBeforeIcon from '@mui/icons-material/NavigateBefore';
import NavigateNextIcon from '@mui/icons-material/NavigateNext';
import RedoIcon from '@mui/icons-material/Redo';
import UndoIcon from '@mui/icons-material/Undo';
import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import Typography from '@mui/material/Typography';
import { memo, useCallback, useMemo, type ElementType, type MouseEvent, type ReactNode } from 'react';
import { Link } from 'react-router';
import { tones } from '../theme.ts';
import { useBench, useBenchState } from './state/benchContext.ts';

export interface StageRailProps {
  readonly job: JobView | null;
  readonly stage: string;
  readonly onPage: (direction: 1 | -1) => void;
  readonly onKeys: () => void;
  readonly onHistory: () => void;
}

/** The stages of the work with what is open in each: navigation, progress and plan in one. */
export function StageRail({ job, stage, onPage, onKeys, onHistory }: StageRailProps): ReactNode {
  const bench = useBench();
  const page = useBenchState((state) => state.page);
  const open = useBenchState((state) => state.openRegions.length);
  const lookRegions = useBenchState((state) => state.lookRegions);
  const islands = useBenchState((state) => state.islands);
  const toLook = useMemo(() => new Set([...lookRegions, ...islands]).size, [lookRegions, islands]);
  const total = useBenchState((state) => state.survey?.regions.count ?? 0);
  const openGaps = useBenchState((state) => state.openGaps.length);
  const allClosures = useBenchState((state) => state.survey?.closures);
  const closures = useMemo(() => allClosures?.filter((one) => one.accepted).length ?? 0, [allClosures]);
  const ready = useBenchState((state) => state.phase === 'ready' || state.phase === 'again');
  const measured = useBenchState((state) => state.facts !== null);
  const lineOpen = useBenchState((state) => state.lineDecisions.length);
  const history = useBenchState((state) => state.history);
  const { undo, redo } = readHistory(history);
  const labelOf = (seq: number | undefined): string | undefined => history.find((step) => step.seq === seq)?.label;
  const number = (job?.pages.findIndex((one) => one.id === page?.id) ?? -1) + 1;
  const stepBack = useCallback(() => void bench.stepBack('undo'), [bench]);
  const stepOn = useCallback(() => void bench.stepBack('redo'), [bench]);
  const pageBefore = useCallback(() => onPage(-1), [onPage]);
  const pageAfter = useCallback(() => onPage(1), [onPage]);
  const base = page === null ? '' : `/jobs/${page.jobId}/pages/${page.id}`;
  return (
    <Box
      component="header"
      sx={{
        display: 'flex',
        alignItems: 'stretch',
        height: 46,
        bgcolor: tones.sheet,
        borderBottom: `1px solid ${tones.line}`,
        px: 1.5,
        gap: 1.5,
      }}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', minWidth: 0, flex: '1 1 250px', gap: 0.5 }}>
        <Typography variant="body2" noWrap sx={{ minWidth: 0 }}>
          <Link to={page === null ? '/' : `/jobs/${page.jobId}`} style={{ color: tones.quiet }}>
            {job?.name ?? 'Job'}
          </Link>
        </Typography>
        <RailButton name="Page before" title="Page before (Page Up)" icon={NavigateBeforeIcon} onClick={pageBefore} />
        <Typography variant="h3" noWrap component="h1">
          {page?.name ?? ''}
          {number > 0 && (
            <Box component="span" sx={{ fontWeight: 400, color: tones.quiet }}>
              {' '}
              {number} of {job?.pages.length}
            </Box>
          )}
        </Typography>
        <RailButton name="Next page" title="Next page (Page Down)" icon={NavigateNextIcon} onClick={pageAfter} />
      </Box>
      <Box component="nav" aria-label="Stages" sx={{ display: 'flex', justifyContent: 'center' }}>
        <Stage
          to={`${base}/lineart`}
          name="Line art"
          here={stage === 'lineart'}
          share={!measured ? 0 : 1 - lineOpen / Math.max(lineOpen, 8)}
        >
          {!measured ? '…' : lineOpen === 0 ? 'done' : `${lineOpen} to decide`}
        </Stage>
        <Stage
          to={`${base}/gaps`}
          name="Gaps"
          here={stage === 'gaps'}
          share={closures === 0 ? 1 : 1 - openGaps / Math.max(closures, openGaps)}
        >
          {!ready ? '…' : openGaps === 0 ? 'done' : `${openGaps} to rule on`}
        </Stage>
        <Stage
          to={`${base}/flats`}
          name="Flats"
          here={stage === 'flats'}
          share={total === 0 ? 0 : 1 - (open + toLook) / total}
        >
          {!ready ? '…' : open + toLook === 0 ? 'done' : open === 0 ? `${toLook} to look at` : `${open} open`}
        </Stage>
        <Stage to={`${base}/handoff`} name="Hand off" here={stage === 'handoff'} share={0}>
          {!ready ? '…' : open === 0 ? 'ready' : `${open} empty`}
        </Stage>
      </Box>
      <Box sx={{ display: 'flex', alignItems: 'center', flex: '1 1 250px', justifyContent: 'flex-end' }}>
        <SyncNote />
        <RailButton
          name="Undo"
          title={undo.length === 0 ? 'Nothing to undo' : `Undo: ${labelOf(undo.at(-1)) ?? ''} (Ctrl+Z)`}
          icon={UndoIcon}
          disabled={undo.length === 0}
          onClick={stepBack}
        />
        <RailButton
          name="Redo"
          title={redo.length === 0 ? 'Nothing to redo' : `Redo: ${labelOf(redo.at(-1)) ?? ''} (Ctrl+Shift+Z)`}
          icon={RedoIcon}
          disabled={redo.length === 0}
          onClick={stepOn}
        />
        <RailButton name="History" title="What was done" icon={HistoryIcon} onClick={onHistory} />
        <RailButton name="Keys" title="Keys (?)" icon={KeyboardIcon} onClick={onKeys} />
      </Box>
    </Box>
  );
}

interface RailButtonProps {
  readonly name: string;
  readonly title: string;
  readonly icon: ElementType<{ fontSize: 'small' }>;
  readonly disabled?: boolean;
  readonly onClick: () => void;
}

/** Every step changes the rail: what says the same as before is not drawn anew. */
const RailButton = memo(function RailButton({
  name,
  title,
  icon: Icon,
  disabled,
  onClick,
}: RailButtonProps): ReactNode {
  return (
    <Tooltip title={title}>
      <span>
        <IconButton aria-label={name} disabled={disabled === true} onClick={onClick}>
          <Icon fontSize="small" />
        </IconButton>
      </span>
    </Tooltip>
  );
});

interface StageProps {
  readonly to: string;
  readonly name: string;
  readonly here: boolean;
  readonly share: number;
  readonly children: ReactNode;
}

const Stage = memo(function Stage({ to, name, here, share, children }: StageProps): ReactNode {
  return (
    <Box
      component={Link}
      to={to}
      // The keys are the worklist's from here on: Enter rules, and does not follow the link again.
      onClick={(event: MouseEvent<HTMLElement>) => event.currentTarget.blur()}
      aria-current={here ? 'step' : undefined}
      sx={{
        position: 'relative',
        width: 128,
        px: 1.5,
        display: 'flex',
        flexDirection: 'column',
        justifyContent: 'center',
        color: tones.ink,
        textDecoration: 'none',
        borderLeft: `1px solid ${tones.line}`,
        '&:last-of-type': { borderRight: `1px solid ${tones.line}` },
        bgcolor: here ? '#fff' : 'transparent',
        '&:hover': { bgcolor: '#fff' },
      }}
    >
      <Typography variant="h3" component="span" sx={{ lineHeight: 1.25, fontWeight: here ? 600 : 500 }}>
        {name}
      </Typography>
      <Typography variant="caption" component="span" color="text.secondary" sx={{ lineHeight: 1.2 }}>
        {children}
      </Typography>
      <Box
        sx={{ position: 'absolute', left: 0, bottom: 0, height: 3, width: `${share * 100}%`, bgcolor: tones.accent }}
      />
    </Box>
  );
});

function SyncNote(): ReactNode {
  const { state, waiting } = useBenchState((all) => all.sync);
  const text =
    state === 'saved'
      ? 'saved'
      : state === 'saving'
        ? 'is saved …'
        : `no connection: ${waiting === 1 ? '1 step waits' : `${waiting} steps wait`}`;
  return (
    <Typography
      variant="caption"
      role="status"
      sx={{
        mr: 1,
        color: state === 'offline' ? 'error.main' : tones.quiet,
        fontWeight: state === 'offline' ? 600 : 400,
      }}
      noWrap
    >
      {text}
    </Typography>
  );
}
