import type { JobPlan, RateDto } from '@jumble/contracts';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import Box from '@mui/material/Box';
import { useState, type ReactNode } from 'react';
import { FormDialog } from '../notices/FormDialog.tsx';
import { request } from '../api/http.ts';
import { idleMinutes, setIdleMinutes } from '../time/idleMinutes.ts';

export interface PlanDialogProps {
  readonly plan: JobPlan;
  readonly onClose: () => void;
  readonly onChanged: () => void;
}

const WEEKDAYS = ['Su', 'Mo', 'Tu', 'We', 'Th', 'Fr', 'Sa'];

/** What was agreed about a job: for whom, until when, for how much, and when it is worked on. */
export function PlanDialog({ plan, onClose, onChanged }: PlanDialogProps): ReactNode {
  const [series, setSeries] = useState(plan.series ?? '');
  const [client, setClient] = useState(plan.client ?? '');
  const [dueOn, setDueOn] = useState(plan.dueOn ?? '');
  const [per, setPer] = useState<RateDto['per'] | ''>(plan.rate?.per ?? '');
  const [amount, setAmount] = useState(String(plan.rate?.amount ?? ''));
  const [currency, setCurrency] = useState(plan.rate?.currency ?? 'EUR');
  const [weekdays, setWeekdays] = useState<readonly number[]>(plan.calendar.weekdays);
  const [hours, setHours] = useState(String(plan.calendar.hoursADay));
  const [daysOff, setDaysOff] = useState(plan.calendar.daysOff.join(', '));
  const [idle, setIdle] = useState(String(idleMinutes()));
  const save = async (): Promise<void> => {
    if (!setIdleMinutes(Number(idle))) throw new Error('Idle minutes are a whole number from 1 to 30.');
    if (dueOn !== (plan.dueOn ?? '')) await request('PATCH', `/api/jobs/${plan.id}`, { dueOn: dueOn === '' ? null : dueOn }); // prettier-ignore
    await request('PATCH', `/api/jobs/${plan.id}/plan`, {
      series,
      client,
      rate: per === '' ? null : { per, amount: Number(amount), currency },
      calendar: { weekdays, hoursADay: Number(hours), daysOff: daysOff.split(/[\s,;]+/).filter(Boolean) },
    });
    onChanged();
  };
  const toggle = (day: number): void =>
    setWeekdays(weekdays.includes(day) ? weekdays.filter((one) => one !== day) : [...weekdays, day].sort());
  return (
    <FormDialog
      title={`Plan of ${plan.name}`}
      action="Set"
      width="sm"
      layout={{ gridTemplateColumns: '1fr 1fr' }}
      onSend={save}
      onClose={onClose}
    >
      <TextField label="Series and issue" value={series} onChange={(event) => setSeries(event.target.value)} />
      <TextField label="Client" value={client} onChange={(event) => setClient(event.target.value)} />
      <TextField
        type="date"
        label="Due on"
        value={dueOn}
        onChange={(event) => setDueOn(event.target.value)}
        slotProps={{ inputLabel: { shrink: true } }}
      />
      <TextField select label="Paid" value={per} onChange={(event) => setPer(event.target.value as RateDto['per'])}>
        <MenuItem value="">not said</MenuItem>
        <MenuItem value="page">per page</MenuItem>
        <MenuItem value="panel">per panel</MenuItem>
        <MenuItem value="hour">per hour</MenuItem>
      </TextField>
      {per !== '' && (
        <>
          <TextField
            label="Rate"
            required
            value={amount}
            onChange={(event) => setAmount(event.target.value)}
            slotProps={{ htmlInput: { inputMode: 'decimal' } }}
          />
          <TextField label="Currency" value={currency} onChange={(event) => setCurrency(event.target.value)} />
        </>
      )}
      <Box role="group" aria-label="Days that are worked" sx={{ gridColumn: '1 / -1', fontSize: 13 }}>
        Worked on{' '}
        {WEEKDAYS.map((name, day) => (
          <label key={name} style={{ marginRight: 10 }}>
            <input type="checkbox" checked={weekdays.includes(day)} onChange={() => toggle(day)} /> {name}
          </label>
        ))}
      </Box>
      <TextField
        label="Hours on such a day"
        value={hours}
        onChange={(event) => setHours(event.target.value)}
        slotProps={{ htmlInput: { inputMode: 'decimal' } }}
      />
      <TextField
        label="Days off, like 2026-12-24"
        value={daysOff}
        onChange={(event) => setDaysOff(event.target.value)}
      />
      <TextField
        label="Minutes without doing anything that still count"
        value={idle}
        onChange={(event) => setIdle(event.target.value)}
        helperText="In this browser"
        slotProps={{ htmlInput: { inputMode: 'numeric' } }}
      />
    </FormDialog>
  );
}
