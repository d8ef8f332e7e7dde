import { MAX_TRAP_DEPTH_MM, MAX_TRAP_DEPTH_PX, type TrapRule } from '@jumble/core';
import Box from '@mui/material/Box';
import TextField from '@mui/material/TextField';
import { useState, type ReactNode } from 'react';

/** The kinds of rule, as they are chosen. */
type Kind = 'middle' | 'px' | 'mm' | 'max';

const WORDS: Record<Kind, string> = {
  middle: 'To the middle of the line',
  px: 'A depth in px',
  mm: 'A depth in mm',
  max: 'As deep as the line allows',
};

export interface RuleFieldProps {
  /** What it is a rule of, for who cannot see where it stands. */
  readonly name: string;
  readonly rule: TrapRule | null;
  /** What it says where there is no rule of its own; absent where there has to be one. */
  readonly inherited?: string;
  readonly lineWidthPx: number;
  /** Width of the widest line: no margin may be wider. Null while it is not known. */
  readonly widestPx: number | null;
  readonly dpi: number | null;
  readonly onSet: (rule: TrapRule | null) => void;
}

const kindOf = (rule: TrapRule): Kind => (rule.rule === 'depth' ? ('depthPx' in rule ? 'px' : 'mm') : rule.rule);

function lengthOf(rule: TrapRule): number {
  if (rule.rule === 'middle') return 0;
  if (rule.rule === 'max') return rule.marginPx;
  return 'depthPx' in rule ? rule.depthPx : rule.depthMm;
}

function ruleOf(kind: Kind, length: number): TrapRule {
  if (kind === 'middle') return { rule: 'middle' };
  if (kind === 'max') return { rule: 'max', marginPx: length };
  return kind === 'px' ? { rule: 'depth', depthPx: length } : { rule: 'depth', depthMm: length };
}

/** Chooses a rule of trap; a length is taken on Enter or when the field is left, and one that cannot be is said, not taken. */
export function RuleField({ name, rule, inherited, lineWidthPx, widestPx, dpi, onSet }: RuleFieldProps): ReactNode {
  const [text, setText] = useState<string | null>(null);
  const kind = rule === null ? null : kindOf(rule);
  const length = rule === null ? 0 : lengthOf(rule);
  const problem = text === null || kind === null ? null : problemOf(kind, text, widestPx);
  const choose = (next: Kind | ''): void => {
    setText(null);
    if (next === '') onSet(null);
    else onSet(ruleOf(next, firstLength(next, lineWidthPx, dpi)));
  };
  const take = (): void => {
    if (problem !== null || kind === null) return;
    if (text !== null && Number(text) !== length) onSet(ruleOf(kind, Number(text)));
    setText(null);
  };
  return (
    <Box sx={{ display: 'grid', gap: 0.5 }}>
      <select
        aria-label={`Rule of ${name}`}
        value={kind ?? ''}
        onChange={(event) => {
          choose(event.target.value as Kind | '');
          // The keys of the bench work on.
          event.target.blur();
        }}
        style={{ font: 'inherit', fontSize: 13, padding: '3px 2px', width: '100%' }}
      >
        {inherited !== undefined && <option value="">{inherited}</option>}
        {(Object.keys(WORDS) as Kind[]).map((one) => (
          <option key={one} value={one} disabled={one === 'mm' && dpi === null && kind !== 'mm'}>
            {WORDS[one]}
          </option>
        ))}
      </select>
      {kind !== null && kind !== 'middle' && (
        <TextField
          variant="standard"
          label={kind === 'max' ? 'less a margin, in px' : `Depth in ${kind}`}
          value={text ?? String(length)}
          error={problem !== null}
          helperText={problem}
          onChange={(event) => setText(event.target.value)}
          onBlur={take}
          onKeyDown={(event) => {
            if (event.key === 'Enter') take();
            if (event.key === 'Escape') setText(null);
          }}
          slotProps={{ htmlInput: { inputMode: 'decimal', 'aria-label': `Length of ${name}` } }}
        />
      )}
    </Box>
  );
}

/** What a length starts with when its kind is chosen: a third of the line, a margin of a px. */
function firstLength(kind: Kind, lineWidthPx: number, dpi: number | null): number {
  const third = Math.max(1, Math.round(lineWidthPx / 3));
  if (kind === 'max') return 1;
  return kind === 'mm' && dpi !== null ? Math.round((third * 2540) / dpi) / 100 : third;
}

function problemOf(kind: Kind, text: string, widestPx: number | null): string | null {
  const most = kind === 'mm' ? MAX_TRAP_DEPTH_MM : MAX_TRAP_DEPTH_PX;
  const value = Number(text);
  if (text.trim() === '' || !Number.isFinite(value) || value < 0 || value > most)
    return `A number of ${kind === 'mm' ? 'mm' : 'px'} from 0 to ${most}.`;
  if (kind === 'max' && widestPx !== null && value > widestPx)
    return `Wider than any line here: the widest is ${widestPx} px.`;
  return null;
}
