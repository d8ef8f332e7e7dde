import TextField from '@mui/material/TextField';
import { useState, type ReactNode } from 'react';

export interface TextRowProps {
  readonly label: string;
  readonly value: string;
  readonly most: number;
  /** What is wrong with a text; null for nothing. */
  readonly problemOf?: (text: string) => string | null;
  /** What stands below it. */
  readonly hint?: string;
  readonly multiline?: boolean;
  /** Whether it may be empty. @default no */
  readonly mayBeEmpty?: boolean;
  readonly onSet: (text: string) => void;
}

/** A text that is taken on Enter or when the field is left; what cannot be is said, not taken. */
export function TextRow(props: TextRowProps): ReactNode {
  const { label, value, most, problemOf, hint, multiline = false, mayBeEmpty = false, onSet } = props;
  const [text, setText] = useState<string | null>(null);
  const problem =
    text === null ? null : text.trim() === '' && !mayBeEmpty ? 'must not be empty' : (problemOf?.(text) ?? null);
  const take = (): void => {
    if (problem !== null) return;
    if (text !== null && text.trim() !== value) onSet(text.trim());
    setText(null);
  };
  return (
    <TextField
      variant="standard"
      fullWidth
      label={label}
      value={text ?? value}
      multiline={multiline}
      error={problem !== null}
      helperText={problem ?? hint}
      onChange={(event) => setText(event.target.value)}
      onBlur={take}
      onKeyDown={(event) => {
        if (event.key === 'Enter' && !multiline) take();
        if (event.key === 'Escape') setText(null);
      }}
      slotProps={{ input: { sx: { fontSize: 13 } }, htmlInput: { maxLength: most } }}
      sx={{ mb: 0.75 }}
    />
  );
}
