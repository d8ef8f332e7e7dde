import CloseIcon from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import Typography from '@mui/material/Typography';
import { useState, type ReactNode } from 'react';
import { tones } from '../theme.ts';
import { Key } from './Key.tsx';
import { useBenchState } from './state/benchContext.ts';
import type { StageName } from './state/benchState.ts';

const PUT_AWAY = 'jumble.firstSteps.putAway';

/** What somebody does first on each stage, in the order they do it. */
const STEPS: Readonly<Record<StageName, readonly ReactNode[]>> = {
  lineart: [
    <>
      <Key>.</Key> goes to the first decision about the drawing
    </>,
    <>
      <Key>Enter</Key> accepts it, <Key>Backspace</Key> rejects it
    </>,
    'Once nothing is left, go on to Gaps above',
  ],
  gaps: [
    <>
      <Key>.</Key> shows the gap with most at stake
    </>,
    <>
      <Key>Enter</Key> closes it, <Key>Backspace</Key> leaves it open
    </>,
    'Drag from line to line where one is missing',
  ],
  flats: [
    'Choose a part on the right, or press its key',
    'Click a region, or drag over several',
    <>
      <Key>.</Key> goes to the next region without a part, <Key>Ctrl+Z</Key> takes a step back
    </>,
  ],
  trap: [
    'Choose how deep colour runs, on the right',
    <>
      <Key>.</Key> goes to the worst place, <Key>Enter</Key> mends it
    </>,
    <>
      Hold <Key>q</Key> to see two rules side by side
    </>,
  ],
  holds: [
    'Click lines, or choose them by what they are',
    'Say on the right what colour they take',
    <>
      <Key>Enter</Key> applies it; <Key>.</Key> goes to lines that are hard to read
    </>,
  ],
  check: [
    <>
      <Key>.</Key> goes to the next finding, close up
    </>,
    <>
      <Key>Enter</Key> mends it, <Key>s</Key> lets it stay for a reason
    </>,
    'With none left, certify the page',
  ],
  handoff: ['Check what the list on the left says', 'Choose how layers are made, then build the hand-off'],
};

/** The first steps on a stage, for who has not been here before; once put away it stays away. */
export function FirstSteps(): ReactNode {
  const stage = useBenchState((state) => state.stage);
  const [isAway, setAway] = useState(() => localStorage.getItem(PUT_AWAY) !== null);
  if (isAway) return null;
  return (
    <Box
      component="aside"
      aria-label="First steps"
      sx={{
        m: 1,
        mt: 'auto',
        p: 1,
        flexShrink: 0,
        bgcolor: tones.sheet,
        border: `1px solid ${tones.line}`,
        borderRadius: 1,
      }}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', mb: 0.5 }}>
        <Typography variant="h3" component="h2" sx={{ flex: 1 }}>
          First steps
        </Typography>
        <IconButton
          aria-label="Put the first steps away"
          size="small"
          onClick={() => {
            localStorage.setItem(PUT_AWAY, '1');
            setAway(true);
          }}
        >
          <CloseIcon sx={{ fontSize: 16 }} />
        </IconButton>
      </Box>
      <Box component="ol" sx={{ m: 0, pl: 2.25, fontSize: 12.5, '& li': { mb: 0.5 } }}>
        {STEPS[stage].map((step, k) => (
          <li key={k}>{step}</li>
        ))}
      </Box>
      <Typography variant="caption" color="text.secondary">
        <Key>?</Key> lists all keys
      </Typography>
    </Box>
  );
}
