import type { PagePlan, PageView } from '@jumble/contracts';
import { LARGE_PAGE_PX } from '@jumble/core';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import Typography from '@mui/material/Typography';
import { useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import { request } from '../api/http.ts';
import { useNotices } from '../notices/NoticeProvider.tsx';
import { tones } from '../theme.ts';
import { PageMenu } from './PageMenu.tsx';
import { dayText, dayWords, hoursText, isLate, minutesOf, nextStep, STAGE_WORDS, stageStates, today } from './plans.ts';
import { printSize, progressText } from './progress.ts';
import { Thumbnail } from './Thumbnail.tsx';

/** How much a card shows; the heights of its picture in px. */
const PICTURES = { large: 286, medium: 150, small: 110 };
export type CardSize = keyof typeof PICTURES;

export interface PageCardProps {
  readonly page: PageView;
  readonly number: number;
  readonly onChanged: () => void;
  readonly onMoveEarlier: (() => void) | undefined;
  readonly onMoveLater: (() => void) | undefined;
  readonly onAskResolution: () => void;
  /** One of many shows its picture and what is next alone. @default large */
  readonly size?: CardSize;
  /** What is planned and open; undefined while nobody knows. */
  readonly plan?: PagePlan | undefined;
  readonly due?: string | null;
  readonly chosen?: boolean;
  readonly onChoose?: () => void;
  readonly onDrag?: () => void;
  readonly onDropped?: () => void;
}

/** A page on the job's desk: what it looks like now and how far it is. */
export function PageCard(props: PageCardProps): ReactNode {
  const {
    page,
    number,
    onChanged,
    size = 'large',
    plan,
    due = null,
    chosen = false,
    onChoose,
    onDrag,
    onDropped,
  } = props;
  const isSmall = size === 'small';
  const [replacing, setReplacing] = useState(false);
  const [halving, setHalving] = useState(false);
  /** Slow to work on, and nothing is done on it yet. */
  const offersHalf = page.full === null && page.revision === 0 && page.width * page.height > LARGE_PAGE_PX;
  return (
    <Box
      component="li"
      draggable={onDrag !== undefined}
      onDragStart={onDrag}
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        // A file that is dropped is a new page: the wall takes it.
        if (event.dataTransfer.files.length > 0) return;
        event.preventDefault();
        event.stopPropagation();
        onDropped?.();
      }}
      sx={{
        bgcolor: tones.sheet,
        border: `1px solid ${chosen ? tones.accent : tones.line}`,
        boxShadow: chosen ? `0 0 0 1px ${tones.accent}` : 'none',
        borderRadius: 1,
        position: 'relative',
        '&:hover': { borderColor: tones.accent },
      }}
    >
      <Box
        sx={{
          height: PICTURES[size],
          bgcolor: tones.ground,
          display: 'grid',
          placeItems: 'center',
          overflow: 'hidden',
        }}
      >
        <Thumbnail page={page} style={{ maxWidth: '94%', maxHeight: PICTURES[size] - 8, display: 'block' }} />
      </Box>
      {(replacing || halving) && (
        <LinearProgress aria-label={halving ? 'The page is halved' : 'The revised file is read'} />
      )}
      {onChoose !== undefined && (
        <input
          type="checkbox"
          aria-label={`Choose ${page.name}`}
          checked={chosen}
          onChange={onChoose}
          style={{ position: 'absolute', left: 6, top: 6, zIndex: 1, margin: 0 }}
        />
      )}
      <Box sx={{ p: isSmall ? 0.5 : 1.25 }}>
        <Typography variant="h3" component="h2" noWrap>
          <Link to={`/jobs/${page.jobId}/pages/${page.id}/flats`} style={{ color: 'inherit', textDecoration: 'none' }}>
            {plan?.bookNumber ?? number}. {page.name}
            <span style={{ position: 'absolute', inset: 0 }} />
          </Link>
          {!isSmall && plan !== undefined && plan.person !== null && (
            <Typography variant="caption" color="text.secondary" component="span">
              {', '}
              {plan.person}
            </Typography>
          )}
        </Typography>
        {plan !== undefined && <PlanLines plan={plan} due={due} isSmall={isSmall} />}
        {size === 'large' && (
          <>
            <Typography variant="caption" color="text.secondary" component="p">
              {progressText(page.filledCount, page.regionCount)}
            </Typography>
            <Typography variant="caption" color="text.secondary" component="p" noWrap>
              {printSize(page)}
            </Typography>
          </>
        )}
        {offersHalf && !isSmall && (
          <HalfSize page={page} halving={halving} onHalving={setHalving} onChanged={onChanged} />
        )}
        {plan !== undefined && <StageMarks plan={plan} isSmall={isSmall} />}
        <LinearProgress
          variant="determinate"
          value={page.regionCount === 0 ? 0 : (100 * page.filledCount) / page.regionCount}
          sx={{ mt: isSmall ? 0.25 : 0.75 }}
          aria-label={`Progress of ${page.name}`}
          title={progressText(page.filledCount, page.regionCount)}
        />
      </Box>
      <PageMenu {...props} onReplacing={setReplacing} />
    </Box>
  );
}

/** What is next on a page, until when and by whom. */
function PlanLines(props: {
  readonly plan: PagePlan;
  readonly due: string | null;
  readonly isSmall: boolean;
}): ReactNode {
  const { plan, due, isSmall } = props;
  const step = nextStep(plan);
  const late = step !== null && isLate(due, today());
  const worked = minutesOf(plan);
  const expected = plan.estimate === null ? '' : ` of about ${hoursText(plan.estimate.minutes)}`;
  return (
    <>
      <Typography variant="caption" component="p" noWrap title={step?.words}>
        <b>{step === null ? 'handed off' : STAGE_WORDS[step.stage]}</b>
        {step !== null && !isSmall && `: ${step.words}`}
        {isSmall && late && ', late'}
      </Typography>
      {!isSmall && (
        <Typography variant="caption" color="text.secondary" component="p" noWrap title={plan.agreed ?? undefined}>
          {plan.isSpread && 'spread, '}
          {due === null
            ? 'no due day'
            : `${late ? 'late:' : 'due'} ${step === null ? dayText(due) : dayWords(due, today())}`}
        </Typography>
      )}
      {!isSmall && (
        <Typography variant="caption" color="text.secondary" component="p" noWrap title={driversInWords(plan)}>
          {hoursText(worked)}
          {expected}
        </Typography>
      )}
    </>
  );
}

/** A mark for each stage: filled where it is done, empty where something is open, dashed while nobody knows. */
function StageMarks({ plan, isSmall }: { readonly plan: PagePlan; readonly isSmall: boolean }): ReactNode {
  const states = stageStates(plan);
  const inWords = states.map(({ stage, words }) => `${STAGE_WORDS[stage]}: ${words}`);
  return (
    <Box
      role="img"
      aria-label={`Stages of ${plan.name}: ${inWords.join('; ')}`}
      sx={{ display: 'flex', gap: '3px', mt: isSmall ? 0.25 : 0.75, position: 'relative', zIndex: 1 }}
    >
      {states.map(({ stage, open }, k) => (
        <Box
          key={stage}
          component="span"
          title={inWords[k]}
          sx={{
            flex: 1,
            height: isSmall ? 5 : 8,
            border: `1px ${open === null ? 'dashed' : 'solid'} ${open === 0 ? tones.accent : tones.quiet}`,
            bgcolor: open === 0 ? tones.accent : '#fff',
          }}
        />
      ))}
    </Box>
  );
}

/** "regions 24 min, panels 15 min". */
function driversInWords({ estimate }: PagePlan): string {
  const words = {
    page: 'any page',
    regions: 'regions',
    gaps: 'gaps',
    looseEnds: 'loose ends',
    panels: 'panels',
    hatching: 'hatching',
  };
  return (estimate?.drivers ?? []).map(({ term, minutes }) => `${words[term]} ${Math.round(minutes)} min`).join(', ');
}

interface HalfSizeProps {
  readonly page: PageView;
  readonly halving: boolean;
  readonly onHalving: (halving: boolean) => void;
  readonly onChanged: () => void;
}

/** A page that is slow to work on can be worked on at half its size. */
function HalfSize({ page, halving, onHalving, onChanged }: HalfSizeProps): ReactNode {
  const { fail, say } = useNotices();
  const halve = async (): Promise<void> => {
    onHalving(true);
    try {
      await request<PageView>('POST', `/api/pages/${page.id}/half`);
      say(`"${page.name}" is worked on at half its size; what is handed off has the whole.`, 'success');
      onChanged();
    } catch (error) {
      fail(error);
    } finally {
      onHalving(false);
    }
  };
  return (
    <Button
      disabled={halving}
      onClick={() => void halve()}
      title="What is handed off has the page's whole size"
      sx={{ position: 'relative', zIndex: 1, ml: -0.75, py: 0 }}
    >
      {Math.round((page.width * page.height) / 1e6)} megapixels: work at half size
    </Button>
  );
}
