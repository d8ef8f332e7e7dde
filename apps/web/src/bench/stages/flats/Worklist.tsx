import type { FillLook } from '@jumble/core';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import Typography from '@mui/material/Typography';
import { memo, useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import { tones } from '../../../theme.ts';
import { Key } from '../../Key.tsx';
import { areaText, countText, counted } from '../../../measures.ts';
import { regionsInPanel } from './openRegions.ts';
import { useBench, useBenchState } from '../../state/benchContext.ts';
import { Note } from '../../Note.tsx';
import { FillWays } from './FillWays.tsx';
import { WorklistRow } from '../../WorklistRow.tsx';
import type { ShownSurvey } from '../../engine/messages.ts';
import { walkedByArrows } from '../../walkedByArrows.ts';
import { confirmAll, lookForIslands } from './flats.ts';
import { goToRegion, selectRegion } from './openRegions.ts';

/** So many rows are shown; the rest is counted. */
const SHOWN = 60;

/** Regions without a part, the largest first. Zero left means the stage is done. */
export function Worklist(): ReactNode {
  const phase = useBenchState((state) => state.phase);
  const survey = useBenchState((state) => state.survey);
  const whole = useBenchState((state) => state.openRegions);
  const looks = useBenchState((state) => state.lookRegions);
  const islands = useBenchState((state) => state.islands);
  const panelShown = useBenchState((state) => state.panelShown);
  const panelOfRegion = useBenchState((state) => state.panelOfRegion);
  const open = useMemo(
    () => regionsInPanel({ openRegions: whole, lookRegions: looks, islands, panelShown, panelOfRegion }),
    [whole, looks, islands, panelShown, panelOfRegion],
  );
  const toBeSeen = useMemo(() => new Set([...looks, ...islands]), [looks, islands]);
  if ((phase !== 'ready' && phase !== 'again') || survey === null)
    return <Note>The list is made once the page is read.</Note>;
  return (
    <>
      <FillWays />
      <SleepingFills />
      <Box sx={{ px: 1.25, py: 1, borderBottom: `1px solid ${tones.line}` }}>
        <OpenCount
          open={open.length}
          toLook={open.filter((region) => toBeSeen.has(region)).length}
          panel={panelShown}
          all={survey.regions.count}
        />
        <Crumbs count={survey.regions.crumbs.count} limitPx2={survey.crumbLimitPx2} />
      </Box>
      <RegionList survey={survey} open={open} toBeSeen={toBeSeen} />
    </>
  );
}

function SleepingFills(): ReactNode {
  const asleep = useBenchState((state) => state.resolved?.asleep.length ?? 0);
  if (asleep === 0) return null;
  return (
    <Alert severity="info" sx={{ borderRadius: 0, py: 0 }}>
      {asleep === 1 ? '1 fill has' : `${countText(asleep)} fills have`} no region: there is ink now where{' '}
      {asleep === 1 ? 'it was' : 'they were'}.
    </Alert>
  );
}

interface OpenCountProps {
  readonly open: number;
  readonly toLook: number;
  /** The panel the list keeps to; null for all of the page. */
  readonly panel: number | null;
  readonly all: number;
}

/** How much is left, and what goes on from here. */
const OpenCount = memo(function OpenCount({ open, toLook, panel, all }: OpenCountProps): ReactNode {
  const bench = useBench();
  const islands = useBenchState((state) => state.islands.length);
  return (
    <>
      <Typography variant="body2">
        {open === 0 ? (
          <b>{panel === null ? 'Every region has its part.' : `Panel ${panel + 1} has all its parts.`}</b>
        ) : (
          <>
            <b>{countText(open - toLook)}</b>
            {panel === null ? ` of ${counted(all, 'region')}` : ` regions in panel ${panel + 1}`} without a part
            {toLook > 0 && (
              <>
                , <b>{countText(toLook)}</b> to look at
              </>
            )}
          </>
        )}
      </Typography>
      <WhatNext done={open === 0} confirmsOnly={toLook === open} inPanel={panel !== null} />
      {toLook > islands && (
        <Button sx={{ ml: -0.5, display: 'block', py: 0 }} onClick={() => confirmAll(bench)}>
          {toLook - islands === 1 ? 'Confirm it' : `Confirm all ${countText(toLook - islands)}`} (Shift+Enter)
        </Button>
      )}
    </>
  );
});

interface WhatNextProps {
  readonly done: boolean;
  /** All that is left has a part and wants a look. */
  readonly confirmsOnly: boolean;
  readonly inPanel: boolean;
}

/** The keys that go on, or the way out of the stage. */
const WhatNext = memo(function WhatNext({ done, confirmsOnly, inPanel }: WhatNextProps): ReactNode {
  const bench = useBench();
  const [looked, setLooked] = useState<number | null>(null);
  const handoffUrl = useBenchState(({ page }) =>
    page === null ? '/' : `/jobs/${page.jobId}/pages/${page.id}/handoff`,
  );
  return (
    <Typography variant="caption" color="text.secondary" component="p">
      {done && inPanel ? (
        <>
          <Key>]</Key> goes to the next panel
        </>
      ) : done ? (
        <>
          <Button component={Link} to={handoffUrl} sx={{ ml: -0.5 }}>
            Go on to Hand off
          </Button>
          <Button onClick={() => void lookForIslands(bench).then(setLooked)}>
            {looked === 0 ? 'No islands' : 'Look for islands'}
          </Button>
        </>
      ) : (
        <>
          <Key>.</Key> next, <Key>Enter</Key> {confirmsOnly ? 'confirms' : 'assigns the chosen part'}, <Key>;</Key> the
          one around it
        </>
      )}
    </Typography>
  );
});

const Crumbs = memo(function Crumbs({
  count,
  limitPx2,
}: {
  readonly count: number;
  readonly limitPx2: number;
}): ReactNode {
  if (count === 0) return null;
  return (
    <Typography variant="caption" color="text.secondary" component="p">
      {counted(count, 'crumb')} below {countText(limitPx2)} px² {count === 1 ? 'goes' : 'go'} with what is around
    </Typography>
  );
});

interface RegionListProps {
  readonly survey: ShownSurvey;
  readonly open: readonly number[];
  readonly toBeSeen: ReadonlySet<number>;
}

const RegionList = memo(function RegionList({ survey, open, toBeSeen }: RegionListProps): ReactNode {
  const bench = useBench();
  const current = useBenchState((state) => state.current);
  const resolved = useBenchState((state) => state.resolved);
  const islands = useBenchState((state) => state.islands);
  const cast = useBenchState((state) => state.cast);
  const dpi = useBenchState((state) => state.page?.dpi ?? null);
  const list = useRef<HTMLUListElement>(null);
  const at = current === null ? -1 : open.indexOf(current);
  const from = Math.max(0, Math.min(open.length - SHOWN, at - 10));

  useEffect(() => {
    list.current?.querySelector('[aria-current="true"]')?.scrollIntoView({ block: 'nearest' });
  }, [current]);

  const nameOf = (region: number): string => {
    if (!toBeSeen.has(region)) return `Region ${region + 1}`;
    const part = cast?.parts.find((one) => one.id === resolved!.partOfRegion[region]);
    return part?.name ?? '?';
  };
  const reasonOf = (region: number): string => {
    const look = resolved?.looks.get(region);
    if (islands.includes(region)) return 'island: something else? ';
    if (resolved?.conflicts.includes(region) === true) return 'two parts meet, ';
    return look !== undefined ? `${LOOK_WORDS[look]}, ` : isSliver(survey, region) ? 'sliver, ' : '';
  };
  return (
    <List ref={list} {...walkedByArrows((direction) => goToRegion(bench, direction))}>
      {open.slice(from, from + SHOWN).map((region) => (
        <RegionRow
          key={region}
          region={region}
          current={region === current}
          name={nameOf(region)}
          detail={reasonOf(region) + areaText(survey.regions.areaPx[region]!, dpi)}
        />
      ))}
      {open.length > from + SHOWN && (
        <li>
          <Note>and {countText(open.length - from - SHOWN)} smaller ones</Note>
        </li>
      )}
    </List>
  );
});

const List = styled('ul')({ margin: 0, padding: 0, listStyle: 'none', overflowY: 'auto', flex: 1 });

interface RegionRowProps {
  readonly region: number;
  readonly current: boolean;
  readonly name: string;
  readonly detail: string;
}

/** A region of the list. Every fill changes the list: each row draws itself anew only when it changed. */
const RegionRow = memo(function RegionRow({ region, current, name, detail }: RegionRowProps): ReactNode {
  const bench = useBench();
  return (
    <WorklistRow
      crop={{ of: { region }, width: 60, height: 44 }}
      current={current}
      onStand={() => selectRegion(bench, region)}
    >
      <Typography variant="body2" noWrap>
        {name}
      </Typography>
      <Typography variant="caption" color="text.secondary" noWrap component="p">
        {detail}
      </Typography>
    </WorklistRow>
  );
});

/** Why a part is to be looked at. */
const LOOK_WORDS: Record<FillLook, string> = {
  across: 'through an opening',
  around: 'from around it',
  shared: 'two marks met',
  done: 'by what is done already',
  key: 'key not plain',
};

/** Thinner than a line and not much longer. */
function isSliver({ regions, lineWidthPx }: ShownSurvey, region: number): boolean {
  const b = region * 4;
  const longer = Math.max(regions.box[b + 2]! - regions.box[b]!, regions.box[b + 3]! - regions.box[b + 1]!);
  return regions.areaPx[region]! < 1.2 * lineWidthPx.median * longer;
}
