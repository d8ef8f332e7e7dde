import { DEPTH_TONES, type TrapFault, type TrapFaultKind } from '@jumble/core';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { memo, useEffect, useMemo, useRef, type ReactNode } from 'react';
import { Link } from 'react-router';
import { countText, counted, lengthText } from '../../../measures.ts';
import { tones } from '../../../theme.ts';
import { Key } from '../../Key.tsx';
import { Note } from '../../Note.tsx';
import { mapTonePx } from '../../page/look.ts';
import { useBench, useBenchState } from '../../state/benchContext.ts';
import { walkedByArrows } from '../../walkedByArrows.ts';
import { WorklistRow } from '../../WorklistRow.tsx';
import { faultsListed, goToFault, keyOfFault, mendAll, mendFault, remedyOf, selectFault } from './faults.ts';
import { RuleField } from './RuleField.tsx';
import { compareWith } from './rules.ts';
import { showMap } from './trapShortcuts.ts';

const SHOWN = 60;

/** Places where a fixed depth does not do what it says, the worst first. Zero left means the stage is done. */
export function TrapWorklist(): ReactNode {
  const bench = useBench();
  const faults = useBenchState((state) => state.faults);
  const panelShown = useBenchState((state) => state.panelShown);
  const current = useBenchState((state) => state.faultKey);
  const isLooking = useBenchState((state) => state.faultsLookedFor);
  const url = useBenchState(({ page }) => (page === null ? '/' : `/jobs/${page.jobId}/pages/${page.id}/handoff`));
  const rows = useMemo(() => faultsListed({ ...bench.state, faults, panelShown }), [bench, faults, panelShown]);
  const list = useRef<HTMLUListElement>(null);
  useEffect(() => {
    list.current?.querySelector('[aria-current="true"]')?.scrollIntoView({ block: 'nearest' });
  }, [current]);
  if (faults === null) return <Note>The lines are measured …</Note>;
  const at = rows.findIndex((one) => keyOfFault(one) === current);
  const from = Math.max(0, Math.min(rows.length - SHOWN, at - 10));
  return (
    <>
      <Box sx={{ px: 1.25, py: 1, borderBottom: `1px solid ${tones.line}` }}>
        <Typography variant="body2" role="status">
          {rows.length > 0 ? (
            <>
              <b>{countText(rows.length)}</b> {rows.length === 1 ? 'place' : 'places'} to mend
            </>
          ) : (
            <b>Colour runs under every line as it should{panelShown === null ? '' : ` in panel ${panelShown + 1}`}.</b>
          )}
          {isLooking && ' …'}
        </Typography>
        <Typography variant="caption" color="text.secondary" component="p">
          {rows.length > 0 ? (
            <>
              <Key>.</Key> next, <Key>Enter</Key> mend, <Key>m</Key> the middle here
            </>
          ) : (
            <Button component={Link} to={url} sx={{ ml: -0.5 }}>
              Go on to Hand off
            </Button>
          )}
        </Typography>
        <AllOfAKind rows={rows} kind="halo" />
        <AllOfAKind rows={rows} kind="short" />
      </Box>
      <Box
        component="ul"
        ref={list}
        {...walkedByArrows((direction) => goToFault(bench, direction))}
        sx={{ m: 0, p: 0, listStyle: 'none', overflowY: 'auto', flex: 1 }}
      >
        {rows.slice(from, from + SHOWN).map((fault) => (
          <Row key={keyOfFault(fault)} fault={fault} current={keyOfFault(fault) === current} />
        ))}
        {rows.length > from + SHOWN && (
          <li>
            <Note>and {countText(rows.length - from - SHOWN)} that fail by less</Note>
          </li>
        )}
      </Box>
      <Legend />
      <Compared />
    </>
  );
}

const KINDS: Record<TrapFaultKind, string> = { halo: 'Halo', short: 'Cut short' };

function AllOfAKind({ rows, kind }: { readonly rows: readonly TrapFault[]; readonly kind: TrapFaultKind }): ReactNode {
  const bench = useBench();
  const count = rows.filter((one) => one.kind === kind).length;
  if (count === 0) return null;
  return (
    <Button fullWidth variant="outlined" sx={{ mt: 0.75 }} onClick={() => mendAll(bench, kind)}>
      {KINDS[kind]}: the middle at {counted(count, 'place')}
    </Button>
  );
}

const Row = memo(function Row({ fault, current }: { readonly fault: TrapFault; readonly current: boolean }): ReactNode {
  const bench = useBench();
  const dpi = useBenchState((state) => state.page?.dpi ?? null);
  const parts = useBenchState((state) => state.cast?.parts);
  const { kind, at, foundPx, depthPx } = fault;
  const names = [...new Set(fault.parts)].map((part) => (part < 0 ? 'no part' : (parts?.[part]?.name ?? '')));
  return (
    <WorklistRow
      crop={{ of: { x: at[0], y: at[1], span: 40 + 6 * foundPx }, width: 60, height: 52 }}
      current={current}
      onStand={() => selectFault(bench, fault)}
    >
      <Typography variant="body2" noWrap>
        {kind === 'halo' ? 'Halo, soft for' : 'Cut short, line'} <b>{foundPx.toFixed(1)} px</b>
      </Typography>
      <Typography variant="caption" color="text.secondary" component="p" noWrap>
        {dpi === null ? '' : `${((foundPx * 25.4) / dpi).toFixed(2)} mm; `}
        {kind === 'halo' ? `colour runs ${short(depthPx)} px` : `needs ${short(2 * depthPx)} px`}
      </Typography>
      <Typography variant="caption" color="text.secondary" component="p" noWrap>
        {names.join(' | ')}
      </Typography>
      {current && (
        <Box sx={{ display: 'flex', gap: 0.5 }}>
          {remedyOf(kind) === 'deeper' && (
            <Button sx={SMALL} variant="outlined" onClick={() => mendFault(bench, 'deeper')}>
              Deeper
            </Button>
          )}
          <Button sx={SMALL} variant="outlined" onClick={() => mendFault(bench, 'middle')}>
            Middle
          </Button>
        </Box>
      )}
    </WorklistRow>
  );
});

/** A depth in mm seldom comes to whole px. */
const short = (px: number): string => String(Math.round(px * 10) / 10);

const SMALL = { py: 0, px: 0.75, minWidth: 0 } as const;

const css = (word: number): string => `rgb(${word & 255}, ${(word >>> 8) & 255}, ${(word >>> 16) & 255})`;

/** What the tones of the map mean; they can be switched off. */
function Legend(): ReactNode {
  const bench = useBench();
  const shown = useBenchState((state) => state.mapShown);
  const tonePx = useBenchState(mapTonePx);
  const dpi = useBenchState((state) => state.page?.dpi ?? null);
  return (
    <Box sx={{ px: 1.25, py: 0.75, borderTop: `1px solid ${tones.line}` }}>
      <label style={{ fontSize: 12.5, display: 'flex', gap: 6, alignItems: 'center' }}>
        <input type="checkbox" checked={shown} onChange={(event) => showMap(bench, event.target.checked)} />
        Map of depths (k)
      </label>
      {shown && (
        <>
          <Box sx={{ display: 'flex', mt: 0.5, border: `1px solid ${tones.line}` }} aria-hidden>
            {[...DEPTH_TONES].map((word) => (
              <Box key={word} sx={{ flex: 1, height: 10 }} style={{ background: css(word) }} />
            ))}
          </Box>
          <Typography variant="caption" color="text.secondary" component="p">
            0 to {lengthText(tonePx * DEPTH_TONES.length, dpi)} and deeper; hatched: no colour; in checks: paper would
            show
          </Typography>
        </>
      )}
    </Box>
  );
}

/** The rule that the loupe shows beside the page's. */
function Compared(): ReactNode {
  const bench = useBench();
  const rule = useBenchState((state) => state.comparedRule);
  const lineWidthPx = useBenchState((state) => state.survey?.lineWidthPx.median ?? 0);
  const widestPx = useBenchState((state) => state.widestPx);
  const dpi = useBenchState((state) => state.page?.dpi ?? null);
  return (
    <Box sx={{ px: 1.25, py: 0.75, borderTop: `1px solid ${tones.line}` }}>
      <Typography variant="caption" component="p" sx={{ mb: 0.5 }}>
        Loupe (hold <Key>q</Key>): now, and beside it
      </Typography>
      <RuleField
        name="the comparison"
        rule={rule}
        lineWidthPx={lineWidthPx}
        widestPx={widestPx}
        dpi={dpi}
        onSet={(next) => next !== null && compareWith(bench, next)}
      />
    </Box>
  );
}
