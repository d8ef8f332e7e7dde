import { KIND_WORDS, keyOfFinding, type Finding } from '@jumble/core';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { memo, useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import { areaText, countText, counted } from '../../../measures.ts';
import { tones } from '../../../theme.ts';
import { Key } from '../../Key.tsx';
import { Note } from '../../Note.tsx';
import { useBench, useBenchState } from '../../state/benchContext.ts';
import { walkedByArrows } from '../../walkedByArrows.ts';
import { WorklistRow } from '../../WorklistRow.tsx';
import { findingNow, findingsListed, goToFinding, mend, mendAll, selectFinding, takeWaiverBack, turnRemedy, waive } from './findings.ts'; // prettier-ignore

import { KindMark } from './KindMark.tsx';
import { isShown, REMEDY_WORDS } from './remedies.ts';

const SHOWN = 60;

/** What the check found, by kind. Zero to settle means the stage is done. */
export function CheckWorklist(): ReactNode {
  const bench = useBench();
  const findings = useBenchState((state) => state.findings);
  const document = useBenchState((state) => state.document);
  const cast = useBenchState((state) => state.cast);
  const panelShown = useBenchState((state) => state.panelShown);
  const current = useBenchState((state) => state.findingKey);
  const isLooking = useBenchState((state) => state.checking);
  const { open, notes, waived } = useMemo(
    () => findingsListed({ ...bench.state, findings, document, cast, panelShown }),
    [bench, findings, document, cast, panelShown],
  );
  const list = useRef<HTMLUListElement>(null);
  useEffect(() => {
    list.current?.querySelector('[aria-current="true"]')?.scrollIntoView({ block: 'nearest' });
  }, [current]);
  if (findings === null) return <Note>The page is checked …</Note>;
  const rows = [...open, ...notes];
  const at = rows.findIndex((one) => keyOfFinding(one) === current);
  const from = Math.max(0, Math.min(rows.length - SHOWN, at - 10));
  return (
    <>
      <Box sx={{ px: 1.25, py: 1, borderBottom: `1px solid ${tones.line}` }}>
        <Typography variant="body2" role="status">
          {open.length > 0 ? (
            <>
              <b>{countText(open.length)}</b> to settle
            </>
          ) : (
            <b>Nothing to settle{panelShown === null ? '' : ` in panel ${panelShown + 1}`}.</b>
          )}
          {notes.length > 0 && `, ${counted(notes.length, 'note')}`}
          {isLooking && ' …'}
        </Typography>
        {rows.length > 0 && (
          <Typography variant="caption" color="text.secondary" component="p">
            <Key>.</Key> next, <Key>Enter</Key> mend, <Key>v</Key> as it would be, <Key>s</Key> let it stay
          </Typography>
        )}
        <MendAll rows={rows} />
      </Box>
      <Standing />
      <Box
        component="ul"
        ref={list}
        {...walkedByArrows((direction) => goToFinding(bench, direction))}
        sx={{ m: 0, p: 0, listStyle: 'none', overflowY: 'auto', flex: 1 }}
      >
        {rows.slice(from, from + SHOWN).map((one) => (
          <Row
            key={keyOfFinding(one)}
            finding={one}
            isNote={notes.includes(one)}
            current={keyOfFinding(one) === current}
          />
        ))}
        {rows.length > from + SHOWN && (
          <li>
            <Note>and {countText(rows.length - from - SHOWN)} more</Note>
          </li>
        )}
        {waived.map((one) => (
          <Waived key={keyOfFinding(one)} finding={one} />
        ))}
      </Box>
    </>
  );
}

const Row = memo(function Row({
  finding,
  isNote,
  current,
}: {
  readonly finding: Finding;
  readonly isNote: boolean;
  readonly current: boolean;
}): ReactNode {
  const bench = useBench();
  const dpi = useBenchState((state) => state.page?.dpi ?? null);
  const { kind, x, y, width, height, areaPx, message } = finding;
  const span = Math.max(40, Math.min(600, 2 * Math.max(width, height)));
  return (
    <WorklistRow
      crop={{ of: { x: Math.round(x + width / 2), y: Math.round(y + height / 2), span }, width: 60, height: 52 }}
      current={current}
      onStand={() => selectFinding(bench, finding)}
    >
      <Typography variant="body2" noWrap>
        <KindMark kind={kind} />
        <b>{KIND_WORDS[kind]}</b>
        {isNote && ' (note)'}
      </Typography>
      <Typography variant="caption" color="text.secondary" component="p" noWrap={!current}>
        {message}
      </Typography>
      <Typography variant="caption" color="text.secondary" component="p" noWrap>
        {areaText(areaPx, dpi)}
      </Typography>
    </WorklistRow>
  );
});

/** What can be done about the finding the worklist stands at. */
function Standing(): ReactNode {
  const bench = useBench();
  const finding = useBenchState(findingNow);
  const shown = useBenchState((state) => state.remedyShown);
  const waiving = useBenchState((state) => state.waiving);
  if (finding === undefined) return null;
  const remedy = REMEDY_WORDS[finding.kind];
  return (
    <Box
      component="section"
      aria-label="What to do"
      sx={{ px: 1.25, py: 0.75, bgcolor: '#fff', borderBottom: `1px solid ${tones.line}` }}
    >
      <Typography variant="caption" component="p">
        <b>{KIND_WORDS[finding.kind]}</b>: {finding.message}
      </Typography>
      {remedy === undefined && (
        <Typography variant="caption" color="text.secondary" component="p">
          No single key mends this: change it where it comes from, or let it stay.
        </Typography>
      )}
      {waiving ? (
        <Reason key={keyOfFinding(finding)} />
      ) : (
        <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.5, mt: 0.5 }}>
          {remedy !== undefined && (
            <Button variant="contained" sx={{ py: 0 }} onClick={() => void mend(bench)}>
              {remedy}
            </Button>
          )}
          {isShown(finding.kind) && (
            <Button variant="outlined" sx={{ py: 0 }} aria-pressed={shown} onClick={() => turnRemedy(bench)}>
              {shown ? 'As it is' : 'As it would be'}
            </Button>
          )}
          <Button variant="outlined" sx={{ py: 0 }} onClick={() => bench.set({ waiving: true })}>
            Let it stay
          </Button>
        </Box>
      )}
    </Box>
  );
}

/** Why a finding may stay: it is kept with the page, and listed in the hand-off. */
function Reason(): ReactNode {
  const bench = useBench();
  const [reason, setReason] = useState('');
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        waive(bench, reason);
      }}
      style={{ display: 'flex', gap: 4, marginTop: 4 }}
    >
      <input
        aria-label="Why it may stay"
        placeholder="Why it may stay"
        value={reason}
        maxLength={300}
        autoFocus
        onChange={(event) => setReason(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === 'Escape') bench.set({ waiving: false });
        }}
        style={{ font: 'inherit', fontSize: 13, flex: 1, minWidth: 0 }}
      />
      <Button type="submit" variant="outlined" sx={{ py: 0 }} disabled={reason.trim() === ''}>
        Keep
      </Button>
    </form>
  );
}

/** Mends all of a kind: the first press shows which, the second one does it. */
function MendAll({ rows }: { readonly rows: readonly Finding[] }): ReactNode {
  const bench = useBench();
  const finding = useBenchState(findingNow);
  const mendKind = useBenchState((state) => state.mendKind);
  const kind = mendKind ?? finding?.kind;
  const count = rows.filter((one) => one.kind === kind).length;
  if (kind === undefined || count < 2 || REMEDY_WORDS[kind] === undefined) return null;
  return (
    <Button
      fullWidth
      variant={mendKind === null ? 'outlined' : 'contained'}
      sx={{ mt: 0.75 }}
      onClick={() => void mendAll(bench, kind)}
    >
      {mendKind === null
        ? `Show all ${countText(count)} of this kind`
        : `Mend these ${countText(count)}: ${REMEDY_WORDS[kind].toLowerCase()}`}
    </Button>
  );
}

function Waived({ finding }: { readonly finding: Finding }): ReactNode {
  const bench = useBench();
  const reason = useBenchState((state) => state.document?.waivers.get(keyOfFinding(finding))?.reason);
  return (
    <Box component="li" sx={{ px: 1.25, py: 0.5, borderBottom: `1px solid ${tones.chromeDark}` }}>
      <Typography variant="caption" component="p">
        {KIND_WORDS[finding.kind]} may stay: {reason}
      </Typography>
      <Button sx={{ py: 0, ml: -0.5 }} onClick={() => takeWaiverBack(bench, finding)}>
        List it again
      </Button>
    </Box>
  );
}
