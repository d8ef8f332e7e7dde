import type { JobPlan } from '@jumble/contracts';
import TextField from '@mui/material/TextField';
import { useState, type ReactNode } from 'react';
import { FormDialog } from '../notices/FormDialog.tsx';
import { request } from '../api/http.ts';
import { counted } from '../measures.ts';

export interface PagesPlanDialogProps {
  readonly plan: JobPlan;
  readonly pageIds: readonly string[];
  readonly onClose: () => void;
  readonly onChanged: () => void;
}

/** What is planned for pages; a field that is left as it is changes nothing. */
export function PagesPlanDialog({ plan, pageIds, onClose, onChanged }: PagesPlanDialogProps): ReactNode {
  const chosen = plan.pages.filter(({ id }) => pageIds.includes(id));
  const common = <K extends 'dueOn' | 'person' | 'agreed' | 'bookNumber'>(field: K): string =>
    new Set(chosen.map((page) => page[field] ?? '')).size === 1 ? (chosen[0]![field] ?? '') : '';
  const first = { dueOn: common('dueOn'), person: common('person'), agreed: common('agreed'), bookNumber: common('bookNumber') }; // prettier-ignore
  const [values, setValues] = useState(first);
  const [isSpread, setSpread] = useState(chosen.every((page) => page.isSpread));
  const isOne = chosen.length === 1;
  const save = async (): Promise<void> => {
    const { dueOn, person, agreed, bookNumber } = values;
    await request('PATCH', `/api/jobs/${plan.id}/pages/plan`, {
      pageIds,
      ...(dueOn === first.dueOn ? {} : { dueOn: dueOn === '' ? null : dueOn }),
      ...(person === first.person ? {} : { person }),
      ...(agreed === first.agreed ? {} : { agreed }),
      ...(isOne ? { bookNumber, isSpread } : {}),
    });
    onChanged();
  };
  const field = (name: keyof typeof first, label: string, extra: object = {}): ReactNode => (
    <TextField
      label={label}
      value={values[name]}
      onChange={(event) => setValues({ ...values, [name]: event.target.value })}
      {...extra}
    />
  );
  return (
    <FormDialog
      title={isOne ? chosen[0]!.name : counted(chosen.length, 'page')}
      action="Set"
      onSend={save}
      onClose={onClose}
    >
      {isOne && field('bookNumber', 'Number in the book')}
      {isOne && (
        <label style={{ fontSize: 13 }}>
          <input type="checkbox" checked={isSpread} onChange={(event) => setSpread(event.target.checked)} /> A spread
        </label>
      )}
      {field('dueOn', 'Due on', { type: 'date', slotProps: { inputLabel: { shrink: true } } })}
      {field('person', 'Who works on it')}
      {field('agreed', 'What was agreed')}
    </FormDialog>
  );
}
