import { BOUNDS_FROM, cubicOfCut, MOST_ENDS, SURE_FROM, type Closure } from '@jumble/core';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Slider from '@mui/material/Slider';
import Typography from '@mui/material/Typography';
import { memo, useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import { tones } from '../../../theme.ts';
import { countText, lengthText } from '../../../measures.ts';
import { useBench, useBenchState } from '../../state/benchContext.ts';
import { Note } from '../../Note.tsx';
import { WorklistRow } from '../../WorklistRow.tsx';
import { Key } from '../../Key.tsx';
import { walkedByArrows } from '../../walkedByArrows.ts';
import { previewMaxGap, setMaxGap } from '../../page/division.ts';
import { askLeak, gapsAbove, gapsListed, goToGap, ruleGaps, selectGap } from './gaps.ts';

const SHOWN = 60;

/** Gaps to rule on, those with most at stake first. Zero left means the stage is done. */
export function GapWorklist(): ReactNode {
  const bench = useBench();
  const phase = useBenchState((state) => state.phase);
  const survey = useBenchState((state) => state.survey);
  const openGaps = useBenchState((state) => state.openGaps);
  const panelShown = useBenchState((state) => state.panelShown);
  const open = useMemo(() => gapsListed({ ...bench.state, openGaps, panelShown }), [bench, openGaps, panelShown]);
  const current = useBenchState((state) => state.gapKey);
  const leak = useBenchState((state) => state.leak);
  const dpi = useBenchState((state) => state.page?.dpi ?? null);
  const flatsUrl = useBenchState(({ page }) => (page === null ? '/' : `/jobs/${page.jobId}/pages/${page.id}/flats`));
  const list = useRef<HTMLUListElement>(null);
  useEffect(() => {
    list.current?.querySelector('[aria-current="true"]')?.scrollIntoView({ block: 'nearest' });
  }, [current]);
  if ((phase !== 'ready' && phase !== 'again') || survey === null)
    return <Note>The gaps are listed once the page is read.</Note>;
  if (survey.looseEnds > MOST_ENDS) {
    return (
      <Note>
        This page has {countText(survey.looseEnds)} loose ends: it looks like a photograph or a rough scan. Its gaps are
        not looked for; draw closures by hand where they are needed, or use a cleaner file.
      </Note>
    );
  }
  const byKey = new Map(survey.closures.map((one) => [one.key, one]));
  const accepted = survey.closures.filter((one) => one.accepted).length;
  const chosen = current === null ? undefined : byKey.get(current);
  // A closure that was pointed at stands first, even when nothing has to be ruled on it.
  const rows = [...(chosen !== undefined && !open.includes(chosen.key) ? [chosen.key] : []), ...open];
  const at = current === null ? 0 : rows.indexOf(current);
  const from = Math.max(0, Math.min(rows.length - SHOWN, at - 10));
  return (
    <>
      <Box sx={{ px: 1.25, py: 1, borderBottom: `1px solid ${tones.line}` }}>
        <Typography variant="body2">
          {open.length === 0 ? (
            <b>No gap is left to rule on{panelShown === null ? '' : ` in panel ${panelShown + 1}`}.</b>
          ) : (
            <>
              <b>{countText(open.length)}</b> to rule on, {countText(accepted)} closed
            </>
          )}
        </Typography>
        <Typography variant="caption" color="text.secondary" component="p">
          {open.length === 0 ? (
            <Button component={Link} to={flatsUrl} sx={{ ml: -0.5 }}>
              Go on to Flats
            </Button>
          ) : (
            <>
              <Key>.</Key> next, <Key>Enter</Key> close, <Key>Backspace</Key> leave
            </>
          )}
        </Typography>
        {leak !== null && (
          <Box sx={{ mt: 0.5, p: 0.75, bgcolor: '#fff', border: `1px solid ${tones.line}` }} role="status">
            <Typography variant="body2">Leak: narrowest place {lengthText(leak.widthPx, dpi)} wide</Typography>
            <Typography variant="caption" color="text.secondary">
              {leak.cut === null ? (
                'Draw a closure where it should end.'
              ) : (
                <>
                  <Key>Enter</Key> closes it there, <Key>Escape</Key> drops it
                </>
              )}
            </Typography>
          </Box>
        )}
      </Box>
      <Controls />
      <Box
        component="ul"
        ref={list}
        {...walkedByArrows((direction) => goToGap(bench, direction))}
        sx={{ m: 0, p: 0, listStyle: 'none', overflowY: 'auto', flex: 1 }}
      >
        {rows.slice(from, from + SHOWN).map((key) => {
          const closure = byKey.get(key);
          return closure === undefined ? null : <Row key={key} closure={closure} current={key === current} dpi={dpi} />;
        })}
        {rows.length > from + SHOWN && (
          <li>
            <Note>and {countText(rows.length - from - SHOWN)} with less at stake</Note>
          </li>
        )}
      </Box>
      <Box sx={{ p: 1, borderTop: `1px solid ${tones.line}`, display: 'flex', gap: 0.75 }}>
        <Button fullWidth variant="outlined" onClick={() => askLeak(bench, 'run')}>
          Leak test (r)
        </Button>
        <Button fullWidth variant="outlined" onClick={() => askLeak(bench, 'trace')}>
          Trace (t)
        </Button>
      </Box>
    </>
  );
}

const Row = memo(function Row({
  closure,
  current,
  dpi,
}: {
  readonly closure: Closure;
  readonly current: boolean;
  readonly dpi: number | null;
}): ReactNode {
  const bench = useBench();
  const span = closure.widthPx + 60;
  const [mx, my] = [(closure.from[0] + closure.to[0]) / 2, (closure.from[1] + closure.to[1]) / 2];
  return (
    <WorklistRow
      crop={{ of: { x: mx, y: my, span }, width: 60, height: 52, line: cubicOfCut(closure) }}
      current={current}
      onStand={() => selectGap(bench, closure.key)}
    >
      <Typography variant="body2" noWrap>
        {lengthText(closure.widthPx, dpi)}
      </Typography>
      <Typography variant="caption" color="text.secondary" component="p" noWrap>
        {WORDS[closure.kind]},{' '}
        {closure.ruling === null ? `${Math.round(closure.confidence * 100)}% sure` : RULED[closure.ruling]}
      </Typography>
      <Typography variant="caption" color="text.secondary" component="p" noWrap>
        {closure.separatesPx.map(countText).join(' and ')} px²
      </Typography>
    </WorklistRow>
  );
});

const RULED = { open: 'left open', closed: 'closed' } as const;
const WORDS: Record<Closure['kind'], string> = {
  ends: 'two ends',
  line: 'end to line',
  edge: 'to the edge',
  neck: 'narrow place',
  outline: 'open outline',
  hand: 'drawn',
};

/** The largest gap to close, with what it does at once; and one ruling for all that are likely enough. */
function Controls(): ReactNode {
  const bench = useBench();
  const survey = useBenchState((state) => state.survey)!;
  const prep = useBenchState((state) => state.document?.prep.maxGapPx ?? 'auto');
  const dpi = useBenchState((state) => state.page?.dpi ?? null);
  const open = useBenchState((state) => state.openGaps.length);
  const [moving, setMoving] = useState<number | null>(null);
  const [share, setShare] = useState(0.5);
  const value = moving ?? survey.maxGapPx;
  const above = open === 0 ? [] : gapsAbove(bench.state, share);
  return (
    <Box sx={{ px: 1.25, py: 1, borderBottom: `1px solid ${tones.line}` }}>
      <Box sx={{ display: 'flex', alignItems: 'baseline' }}>
        <Typography variant="caption" id="max-gap" sx={{ flex: 1 }}>
          Largest gap: <b>{lengthText(value, dpi)}</b>
        </Typography>
        {prep !== 'auto' && (
          <Button sx={{ py: 0, minWidth: 0 }} onClick={() => void setMaxGap(bench, 'auto')}>
            Auto
          </Button>
        )}
      </Box>
      <Slider
        size="small"
        aria-labelledby="max-gap"
        min={1}
        max={Math.max(2, survey.gapsFoundToPx)}
        value={value}
        onChange={(_, next) => {
          setMoving(next as number);
          previewMaxGap(bench, next as number);
        }}
        onChangeCommitted={(_, next) => {
          setMoving(null);
          void setMaxGap(bench, next as number);
        }}
        sx={{ py: 0.75 }}
      />
      {open > 0 && (
        <>
          <Typography variant="caption" id="sure-from">
            Sure from <b>{Math.round(share * 100)}%</b>: {countText(above.length)} of {countText(open)}
          </Typography>
          <Slider
            size="small"
            aria-labelledby="sure-from"
            min={BOUNDS_FROM}
            max={SURE_FROM}
            step={0.01}
            value={share}
            onChange={(_, next) => setShare(next as number)}
            sx={{ py: 0.75 }}
          />
          <Button
            fullWidth
            variant="outlined"
            disabled={above.length === 0}
            onClick={() => void ruleGaps(bench, above, 'closed')}
          >
            Close {above.length === 1 ? 'this one' : `these ${countText(above.length)}`}
          </Button>
        </>
      )}
    </Box>
  );
}
