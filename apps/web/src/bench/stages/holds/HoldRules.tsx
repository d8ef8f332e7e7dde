import {
  editGroup,
  editHoldLimits,
  formatColour,
  GROUP_KINDS,
  holdsInOrder,
  kindOfGroup,
  MAX_AROUND_PX,
  stackedGroups,
  type GroupKind,
  type HoldColour,
  type LineSelect,
} from '@jumble/core';
import ArrowDownwardIcon from '@mui/icons-material/ArrowDownward';
import ArrowUpwardIcon from '@mui/icons-material/ArrowUpward';
import CloseIcon from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Slider from '@mui/material/Slider';
import Typography from '@mui/material/Typography';
import type { JobView } from '@jumble/contracts';
import { useMemo, type ReactNode } from 'react';
import useSWR from 'swr';
import { counted, lengthText } from '../../../measures.ts';
import { useNotices } from '../../../notices/NoticeProvider.tsx';
import { tones } from '../../../theme.ts';
import { Key } from '../../Key.tsx';
import { Note } from '../../Note.tsx';
import { NumberField } from '../../NumberField.tsx';
import { useBench, useBenchState } from '../../state/benchContext.ts';
import { copyRules } from './copyRules.ts';
import { allBlack, lineAt, moveRule, removeRule, setDraft, setDraftColour, switchRule, takeDraft } from './holds.ts';
import { colourInWords, linesInWords } from './holdWords.ts';
import { Swatch } from './HoldWorklist.tsx';

/** The rules that colour the lines of this page, in the order in which they count: the last one most. */
export function HoldRules(): ReactNode {
  const bench = useBench();
  const document = useBenchState((state) => state.document);
  const draft = useBenchState((state) => state.holdDraft);
  if (document === null) return <Note>The rules are listed once the page is read.</Note>;
  const rules = holdsInOrder(document);
  return (
    <Box sx={{ overflowY: 'auto', flex: 1, pb: 1.5 }}>
      {draft !== null && <Editor />}
      {rules.length === 0 && draft === null && (
        <Note>No rule yet. Choose lines on the page or on the left; what colour they take is said here.</Note>
      )}
      <Box component="ol" sx={{ m: 0, p: 0, listStyle: 'none' }} aria-label="Rules, later ones count more">
        {rules.map((rule, k) => (
          <RuleRow key={rule.id} id={rule.id} place={k} last={k === rules.length - 1} />
        ))}
      </Box>
      {rules.length > 0 && (
        <Button sx={{ mx: 1 }} onClick={() => allBlack(bench)}>
          All lines back to black
        </Button>
      )}
      {rules.length > 0 && <CopyRules />}
      <Limits />
      <Kinds />
    </Box>
  );
}

function RuleRow({
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
  let lowest = Infinity;
  let swatch = -1;
  holds?.ruleOf.forEach((number, piece) => {
    if (number !== place) return;
    lowest = Math.min(lowest, holds.contrast[piece]!);
    if (swatch < 0) swatch = holds.rgb[piece]!;
  });
  const lost = useLostPoints(rule?.lines);
  if (rule === undefined) return null;
  const { lines, colour, off } = rule;
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
        onClick={() => setDraft(bench, { id, lines, colour })}
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
        <b>{linesInWords(lines, cast)}</b>: {colourInWords(colour, lines, cast)}
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
        <Tool name="Count less" disabled={place === 0} onClick={() => moveRule(bench, id, -1)}>
          <ArrowUpwardIcon sx={{ fontSize: 15 }} />
        </Tool>
        <Tool name="Count more" disabled={last} onClick={() => moveRule(bench, id, 1)}>
          <ArrowDownwardIcon sx={{ fontSize: 15 }} />
        </Tool>
        <Button sx={{ minWidth: 0, py: 0, px: 0.5 }} onClick={() => switchRule(bench, id, off !== true)}>
          {off === true ? 'On' : 'Off'}
        </Button>
        <Tool name="Back to black" disabled={false} onClick={() => removeRule(bench, id)}>
          <CloseIcon sx={{ fontSize: 15 }} />
        </Tool>
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

interface ToolProps {
  readonly name: string;
  readonly disabled: boolean;
  readonly onClick: () => void;
  readonly children: ReactNode;
}

function Tool({ name, disabled, onClick, children }: ToolProps): ReactNode {
  return (
    <IconButton aria-label={name} title={name} disabled={disabled} onClick={onClick} sx={{ p: 0.25 }}>
      {children}
    </IconButton>
  );
}

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
function Editor(): ReactNode {
  const bench = useBench();
  const draft = useBenchState((state) => state.holdDraft)!;
  const cast = useBenchState((state) => state.cast);
  const page = useBenchState((state) => state.page);
  const { colour, lines, id } = draft;
  const first = (kind: Kind): HoldColour => {
    if (kind === 'one') return '#5a3b2e';
    if (kind === 'darken') return { darken: 0.4 };
    if (kind === 'around') return { around: { radiusPx: 24, darken: 0.4 } };
    if (kind === 'hsl') return { hsl: [220, 0.4, 0.25] };
    if (kind === 'along') return { along: ['#2a1f3d', '#8a5a3c'] };
    return { gradient: [['#2a1f3d', [0, 0]], ['#8a5a3c', [0, page?.height ?? 1000]]] }; // prettier-ignore
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

/** How near the colours of lines and of what lies beside them may come, in the whole job. */
function Limits(): ReactNode {
  const bench = useBench();
  const limits = useBenchState((state) => state.cast?.holds ?? null);
  if (limits === null) return null;
  return (
    <Box component="section" aria-label="In the whole job" sx={{ px: 1.25, pt: 1.5 }}>
      <Typography variant="h3" component="h3" sx={{ mb: 0.5 }}>
        In the whole job
      </Typography>
      <NumberField
        label="Least difference to both sides (CIEDE2000)"
        value={limits.difference}
        least={0}
        most={100}
        onSet={(difference) =>
          bench.changeCast(`Least contrast of lines ${difference}`, [editHoldLimits({ ...limits, difference })])
        }
      />
      <label style={{ fontSize: 13, display: 'flex', gap: 6, marginTop: 8 }}>
        <input
          type="checkbox"
          checked={limits.darkContours}
          onChange={(event) =>
            bench.changeCast(
              event.target.checked
                ? 'Contours stay darker than inner lines'
                : 'Contours may be lighter than inner lines',
              [editHoldLimits({ ...limits, darkContours: event.target.checked })],
            )
          }
        />
        Contours stay darker than inner lines
      </label>
    </Box>
  );
}

/** What the groups of the cast are: contours run between figures and the ground. */
function Kinds(): ReactNode {
  const bench = useBench();
  const cast = useBenchState((state) => state.cast);
  if (cast === null) return null;
  return (
    <Box component="section" aria-label="Figures and ground" sx={{ px: 1.25, pt: 1.5 }}>
      <Typography variant="h3" component="h3" sx={{ mb: 0.5 }}>
        Figures and ground
      </Typography>
      {stackedGroups(cast).map((group) => (
        <label key={group.id} style={{ display: 'flex', fontSize: 13, gap: 8, marginBottom: 2 }}>
          <span style={{ flex: 1 }}>{group.name}</span>
          <select
            value={kindOfGroup(group)}
            onChange={(event) => {
              const kind = event.target.value as GroupKind;
              bench.changeCast(`${group.name} is a ${kind}`, [editGroup({ ...group, kind })]);
              event.target.blur();
            }}
            style={{ font: 'inherit', fontSize: 12.5 }}
          >
            {GROUP_KINDS.map((kind) => (
              <option key={kind}>{kind}</option>
            ))}
          </select>
        </label>
      ))}
    </Box>
  );
}

/** Copies the rules that do not point at places of this page to another page of the job, or to all. */
function CopyRules(): ReactNode {
  const bench = useBench();
  const { say, fail } = useNotices();
  const page = useBenchState((state) => state.page);
  const { data: job } = useSWR<JobView, Error>(page === null ? null : `/api/jobs/${page.jobId}`);
  const others = (job?.pages ?? []).filter(({ id }) => id !== page?.id);
  if (others.length === 0) return null;
  const copy = (ids: readonly string[]): void => {
    copyRules(bench, ids).then(
      (count) =>
        say(
          count === 0
            ? 'These rules point at places of this page: there is nothing to copy.'
            : `${counted(count, 'rule')} copied to ${counted(ids.length, 'page')}.`,
        ),
      fail,
    );
  };
  return (
    <Box sx={{ px: 1.25, pt: 0.5 }}>
      <select
        aria-label="Copy these rules to other pages"
        value=""
        onChange={(event) => {
          copy(event.target.value === 'all' ? others.map(({ id }) => id) : [event.target.value]);
          event.target.blur();
        }}
        style={{ font: 'inherit', fontSize: 12.5, width: '100%' }}
      >
        <option value="">Copy these rules to …</option>
        {others.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
        {others.length > 1 && <option value="all">all other pages</option>}
      </select>
    </Box>
  );
}
