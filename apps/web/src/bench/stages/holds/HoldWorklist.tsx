import {
  formatColour,
  kindOfGroup,
  stackedGroups,
  stackedParts,
  type LineSelect,
  type LowContrast,
} from '@jumble/core';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { memo, useEffect, useMemo, useRef, type ReactNode } from 'react';
import { Link } from 'react-router';
import { countText, counted } from '../../../measures.ts';
import { tones } from '../../../theme.ts';
import { Key } from '../../Key.tsx';
import { Note } from '../../Note.tsx';
import { NumberField } from '../../NumberField.tsx';
import { useBench, useBenchState } from '../../state/benchContext.ts';
import { walkedByArrows } from '../../walkedByArrows.ts';
import { WorklistRow } from '../../WorklistRow.tsx';
import { Swatch } from './Swatch.tsx';
import { BrushControls } from './BrushControls.tsx';
import { bordersOnPage, placeOfDraft, setDraftLines } from './draft.ts';
import { CONTRAST_STEP, CONTRAST_TONES, setContrastMap } from './followHolds.ts';
import { goToLow, lowListed, selectLow, takeProposed } from './holds.ts';

const SHOWN = 60;

/** Held lines that are hard to read, the worst first; and what lines can be chosen by what they are. */
export function HoldWorklist(): ReactNode {
  const bench = useBench();
  const holds = useBenchState((state) => state.holds);
  const panelShown = useBenchState((state) => state.panelShown);
  const current = useBenchState((state) => state.lowPiece);
  const hasRules = useBenchState((state) => (state.document?.holds.size ?? 0) > 0);
  const url = useBenchState(({ page }) => (page === null ? '/' : `/jobs/${page.jobId}/pages/${page.id}/handoff`));
  const rows = useMemo(() => lowListed({ ...bench.state, holds, panelShown }), [bench, holds, panelShown]);
  const list = useRef<HTMLUListElement>(null);
  useEffect(() => {
    list.current?.querySelector('[aria-current="true"]')?.scrollIntoView({ block: 'nearest' });
  }, [current]);
  if (holds === null) return <Note>The lines are divided …</Note>;
  const at = rows.findIndex(({ piece }) => piece === current);
  const from = Math.max(0, Math.min(rows.length - SHOWN, at - 10));
  return (
    <>
      <Box sx={{ px: 1.25, py: 1, borderBottom: `1px solid ${tones.line}` }}>
        <Typography variant="body2" role="status">
          {rows.length > 0 ? (
            <>
              <b>{countText(rows.length)}</b> hard to read
            </>
          ) : hasRules ? (
            <b>Every coloured line can be read.</b>
          ) : (
            'All lines are black: choose some, and give them a colour.'
          )}
        </Typography>
        <Typography variant="caption" color="text.secondary" component="p">
          {rows.length > 0 ? (
            <>
              <Key>.</Key> next, <Key>Enter</Key> takes the lightness proposed
            </>
          ) : (
            <Button component={Link} to={url} sx={{ ml: -0.5 }}>
              Go on to Hand off
            </Button>
          )}
        </Typography>
        {rows.length > 1 && (
          <Button fullWidth variant="outlined" sx={{ mt: 0.75 }} onClick={() => takeProposed(bench, true)}>
            Take it for all {countText(rows.length)}
          </Button>
        )}
      </Box>
      <Choose />
      <BrushControls />
      <Box
        component="ul"
        ref={list}
        {...walkedByArrows((direction) => goToLow(bench, direction))}
        sx={{ m: 0, p: 0, listStyle: 'none', overflowY: 'auto', flex: 1 }}
      >
        {rows.slice(from, from + SHOWN).map((low) => (
          <Row key={low.piece} low={low} current={low.piece === current} />
        ))}
        {rows.length > from + SHOWN && (
          <li>
            <Note>and {countText(rows.length - from - SHOWN)} more</Note>
          </li>
        )}
      </Box>
      <Legend />
    </>
  );
}

const Row = memo(function Row({ low, current }: { readonly low: LowContrast; readonly current: boolean }): ReactNode {
  const bench = useBench();
  const holds = useBenchState((state) => state.holds);
  const width = useBenchState((state) => state.survey?.width ?? 1);
  const at = holds?.at[low.piece] ?? 0;
  const [x, y] = [at % width, Math.floor(at / width)];
  return (
    <WorklistRow
      crop={{ of: { x, y, span: 120 }, width: 60, height: 52 }}
      current={current}
      onStand={() => selectLow(bench, low.piece)}
    >
      <Typography variant="body2" noWrap>
        Differs by <b>{Math.min(...low.difference).toFixed(1)}</b>
      </Typography>
      <Typography variant="caption" color="text.secondary" component="p" noWrap>
        {low.difference.map((one) => one.toFixed(0)).join(' and ')} on its sides; L*{' '}
        {low.lightness.map((one) => one.toFixed(0)).join(', ')}
      </Typography>
      <Typography variant="caption" color="text.secondary" component="p" noWrap>
        {low.proposed === null ? 'no lightness passes' : <Swatch colour={formatColour(low.proposed)} />}
      </Typography>
    </WorklistRow>
  );
});

/** What the tones of the map mean; it can be switched on. */
function Legend(): ReactNode {
  const bench = useBench();
  const shown = useBenchState((state) => state.contrastMap);
  return (
    <Box sx={{ px: 1.25, py: 0.75, borderTop: `1px solid ${tones.line}` }}>
      <label style={{ fontSize: 12.5, display: 'flex', gap: 6, alignItems: 'center' }}>
        <input type="checkbox" checked={shown} onChange={(event) => setContrastMap(bench, event.target.checked)} />
        Map of contrast (k)
      </label>
      {shown && (
        <>
          <Box sx={{ display: 'flex', mt: 0.5, border: `1px solid ${tones.line}` }} aria-hidden>
            {CONTRAST_TONES.map((word) => (
              <Box
                key={word}
                sx={{ flex: 1, height: 10 }}
                style={{ background: `#${(word & 0xffffff).toString(16)}` }}
              />
            ))}
          </Box>
          <Typography variant="caption" color="text.secondary" component="p">
            CIEDE2000 from 0 to {CONTRAST_STEP * (CONTRAST_TONES.length - 1)} and more; dashes beside: hard to read
          </Typography>
        </>
      )}
    </Box>
  );
}

/** Chooses lines by what they are. */
function Choose(): ReactNode {
  const bench = useBench();
  const cast = useBenchState((state) => state.cast);
  const used = useBenchState((state) => state.regionsOfPart);
  const lineWidth = useBenchState((state) => Math.round(state.survey?.lineWidthPx.median ?? 4));
  const draft = useBenchState((state) => state.holdDraft);
  const count = useBenchState((state) => {
    const place = placeOfDraft(state);
    return place === null ? 0 : (state.holds?.counts[place] ?? 0);
  });
  const holds = useBenchState((state) => state.holds);
  const document = useBenchState((state) => state.document);
  const borders = useMemo(() => bordersOnPage({ holds, cast, document }), [holds, cast, document]);
  if (cast === null) return null;
  const choices: { readonly words: string; readonly lines: LineSelect }[] = [
    { words: 'All lines', lines: { all: true } },
    { words: 'All but contours', lines: { but: 'contours' } },
    ...stackedGroups(cast)
      .filter((group) => kindOfGroup(group) !== 'set' && stackedParts(cast, group.id).some(({ id }) => used.has(id)))
      .map(({ id, name }) => ({ words: `Contours of ${name}`, lines: { contourOf: id } })),
    ...cast.parts
      .filter(({ id, empty }) => used.has(id) && !empty)
      .map(({ id, name }) => ({ words: `Inner lines of ${name}`, lines: { inside: id } })),
    ...borders.map(([a, b]) => ({
      words: `Borders of ${a.name} and ${b.name}`,
      lines: { between: [a.id, b.id] } as const,
    })),
    { words: `Lines thinner than ${lineWidth} px`, lines: { thinnerThanPx: lineWidth } },
    { words: `Lines wider than ${lineWidth} px`, lines: { widerThanPx: lineWidth } },
  ];
  return (
    <Box sx={{ px: 1.25, py: 1, borderBottom: `1px solid ${tones.line}` }}>
      <select
        aria-label="Choose lines by what they are"
        value=""
        onChange={(event) => {
          setDraftLines(bench, choices[Number(event.target.value)]!.lines);
          event.target.blur();
        }}
        style={{ font: 'inherit', fontSize: 13, width: '100%', padding: '3px 2px' }}
      >
        <option value="">Choose by what they are …</option>
        {choices.map(({ words }, k) => (
          <option key={words} value={k}>
            {words}
          </option>
        ))}
      </select>
      <Typography variant="caption" color="text.secondary" component="p" sx={{ mt: 0.5 }} role="status">
        {draft === null ? 'or click lines, or draw a loop round them' : `${counted(count, 'line')} chosen`}
      </Typography>
      {draft !== null && 'thinnerThanPx' in draft.lines && (
        <NumberField
          label="Thinner than, in px"
          value={draft.lines.thinnerThanPx}
          least={1}
          most={200}
          onSet={(thinnerThanPx) => setDraftLines(bench, { thinnerThanPx })}
        />
      )}
      {draft !== null && 'widerThanPx' in draft.lines && (
        <NumberField
          label="Wider than, in px"
          value={draft.lines.widerThanPx}
          least={1}
          most={200}
          onSet={(widerThanPx) => setDraftLines(bench, { widerThanPx })}
        />
      )}
    </Box>
  );
}
