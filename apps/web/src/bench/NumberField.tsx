import TextField from '@mui/material/TextField';
import { useState, type ReactNode } from 'react';

export interface NumberFieldProps {
  readonly label: string;
  readonly value: number;
  readonly least: number;
  readonly most: number;
  readonly onSet: (value: number) => void;
}

/** A whole number that is taken on Enter or when the field is left; what is out of range is said, not taken. */
export function NumberField({ label, value, least, most, onSet }: NumberFieldProps): ReactNode {
  const [text, setText] = useState<string | null>(null);
  const typed = text === null ? value : Number(text);
  const wrong = text !== null && (text.trim() === '' || !Number.isInteger(typed) || typed < least || typed > most);
  const take = (): void => {
    if (text !== null && !wrong && typed !== value) onSet(typed);
    if (!wrong) setText(null);
  };
  return (
    <TextField
      variant="standard"
      label={label}
      value={text ?? String(value)}
      error={wrong}
      helperText={wrong ? `${least} to ${most}` : undefined}
      onChange={(event) => setText(event.target.value)}
      onBlur={take}
      onKeyDown={(event) => {
        if (event.key === 'Enter') take();
        if (event.key === 'Escape') setText(null);
      }}
      sx={{ flex: 1, minWidth: 0 }}
      slotProps={{ htmlInput: { inputMode: 'numeric' } }}
    />
  );
}
