import { formatColour, type LineSelect } from '@jumble/core';
import ArrowDownwardIcon from '@mui/icons-material/ArrowDownward';
import ArrowUpwardIcon from '@mui/icons-material/ArrowUpward';
import CloseIcon from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useMemo, type ReactNode } from 'react';
import { counted } from '../../../measures.ts';
import { tones } from '../../../theme.ts';
import { IconAction } from '../../IconAction.tsx';
import { useBench, useBenchState } from '../../state/benchContext.ts';
import { lineAt, openRule } from './draft.ts';
import { factsOfRule, moveRule, removeRule, switchRule } from './holds.ts';
import { coloursInWords, linesInWords } from './holdWords.ts';
import { Swatch } from './Swatch.tsx';

/** A rule in words, with its colour, how many lines it takes and the lowest contrast of these. */
export function RuleRow({
  id,
  place,
  last,
}: {
  readonly id: string;
  readonly place: number;
  readonly last: boolean;
}): ReactNode {
  const bench = useBench();
  const rule = useBenchState((state) => state.document?.holds.get(id));
  const cast = useBenchState((state) => state.cast);
  const holds = useBenchState((state) => state.holds);
  const isOpen = useBenchState((state) => state.holdDraft?.id === id);
  const { lowest, rgb: swatch } = useMemo(() => factsOfRule(holds, place), [holds, place]);
  const lost = useLostPoints(rule?.lines);
  if (rule === undefined) return null;
  const { lines, off } = rule;
  const count = holds?.counts[place] ?? 0;
  return (
    <Box
      component="li"
      sx={{
        px: 1.25,
        py: 0.75,
        borderBottom: `1px solid ${tones.chromeDark}`,
        bgcolor: isOpen ? '#fff' : 'transparent',
        opacity: off === true ? 0.6 : 1,
      }}
    >
      <Typography
        variant="body2"
        component="button"
        onClick={() => openRule(bench, id)}
        sx={{
          font: 'inherit',
          fontSize: 13,
          textAlign: 'left',
          border: 0,
          p: 0,
          bgcolor: 'transparent',
          cursor: 'pointer',
        }}
      >
        <b>{linesInWords(lines, cast)}</b>: {coloursInWords(rule, cast)}
      </Typography>
      {lost > 0 && (
        <Typography variant="caption" color="error" component="p">
          {counted(lost, 'chosen line')} {lost === 1 ? 'is' : 'are'} no longer where it was chosen.
        </Typography>
      )}
      <Box sx={{ display: 'flex', alignItems: 'center' }}>
        <Typography variant="caption" color="text.secondary" sx={{ flex: 1 }}>
          {swatch >= 0 && <Swatch colour={formatColour(swatch)} />}{' '}
          {off === true ? 'switched off' : counted(count, 'line')}
          {Number.isFinite(lowest) && `, lowest contrast ${lowest.toFixed(0)}`}
        </Typography>
        <IconAction name="Count less" disabled={place === 0} onClick={() => moveRule(bench, id, -1)}>
          <ArrowUpwardIcon sx={{ fontSize: 15 }} />
        </IconAction>
        <IconAction name="Count more" disabled={last} onClick={() => moveRule(bench, id, 1)}>
          <ArrowDownwardIcon sx={{ fontSize: 15 }} />
        </IconAction>
        <Button sx={{ minWidth: 0, py: 0, px: 0.5 }} onClick={() => switchRule(bench, id, off !== true)}>
          {off === true ? 'On' : 'Off'}
        </Button>
        <IconAction name="Back to black" disabled={false} onClick={() => removeRule(bench, id)}>
          <CloseIcon sx={{ fontSize: 15 }} />
        </IconAction>
      </Box>
    </Box>
  );
}

/** How far from its point a line that was chosen by hand may lie, in px. */
const MOVED_PX = 24;

/** How many points of a choice by hand lie on no line any more: the file was revised, or the line was cut. */
function useLostPoints(lines: LineSelect | undefined): number {
  const bench = useBench();
  const holds = useBenchState((state) => state.holds);
  return useMemo(() => {
    if (holds === null || lines === undefined || !('at' in lines)) return 0;
    return lines.at.filter(([x, y]) => lineAt(bench.state, x, y, MOVED_PX) === null).length;
  }, [bench, holds, lines]);
}
