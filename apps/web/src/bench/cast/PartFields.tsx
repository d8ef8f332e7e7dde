import type { CastPart, CastSheet } from '@jumble/core';
import Box from '@mui/material/Box';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import type { ReactNode } from 'react';
import type { PartDraft } from './castEdits.ts';
import type { PartProblems } from './partProblems.ts';

interface PartFieldsProps {
  readonly part: PartDraft;
  readonly cast: CastSheet;
  readonly problems: PartProblems;
  readonly onChange: (part: PartDraft) => void;
}

/** What a part is called, where it belongs, its key and notes. */
export function PartFields({ part, cast, problems, onChange }: PartFieldsProps): ReactNode {
  const change = (fields: Partial<PartDraft>): void => onChange({ ...part, ...fields });
  return (
    <Box sx={{ display: 'grid', gap: 2, alignContent: 'start', pt: 1, width: 230 }}>
      <TextField
        autoFocus
        label="Name"
        value={part.name}
        onChange={(event) => change({ name: event.target.value })}
        error={problems.name !== null}
        helperText={problems.name ?? ' '}
        slotProps={{ htmlInput: { maxLength: 80 } }}
      />
      <TextField
        select
        label="Belongs to"
        value={part.groupId}
        onChange={(event) => change({ groupId: event.target.value })}
      >
        {cast.groups.map((group) => (
          <MenuItem key={group.id} value={group.id}>
            {group.name}
          </MenuItem>
        ))}
      </TextField>
      <TextField
        select
        label="Is a marking on"
        value={part.on ?? ''}
        onChange={(event) => {
          const { on: _, ...rest } = part;
          onChange(event.target.value === '' ? rest : { ...rest, on: event.target.value });
        }}
        helperText="Stripes, freckles: lies in front of it and follows its colour"
      >
        <MenuItem value="">nothing</MenuItem>
        {basesFor(cast, part.id).map((one) => (
          <MenuItem key={one.id} value={one.id}>
            {cast.groups.find((group) => group.id === one.groupId)?.name}: {one.name}
          </MenuItem>
        ))}
      </TextField>
      <TextField
        label="Key"
        value={part.slot ?? ''}
        onChange={(event) => change({ slot: event.target.value.slice(-1).toLowerCase() || null })}
        error={problems.slot !== null}
        helperText={problems.slot ?? 'One letter or digit that chooses it'}
      />
      <TextField
        label="Notes"
        multiline
        maxRows={4}
        value={part.notes ?? ''}
        onChange={(event) => change({ notes: event.target.value })}
        slotProps={{ htmlInput: { maxLength: 1000 } }}
      />
      <FormControlLabel
        control={<Checkbox checked={part.empty} onChange={(event) => change({ empty: event.target.checked })} />}
        label="Leave empty: decided, but prints nothing"
      />
    </Box>
  );
}

/** What a part may be a marking on: any other that is not, over however many, a marking on it. */
function basesFor(cast: CastSheet, partId: string): CastPart[] {
  const above = new Set([partId]);
  for (let k = 0; k < cast.parts.length; k++) {
    const more = cast.parts.filter((one) => one.on !== undefined && above.has(one.on) && !above.has(one.id));
    if (more.length === 0) break;
    for (const one of more) above.add(one.id);
  }
  return cast.parts.filter((one) => !above.has(one.id) && !one.empty);
}
