import {
  colourOfPart,
  planParts,
  scenesShown,
  compileTrap,
  lineWidthAt,
  paperDistance2,
  reachAt,
  type RegionTrap,
  type TrapInk,
} from '@jumble/core';
import Box from '@mui/material/Box';
import type { ReactNode } from 'react';
import { tones } from '../theme.ts';
import { areaText, durationText, lengthText } from '../measures.ts';
import { PAPER_TONES, SHOW_MODES, type BenchState, type PaperTone, type ShowMode } from './state/benchState.ts';
import { useBench, useBenchState } from './state/benchContext.ts';
import { setOptions } from './page/look.ts';
import { setShow } from './page/show.ts';
import type { ShownSurvey } from './engine/messages.ts';
import { latest } from './state/latest.ts';

/** What is under the pointer, measured; zoom; the time running here. */
export function Readout(): ReactNode {
  const scale = useBenchState((state) => state.view?.scale ?? 1);
  const seconds = useBenchState((state) => state.secondsHere);
  const pageFacts = useBenchState(({ survey, page }) =>
    survey === null || page === null
      ? ''
      : `${page.width} x ${page.height} px, line ${lengthText(survey.lineWidthPx.median, page.dpi)}`,
  );
  return (
    <Box
      component="footer"
      sx={{
        height: 26,
        px: 1.5,
        display: 'flex',
        alignItems: 'center',
        gap: 2,
        bgcolor: tones.sheet,
        borderTop: `1px solid ${tones.line}`,
        fontSize: 12,
        fontVariantNumeric: 'tabular-nums',
        whiteSpace: 'pre',
        overflow: 'hidden',
      }}
    >
      <UnderPointer />
      <Shown />
      <Paper />
      <Box sx={{ color: tones.quiet }}>{pageFacts}</Box>
      <Box sx={{ width: 60, textAlign: 'right' }}>{Math.round(scale * 1000) / 10} %</Box>
      <Box sx={{ width: 84, textAlign: 'right', color: tones.quiet }}>here {durationText(seconds)}</Box>
    </Box>
  );
}

/** Every move of the pointer changes it, and nothing else. */
function UnderPointer(): ReactNode {
  const words = useBenchState(describe);
  return (
    <Box sx={{ flex: 1, minWidth: 0, overflow: 'hidden', textOverflow: 'ellipsis' }} data-testid="readout">
      {words}
    </Box>
  );
}

const SHOW_WORDS: Record<ShowMode, string> = {
  all: 'all',
  flats: 'flats without ink',
  ink: 'ink without flats',
  part: 'the chosen part alone',
  missing: 'what is missing, loud',
};

/** What of the page is shown; a backslash goes on to the next. */
function Shown(): ReactNode {
  const bench = useBench();
  const show = useBenchState((state) => state.show);
  return (
    <label>
      Show{' '}
      <select
        value={show}
        onChange={(event) => {
          setShow(bench, event.target.value as ShowMode);
          // The keys of the bench work on.
          event.target.blur();
        }}
        title="Next: \\"
        style={{ font: 'inherit', border: 'none', background: 'transparent' }}
      >
        {SHOW_MODES.map((mode) => (
          <option key={mode} value={mode}>
            {SHOW_WORDS[mode]}
          </option>
        ))}
      </select>
    </label>
  );
}

const TONE_WORDS: Record<PaperTone, string> = {
  white: 'white paper',
  pale: 'pale grey',
  mid: 'mid grey',
  dark: 'dark grey',
};

/** The neutral ground under the flats; a bar goes on to the next. */
function Paper(): ReactNode {
  const bench = useBench();
  const paper = useBenchState((state) => state.options.paper);
  return (
    <label>
      on{' '}
      <select
        value={TONES.find((tone) => PAPER_TONES[tone] === paper)}
        onChange={(event) => {
          setOptions(bench, { paper: PAPER_TONES[event.target.value as PaperTone] });
          event.target.blur();
        }}
        title="Next: |"
        style={{ font: 'inherit', border: 'none', background: 'transparent' }}
      >
        {TONES.map((tone) => (
          <option key={tone} value={tone}>
            {TONE_WORDS[tone]}
          </option>
        ))}
      </select>
    </label>
  );
}

const TONES = Object.keys(PAPER_TONES) as PaperTone[];

/** The table of what is looked up while the pointer moves, by what it was made from. */
const tableOf = latest(({ survey, trap, ink }: TrapFacts) => compileTrap(survey, trap, ink));
interface TrapFacts {
  readonly survey: ShownSurvey;
  readonly trap: RegionTrap;
  readonly ink: TrapInk;
}
let facts: TrapFacts | null = null;

/** Whose colour runs here under the ink, and how deep; null on other stages. */
function trapHere(
  { stage, survey, trap, trapInk, resolved, cast, page }: BenchState,
  x: number,
  y: number,
): string | null {
  if (stage !== 'trap' || survey === null || trap === null || trap.ruleOfRegion.length !== survey.regions.count)
    return null;
  if (facts?.survey !== survey || facts.trap !== trap || facts.ink !== trapInk) facts = { survey, trap, ink: trapInk };
  const here = reachAt(survey, tableOf(facts), x, y);
  if (here === null) return 'no colour runs here';
  const part = resolved?.partOfRegion[survey.regions.ofCell[here.cell]!];
  const name = cast?.parts.find((one) => one.id === part)?.name ?? 'a region without a part';
  return `${name} runs ${lengthText(here.reachPx, page?.dpi ?? null)} under it`;
}

/** The line under the pointer, measured; null on other stages and where there is none. */
function lineHere({ stage, holds, hoveredLine, page, cast, document }: BenchState): string | null {
  if (stage !== 'holds' || holds === null || hoveredLine === null || cast === null || document === null) return null;
  const parts = planParts(cast, scenesShown(document)).flatMap((group) => group.parts);
  const [one, two] = [holds.one[hoveredLine]!, holds.two[hoveredLine]!].map((k) =>
    k < 0 ? 'no part' : parts[k]!.name,
  );
  const sides = one === two ? `inside ${one}` : `between ${one} and ${two}`;
  const dpi = page?.dpi ?? null;
  const size = `${lengthText(holds.lengthPx[hoveredLine]!, dpi)} long, ${lengthText(holds.widthPx[hoveredLine]!, dpi)} wide`;
  const contrast = holds.contrast[hoveredLine]!;
  const apart =
    holds.isSolid[hoveredLine] === 1 ? ', solid black' : holds.isLettering[hoveredLine] === 1 ? ', lettering' : '';
  return `Line ${sides}${apart}   ${size}   ${Number.isFinite(contrast) ? `contrast ${contrast.toFixed(1)}` : 'black'}`;
}

function describe(state: BenchState): string {
  const { survey, page, pointer, hovered, painted, resolved, cast, document } = state;
  if (survey === null || page === null) return '';
  if (pointer === null) return 'Point at the page to measure it.';
  const [x, y] = pointer;
  if (x < 0 || y < 0 || x >= survey.width || y >= survey.height) return 'Outside the page.';
  const over = painted === null ? '' : `   painted as ${cast?.parts.find((one) => one.id === painted)?.name ?? ''}`;
  if (hovered === null) {
    const line = lineHere(state);
    if (line !== null) return `${line}   at ${x}, ${y}${over}`;
    const width = lineWidthAt(survey, x, y);
    const depth = Math.sqrt(paperDistance2(survey, x, y));
    if (width === null || !Number.isFinite(depth)) return `Ink at ${x}, ${y}${over}`;
    return `Ink at ${x}, ${y}   line width here ${lengthText(width, page.dpi)}   ${trapHere(state, x, y) ?? `${lengthText(depth, page.dpi)} to paper`}${over}`;
  }
  const line = lineHere(state);
  if (line !== null) return `${line}   at ${x}, ${y}`;
  const part = cast?.parts.find((one) => one.id === resolved?.partOfRegion[hovered]);
  const colour =
    part === undefined ? '' : part.empty ? '' : ` ${colourOfPart(cast!, part.id, document?.scene ?? null)}`;
  const group = cast?.groups.find((one) => one.id === part?.groupId)?.name;
  const name = part === undefined ? 'no part' : `${group}: ${part.name}${colour}`;
  return `Region ${hovered + 1}   ${areaText(survey.regions.areaPx[hovered]!, page.dpi)}   ${name}   at ${x}, ${y}${over}`;
}
