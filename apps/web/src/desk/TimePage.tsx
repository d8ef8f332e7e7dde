import type { JobPlan, TimeStage, WorkTimeView } from '@jumble/contracts';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import dayjs from 'dayjs';
import { useState, type ReactNode } from 'react';
import { useParams } from 'react-router';
import useSWR from 'swr';
import { request } from '../api/http.ts';
import { person } from '../api/person.ts';
import { tones } from '../theme.ts';
import { DeskFrame } from './DeskFrame.tsx';
import { JobCharts } from './JobCharts.tsx';
import {
  dayWords,
  forecastWords,
  hoursText,
  STAGE_WORDS,
  today,
  usePlan,
  usePlans,
  whatIf,
  type WhatIf,
} from './plans.ts';

/** Time that was worked on a job, what follows from it, and the sheet that is billed. */
export function TimePage(): ReactNode {
  const { jobId = '' } = useParams();
  const { data: plan, mutate: replan } = usePlan(jobId);
  const { data: plans } = usePlans();
  const { data: times, error, mutate } = useSWR<WorkTimeView[], Error>(`/api/jobs/${jobId}/time`);
  const changed = (): void => {
    void mutate();
    void replan();
  };
  return (
    <DeskFrame
      title="Time"
      parent={{ label: plan?.name ?? 'Job', to: `/jobs/${jobId}` }}
      subtitle={plan !== undefined && <Typography variant="body2">{forecastWords(plan)}</Typography>}
      actions={
        <>
          <a href={`/api/jobs/${jobId}/time-sheet.csv`} download>
            Time sheet as CSV
          </a>
          <a href={`/api/jobs/${jobId}/time-sheet.pdf`} download>
            As PDF
          </a>
        </>
      }
    >
      {error !== undefined && <Alert severity="error">{error.message}</Alert>}
      {plan !== undefined && <Pay plan={plan} />}
      {plan !== undefined && plan.forecast.minutesLeft > 0 && <WhatIfLine plan={plan} />}
      {plan !== undefined && <JobCharts plan={plan} jobs={plans ?? []} />}
      {times !== undefined && <Sheet times={times} />}
      {plan !== undefined && plan.pages.length > 0 && <Correction plan={plan} onChanged={changed} />}
    </DeskFrame>
  );
}

function Pay({ plan: { pay, rate } }: { readonly plan: JobPlan }): ReactNode {
  if (pay === null || rate === null) return null;
  const money = (sum: number): string =>
    `${sum.toLocaleString('en-GB', { maximumFractionDigits: 2 })} ${rate.currency}`;
  return (
    <Typography variant="body2" sx={{ mb: 2 }}>
      The job pays {money(pay.total)}
      {pay.perHourExpected !== null && `; that will be ${money(pay.perHourExpected)} an hour`}
      {pay.perHourSoFar !== null && `, ${money(pay.perHourSoFar)} so far`}.
    </Typography>
  );
}

/** What slips when something is otherwise than it is. */
function WhatIfLine({ plan }: { readonly plan: JobPlan }): ReactNode {
  const [asked, setAsked] = useState<WhatIf>({ pages: 0, daysAway: 0, pace: plan.forecast.pace });
  const number = (field: 'pages' | 'daysAway', label: string): ReactNode => (
    <input
      type="number"
      aria-label={label}
      min={0}
      max={200}
      value={asked[field]}
      onChange={(event) => {
        const value = Math.floor(Number(event.target.value));
        if (value >= 0 && value <= 200) setAsked({ ...asked, [field]: value });
      }}
      style={{ font: 'inherit', width: 52 }}
    />
  );
  const would = whatIf(plan, asked, today());
  return (
    <Box role="group" aria-label="What if" sx={{ fontSize: 13, mb: 2 }}>
      With {number('pages', 'Pages more')} pages more, {number('daysAway', 'Days away')} days away, at{' '}
      <select
        aria-label="Pace"
        value={asked.pace}
        onChange={(event) => setAsked({ ...asked, pace: event.target.value as WhatIf['pace'] })}
        style={{ font: 'inherit' }}
      >
        <option value="last days">the pace of the last days</option>
        <option value="calendar">the hours of the calendar</option>
      </select>
      : <b>{would.doneOn === null ? 'never done' : `done on ${dayWords(would.doneOn, today())}`}</b>
      {plan.dueOn !== null && would.doneOn !== null && would.doneOn > plan.dueOn && ', after its deadline'}.
    </Box>
  );
}

/** Hours by day and week. */
function Sheet({ times }: { readonly times: readonly WorkTimeView[] }): ReactNode {
  if (times.length === 0)
    return (
      <Typography color="text.secondary">No time is written down yet; it is, as soon as somebody works.</Typography>
    );
  const weeks = new Map<string, WorkTimeView[]>();
  for (const one of times) {
    const week = dayjs(one.day)
      .subtract((dayjs(one.day).day() + 6) % 7, 'day')
      .format('YYYY-MM-DD');
    weeks.set(week, [...(weeks.get(week) ?? []), one]);
  }
  const sum = (some: readonly WorkTimeView[]): string =>
    hoursText(some.reduce((all, { seconds }) => all + seconds, 0) / 60);
  return (
    <Box component="section" aria-label="Time sheet" sx={{ mb: 3 }}>
      {[...weeks].map(([week, ofWeek]) => (
        <Box key={week} sx={{ mb: 2 }}>
          <Typography variant="h3" component="h2" sx={{ mb: 0.5 }}>
            Week of {dayjs(week).format('D MMM')}: {sum(ofWeek)}
          </Typography>
          <table style={{ width: '100%', borderCollapse: 'collapse', fontSize: 13 }}>
            <thead>
              <tr style={{ textAlign: 'left', color: tones.quiet }}>
                <th style={{ width: 190 }}>Day</th>
                <th style={{ width: 140 }}>Who</th>
                <th>Page</th>
                <th style={{ width: 110 }}>Stage</th>
                <th style={{ width: 110, textAlign: 'right' }}>Time</th>
                <th style={{ width: 260, paddingLeft: 16 }}>Note</th>
              </tr>
            </thead>
            <tbody>
              {ofWeek.map((one, k) => (
                <tr
                  key={`${one.pageId} ${one.stage} ${one.person} ${one.day} ${one.byHand}`}
                  style={{ borderTop: `1px solid ${tones.chromeDark}` }}
                >
                  <td>
                    {ofWeek[k - 1]?.day !== one.day && (
                      <>
                        <b>{dayjs(one.day).format('ddd D MMM')}</b>{' '}
                        <span style={{ color: tones.quiet }}>{sum(ofWeek.filter(({ day }) => day === one.day))}</span>
                      </>
                    )}
                  </td>
                  <td>{one.person}</td>
                  <td>{one.pageName}</td>
                  <td>{STAGE_WORDS[one.stage]}</td>
                  <td style={{ textAlign: 'right' }}>{signed(one.seconds)}</td>
                  <td style={{ paddingLeft: 16 }}>
                    {one.byHand && `by hand${one.note === null ? '' : `: ${one.note}`}`}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </Box>
      ))}
    </Box>
  );
}

const signed = (seconds: number): string => (seconds < 0 ? `−${hoursText(-seconds / 60)}` : hoursText(seconds / 60));

/** Adds or takes off time by hand; it is told apart for ever. */
function Correction({ plan, onChanged }: { readonly plan: JobPlan; readonly onChanged: () => void }): ReactNode {
  const [pageId, setPageId] = useState(plan.pages[0]!.id);
  const [stage, setStage] = useState<TimeStage>('flats');
  const [day, setDay] = useState(today());
  const [minutes, setMinutes] = useState('');
  const [note, setNote] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const add = async (): Promise<void> => {
    try {
      const body = { person: person(), stage, day, minutes: Number(minutes), note };
      await request('POST', `/api/pages/${pageId}/time/corrections`, body);
      setMinutes('');
      setNote('');
      setProblem(null);
      onChanged();
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  return (
    <Box
      component="form"
      aria-label="Correct by hand"
      onSubmit={(event) => {
        event.preventDefault();
        void add();
      }}
      sx={{ display: 'flex', gap: 1, alignItems: 'center', flexWrap: 'wrap' }}
    >
      <Typography variant="body2">Correct by hand:</Typography>
      <TextField
        select
        label="Page"
        value={pageId}
        onChange={(event) => setPageId(event.target.value)}
        sx={{ width: 170 }}
      >
        {plan.pages.map(({ id, name }) => (
          <MenuItem key={id} value={id}>
            {name}
          </MenuItem>
        ))}
      </TextField>
      <TextField
        select
        label="Stage"
        value={stage}
        onChange={(event) => setStage(event.target.value as TimeStage)}
        sx={{ width: 120 }}
      >
        {(Object.keys(STAGE_WORDS) as TimeStage[]).map((one) => (
          <MenuItem key={one} value={one}>
            {STAGE_WORDS[one]}
          </MenuItem>
        ))}
      </TextField>
      <TextField type="date" label="Day" value={day} onChange={(event) => setDay(event.target.value)} />
      <TextField
        label="Minutes, − takes off"
        value={minutes}
        onChange={(event) => setMinutes(event.target.value.replace('−', '-'))}
        sx={{ width: 150 }}
      />
      <TextField label="Note" value={note} onChange={(event) => setNote(event.target.value)} />
      <Button type="submit" variant="outlined" disabled={minutes.trim() === '' || !Number.isInteger(Number(minutes))}>
        Write down
      </Button>
      {problem !== null && (
        <Typography variant="body2" color="error">
          {problem}
        </Typography>
      )}
    </Box>
  );
}
