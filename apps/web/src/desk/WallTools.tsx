import type { JobPlan, PagePlan, TimeStage } from '@jumble/contracts';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { counted } from '../measures.ts';
import { dueOf, forecastWords, isLate, nextStep, STAGE_WORDS, today } from './plans.ts';

/** Which pages of a job are shown. */
export interface WallFilter {
  readonly stage: TimeStage | 'done' | '';
  readonly person: string;
  readonly late: boolean;
}
export const ALL_PAGES: WallFilter = { stage: '', person: '', late: false };

export function isShown(plan: JobPlan, page: PagePlan, { stage, person, late }: WallFilter): boolean {
  const next = nextStep(page)?.stage ?? 'done';
  return (
    (stage === '' || next === stage) &&
    (person === '' || page.person === person) &&
    (!late || (next !== 'done' && isLate(dueOf(plan, page), today())))
  );
}

export interface WallToolsProps {
  readonly plan: JobPlan;
  readonly filter: WallFilter;
  readonly onFilter: (filter: WallFilter) => void;
  readonly chosen: ReadonlySet<string>;
  readonly onChooseAll: () => void;
  readonly onChooseNone: () => void;
  readonly onSet: () => void;
  readonly onCheck: () => void;
  readonly onHandOff: () => void;
}

/** What is forecast, which pages are shown, and what is done with those that are chosen. */
export function WallTools(props: WallToolsProps): ReactNode {
  const { plan, filter, onFilter, chosen, onChooseAll, onChooseNone, onSet, onCheck, onHandOff } = props;
  const people = [...new Set(plan.pages.flatMap(({ person }) => person ?? []))].sort();
  const select = { font: 'inherit', fontSize: 13 };
  return (
    <Box sx={{ mb: 1.5 }}>
      <Typography variant="body2">
        {[plan.series, plan.client].filter(Boolean).join(', for ')}
        {(plan.series ?? plan.client) !== null && '. '}
        {forecastWords(plan)} <Link to={`/jobs/${plan.id}/time`}>Time</Link>{' '}
        <Link to={`/jobs/${plan.id}/logbook`}>Logbook</Link>
      </Typography>
      <Box
        sx={{ display: 'flex', alignItems: 'center', gap: 1.5, mt: 1, fontSize: 13, minHeight: 32, flexWrap: 'wrap' }}
      >
        <label>
          Next{' '}
          <select
            aria-label="Next"
            value={filter.stage}
            style={select}
            onChange={(event) => onFilter({ ...filter, stage: event.target.value as WallFilter['stage'] })}
          >
            <option value="">anything</option>
            {(Object.keys(STAGE_WORDS) as TimeStage[])
              .filter((stage) => ['gaps', 'flats', 'check', 'handoff'].includes(stage))
              .map((stage) => (
                <option key={stage} value={stage}>
                  {STAGE_WORDS[stage]}
                </option>
              ))}
            <option value="done">nothing: handed off</option>
          </select>
        </label>
        {people.length > 0 && (
          <label>
            Who{' '}
            <select
              aria-label="Who"
              value={filter.person}
              style={select}
              onChange={(event) => onFilter({ ...filter, person: event.target.value })}
            >
              <option value="">everyone</option>
              {people.map((person) => (
                <option key={person}>{person}</option>
              ))}
            </select>
          </label>
        )}
        <label>
          <input
            type="checkbox"
            checked={filter.late}
            onChange={(event) => onFilter({ ...filter, late: event.target.checked })}
          />{' '}
          Late alone
        </label>
        <span style={{ flex: 1 }} />
        {chosen.size === 0 ? (
          <Button onClick={onChooseAll}>Choose all</Button>
        ) : (
          <>
            <span role="status">{counted(chosen.size, 'page')} chosen</span>
            <Button variant="outlined" onClick={onSet}>
              Plan them
            </Button>
            <Button variant="outlined" onClick={onCheck}>
              Check them
            </Button>
            <Button variant="outlined" onClick={onHandOff}>
              Hand them off
            </Button>
            <Button onClick={onChooseNone}>Choose none</Button>
          </>
        )}
      </Box>
    </Box>
  );
}
