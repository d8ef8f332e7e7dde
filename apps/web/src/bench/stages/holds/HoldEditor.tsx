import { MAX_AROUND_PX, type HoldColour } from '@jumble/core';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Slider from '@mui/material/Slider';
import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';
import { lengthText } from '../../../measures.ts';
import { tones } from '../../../theme.ts';
import { Key } from '../../Key.tsx';
import { NumberField } from '../../NumberField.tsx';
import { useBench, useBenchState } from '../../state/benchContext.ts';
import { draftColour, endsOfChosen, setDraft, setDraftColour } from './draft.ts';
import { takeDraft } from './holds.ts';
import { SceneChoice } from './SceneChoice.tsx';
import { linesInWords } from './holdWords.ts';

type Kind = 'one' | 'darken' | 'around' | 'gradient' | 'along' | 'hsl';

const WORDS: Record<Kind, string> = {
  darken: 'Darkened from its part or sides',
  one: 'One colour',
  around: 'The surroundings, blurred and darkened',
  gradient: 'A gradient across the page',
  along: 'A gradient along each line',
  hsl: 'Hue, saturation, lightness',
};

function kindOf(colour: HoldColour): Kind {
  if (typeof colour === 'string') return 'one';
  return (Object.keys(colour) as Kind[])[0]!;
}

/** The rule that is being made or changed. */
export function HoldEditor(): ReactNode {
  const bench = useBench();
  const draft = useBenchState((state) => state.holdDraft)!;
  const cast = useBenchState((state) => state.cast);
  const { lines, id } = draft;
  const colour = draftColour(draft);
  const first = (kind: Kind): HoldColour => {
    if (kind === 'one') return '#5a3b2e';
    if (kind === 'darken') return { darken: 0.4 };
    if (kind === 'around') return { around: { radiusPx: 24, darken: 0.4 } };
    if (kind === 'hsl') return { hsl: [220, 0.4, 0.25] };
    if (kind === 'along') return { along: ['#2a1f3d', '#8a5a3c'] };
    const [one, two] = endsOfChosen(bench.state);
    return { gradient: [['#2a1f3d', one], ['#8a5a3c', two]] }; // prettier-ignore
  };
  return (
    <Box
      component="section"
      aria-label="Rule being made"
      sx={{ p: 1.25, bgcolor: '#fff', borderBottom: `1px solid ${tones.line}` }}
    >
      <Typography variant="body2" sx={{ mb: 0.5 }}>
        <b>{linesInWords(lines, cast)}</b>
      </Typography>
      <SceneChoice />
      <select
        aria-label="How the colour is made"
        value={kindOf(colour)}
        onChange={(event) => {
          setDraftColour(bench, first(event.target.value as Kind));
          event.target.blur();
        }}
        style={{ font: 'inherit', fontSize: 13, width: '100%', padding: '3px 2px' }}
      >
        {(Object.keys(WORDS) as Kind[]).map((kind) => (
          <option key={kind} value={kind}>
            {WORDS[kind]}
          </option>
        ))}
      </select>
      <Controls colour={colour} onChange={(next) => setDraftColour(bench, next)} />
      <Box sx={{ display: 'flex', gap: 0.75, mt: 1 }}>
        <Button variant="contained" onClick={() => takeDraft(bench)}>
          {id === null ? 'Apply' : 'Save'}
        </Button>
        <Button onClick={() => setDraft(bench, null)}>Cancel</Button>
        <Typography variant="caption" color="text.secondary" sx={{ alignSelf: 'center' }}>
          <Key>Enter</Key>
        </Typography>
      </Box>
    </Box>
  );
}

interface ControlsProps {
  readonly colour: HoldColour;
  readonly onChange: (colour: HoldColour) => void;
}

function Controls({ colour, onChange }: ControlsProps): ReactNode {
  const dpi = useBenchState((state) => state.page?.dpi ?? null);
  if (typeof colour === 'string') return <ColourField label="Colour" value={colour} onChange={onChange} />;
  if ('darken' in colour)
    return <Share label="Darker by" value={colour.darken} onChange={(darken) => onChange({ darken })} />;
  if ('around' in colour) {
    const { radiusPx, darken } = colour.around;
    return (
      <>
        <Share label="Darker by" value={darken} onChange={(next) => onChange({ around: { radiusPx, darken: next } })} />
        <NumberField
          label={`Radius: ${lengthText(radiusPx, dpi)}`}
          value={radiusPx}
          least={1}
          most={MAX_AROUND_PX}
          onSet={(next) => onChange({ around: { radiusPx: next, darken } })}
        />
      </>
    );
  }
  if ('along' in colour) {
    const [from, to] = colour.along;
    return <Pair from={from} to={to} onChange={(a, b) => onChange({ along: [a, b] })} />;
  }
  if ('gradient' in colour) {
    const [[from, a], [to, b]] = colour.gradient;
    return (
      <>
        <Pair
          from={from}
          to={to}
          onChange={(one, two) =>
            onChange({
              gradient: [
                [one, a],
                [two, b],
              ],
            })
          }
        />
        <Typography variant="caption" color="text.secondary" component="p" sx={{ mt: 0.5 }}>
          Drag the two squares on the page, or say where they are.
        </Typography>
        {(['from x', 'from y', 'to x', 'to y'] as const).map((label, k) => (
          <NumberField
            key={label}
            label={`${label}, in px`}
            value={(k < 2 ? a : b)[k % 2]!}
            least={0}
            most={100_000}
            onSet={(value) => {
              const ends = [...a, ...b];
              ends[k] = value;
              onChange({ gradient: [[from, [ends[0]!, ends[1]!]], [to, [ends[2]!, ends[3]!]]] }); // prettier-ignore
            }}
          />
        ))}
      </>
    );
  }
  const [hue, saturation, lightness] = colour.hsl;
  return (
    <>
      <Share
        label="Hue"
        value={hue / 360}
        unit="°"
        most={360}
        onChange={(next) => onChange({ hsl: [next * 360, saturation, lightness] })}
      />
      <Share label="Saturation" value={saturation} onChange={(next) => onChange({ hsl: [hue, next, lightness] })} />
      <Share label="Lightness" value={lightness} onChange={(next) => onChange({ hsl: [hue, saturation, next] })} />
    </>
  );
}

interface ShareProps {
  readonly label: string;
  readonly value: number;
  readonly unit?: string;
  readonly most?: number;
  readonly onChange: (value: number) => void;
}

function Share({ label, value, unit = ' %', most = 100, onChange }: ShareProps): ReactNode {
  return (
    <Box sx={{ mt: 0.5 }}>
      <Typography variant="caption">
        {label}{' '}
        <b>
          {Math.round(value * most)}
          {unit}
        </b>
      </Typography>
      <Slider
        size="small"
        aria-label={label}
        min={0}
        max={1}
        step={0.01}
        value={value}
        onChange={(_, next) => onChange(next as number)}
        sx={{ py: 0.75 }}
      />
    </Box>
  );
}

function ColourField({
  label,
  value,
  onChange,
}: {
  readonly label: string;
  readonly value: string;
  readonly onChange: (value: string) => void;
}): ReactNode {
  return (
    <label style={{ display: 'flex', alignItems: 'center', gap: 8, fontSize: 13, marginTop: 6 }}>
      <input type="color" value={value} onChange={(event) => onChange(event.target.value)} />
      {label} {value}
    </label>
  );
}

function Pair({
  from,
  to,
  onChange,
}: {
  readonly from: string;
  readonly to: string;
  readonly onChange: (from: string, to: string) => void;
}): ReactNode {
  return (
    <>
      <ColourField label="From" value={from} onChange={(next) => onChange(next, to)} />
      <ColourField label="To" value={to} onChange={(next) => onChange(from, next)} />
    </>
  );
}
