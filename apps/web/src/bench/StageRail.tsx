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
import { memo, useCallback, type ElementType, type MouseEvent, type ReactNode } from 'react';
import { Link } from 'react-router';
import { tones } from '../theme.ts';
import { useBench, useBenchState } from './state/benchContext.ts';
import type { Stage } from './stages/Stage.ts';
import { STAGES } from './stages/stages.ts';
import { step } from './page/steps.ts';
import { countText } from '../measures.ts';

export interface StageRailProps {
  readonly job: JobView | null;
  readonly stage: string;
  readonly onPage: (direction: 1 | -1) => void;
  readonly onShortcuts: () => void;
  readonly onHistory: () => void;
}

/** The stages of the work with what is open in each: navigation, progress and plan in one. */
export function StageRail({ job, stage, onPage, onShortcuts, onHistory }: StageRailProps): ReactNode {
  const page = useBenchState((state) => state.page);
  const number = (job?.pages.findIndex((one) => one.id === page?.id) ?? -1) + 1;
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
        {STAGES.map((one) => (
          <StageLink key={one.name} stage={one} to={`${base}/${one.name}`} here={stage === one.name} />
        ))}
      </Box>
      <Box sx={{ display: 'flex', alignItems: 'center', flex: '1 1 250px', justifyContent: 'flex-end' }}>
        <SyncNote />
        <StepButtons />
        <RailButton name="History" title="History" icon={HistoryIcon} onClick={onHistory} />
        <RailButton name="Keys" title="Keys (?)" icon={KeyboardIcon} onClick={onShortcuts} />
      </Box>
    </Box>
  );
}

/** Undo and redo, and what they would do. */
function StepButtons(): ReactNode {
  const bench = useBench();
  const history = useBenchState((state) => state.history);
  const { undo, redo } = readHistory(history);
  const labelOf = (seq: number | undefined): string | undefined => history.find((step) => step.seq === seq)?.label;
  const stepBack = useCallback(() => void step(bench, 'undo'), [bench]);
  const stepOn = useCallback(() => void step(bench, 'redo'), [bench]);
  return (
    <>
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
    </>
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

interface StageLinkProps {
  readonly stage: Stage;
  readonly to: string;
  readonly here: boolean;
}

/** A stage's place in the rail. Each reads its own count, so that a gesture draws anew only what it changes. */
const StageLink = memo(function StageLink({ stage, to, here }: StageLinkProps): ReactNode {
  const words = useBenchState((state) => stage.progress(state).words);
  const share = useBenchState((state) => stage.progress(state).share);
  return (
    <Box
      component={Link}
      to={to}
      // The keys are the worklist's from here on: Enter rules, and does not follow the link again.
      onClick={(event: MouseEvent<HTMLElement>) => event.currentTarget.blur()}
      aria-current={here ? 'step' : undefined}
      sx={{
        position: 'relative',
        width: 98,
        px: 1.25,
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
        {stage.label}
      </Typography>
      <Typography variant="caption" component="span" color="text.secondary" sx={{ lineHeight: 1.2 }}>
        {words}
      </Typography>
      <Box
        sx={{ position: 'absolute', left: 0, bottom: 0, height: 3, bgcolor: tones.accent }}
        style={{ width: `${share * 100}%` }}
      />
    </Box>
  );
});

function SyncNote(): ReactNode {
  const { state, waiting } = useBenchState((all) => all.sync);
  const wait = waiting === 1 ? '1 step waits' : `${countText(waiting)} steps wait`;
  const text = {
    saved: 'saved',
    saving: 'is saved …',
    offline: `no connection: ${wait}`,
    blocked: `cannot be saved now: ${wait}`,
  }[state];
  const isTrouble = state === 'offline' || state === 'blocked';
  return (
    <Typography
      variant="caption"
      role="status"
      sx={{
        mr: 1,
        color: isTrouble ? 'error.main' : tones.quiet,
        fontWeight: isTrouble ? 600 : 400,
      }}
      noWrap
    >
      {text}
    </Typography>
  );
}
