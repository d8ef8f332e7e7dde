import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { memo, useEffect, useRef, type ReactNode } from 'react';
import { Link } from 'react-router';
import { tones } from '../../../theme.ts';
import { Key } from '../../Key.tsx';
import { Note } from '../../Note.tsx';
import { useBench, useBenchState } from '../../state/benchContext.ts';
import type { LineDecision } from './lineDecisions.ts';
import { WorklistRow } from '../../WorklistRow.tsx';
import { walkedByArrows } from '../../walkedByArrows.ts';
import { goToDecision, ruleDecisions, selectDecision } from './decisions.ts';
import { countText } from '../../../measures.ts';

const CROP_PX = { width: 60, height: 52 } as const;

/** What has to be decided about the line art, in the order of the work. Zero left means the stage is done. */
export function LineArtWorklist(): ReactNode {
  const bench = useBench();
  const measured = useBenchState((state) => state.facts !== null);
  const decisions = useBenchState((state) => state.lineDecisions);
  const current = useBenchState((state) => state.lineKey);
  const gapsUrl = useBenchState(({ page }) => (page === null ? '/' : `/jobs/${page.jobId}/pages/${page.id}/gaps`));
  const list = useRef<HTMLUListElement>(null);
  useEffect(() => {
    list.current?.querySelector('[aria-current="true"]')?.scrollIntoView({ block: 'nearest' });
  }, [current]);
  if (!measured) return <Note>The line art is being measured.</Note>;
  const standing = decisions.find((one) => one.key === current);
  const alike = standing === undefined ? [] : decisions.filter((one) => one.kind === standing.kind);
  return (
    <>
      <Box sx={{ px: 1.25, py: 1, borderBottom: `1px solid ${tones.line}` }}>
        <Typography variant="body2">
          <b>
            {decisions.length === 0 ? 'Nothing is left to decide here.' : `${countText(decisions.length)} to decide`}
          </b>
        </Typography>
        <Typography variant="caption" color="text.secondary" component="p">
          {decisions.length === 0 ? (
            <Button component={Link} to={gapsUrl} sx={{ ml: -0.5 }}>
              Go on to Gaps
            </Button>
          ) : standing === undefined ? (
            <>
              <Key>.</Key> goes to the first
            </>
          ) : (
            <>
              <Key>Enter</Key> {standing.yes}
              {standing.no !== null && (
                <>
                  , <Key>Backspace</Key> {standing.no}
                </>
              )}
            </>
          )}
        </Typography>
      </Box>
      <Box
        component="ul"
        ref={list}
        {...walkedByArrows((direction) => goToDecision(bench, direction))}
        sx={{ m: 0, p: 0, listStyle: 'none', overflowY: 'auto', flex: 1 }}
      >
        {decisions.map((decision) => (
          <Row key={decision.key} decision={decision} current={decision.key === current} />
        ))}
      </Box>
      {alike.length > 1 && standing !== undefined && (
        <Box sx={{ p: 1, borderTop: `1px solid ${tones.line}`, display: 'grid', gap: 0.5 }}>
          <Button variant="outlined" onClick={() => ruleDecisions(bench, alike, true)}>
            All {countText(alike.length)}: {standing.yes}
          </Button>
          {standing.no !== null && (
            <Button variant="outlined" onClick={() => ruleDecisions(bench, alike, false)}>
              All {countText(alike.length)}: {standing.no}
            </Button>
          )}
        </Box>
      )}
    </>
  );
}

const Row = memo(function Row({
  decision,
  current,
}: {
  readonly decision: LineDecision;
  readonly current: boolean;
}): ReactNode {
  const bench = useBench();
  const [x0, y0, x1, y1] = decision.box;
  const [w, h] = [x1 - x0, y1 - y0];
  const span = Math.max(w, (h * CROP_PX.width) / CROP_PX.height) * 1.15;
  return (
    <WorklistRow
      crop={{ of: { x: (x0 + x1) / 2, y: (y0 + y1) / 2, span }, ...CROP_PX }}
      current={current}
      onStand={() => selectDecision(bench, decision)}
    >
      <Typography variant="body2" noWrap>
        {decision.title}
      </Typography>
      <Typography variant="caption" color="text.secondary" component="p">
        {decision.detail}
      </Typography>
    </WorklistRow>
  );
});
