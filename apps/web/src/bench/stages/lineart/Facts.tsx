import { Box, Button, LinearProgress, Typography } from '@mui/material';
import { degreesOfSlope } from '@jumble/core';
import type { ReactNode } from 'react';
import { tones } from '../../../theme.ts';
import { countText, counted, lengthText } from '../../../measures.ts';
import { Note } from '../../Note.tsx';
import { useBench, useBenchState } from '../../state/benchContext.ts';
import { WidthChart } from './WidthChart.tsx';
import { measure, stopMeasuring } from './measuring.ts';

/** Strokes more ragged than this look dry or textured. */
const RAGGED = 1.12;

/** How far measuring is, with a way to leave it and to begin again. */
function Measuring(): ReactNode {
  const bench = useBench();
  const measuring = useBenchState((state) => state.measuring);
  const isRead = useBenchState((state) => state.survey !== null);
  if (!isRead) return <Note>Measured once the page is read.</Note>;
  if (measuring === null) {
    return (
      <Note>
        Not measured. <Button onClick={() => void measure(bench)}>Measure</Button>
      </Note>
    );
  }
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 1 }} role="status">
      <Typography variant="caption" sx={{ flex: 1 }}>
        Being measured: {measuring.text.toLowerCase()}
        <LinearProgress variant="determinate" value={100 * measuring.share} sx={{ mt: 0.5 }} aria-label="Measured" />
      </Typography>
      <Button onClick={() => stopMeasuring(bench)}>Stop</Button>
    </Box>
  );
}

/** What there is to know about the line art, with units. */
export function Facts(): ReactNode {
  const page = useBenchState((state) => state.page);
  const survey = useBenchState((state) => state.survey);
  const facts = useBenchState((state) => state.facts);
  if (page === null || survey === null || facts === null) return <Measuring />;
  const { dpi, width, height } = page;
  const { paper, lineWidthPx, inkPoints } = survey;
  const mm = (px: number): string => ((px * 25.4) / dpi!).toFixed(0);
  const rows: readonly (readonly [string, string])[] = [
    ['File', `${page.format.toUpperCase()}, ${page.mode}, ${page.bitsPerChannel} bit`],
    [
      'Size',
      page.full === null
        ? `${width} x ${height} px`
        : `${width} x ${height} px, half of the file's ${page.full.width} x ${page.full.height}; handed off whole`,
    ],
    ['Print size', dpi === null ? 'no resolution stated' : `${mm(width)} x ${mm(height)} mm at ${Math.round(dpi)} dpi`],
    ['Edges', facts.antiAliased ? 'smooth (anti-aliased)' : 'hard (1-bit)'],
    [
      'Paper',
      `grey ${paper.median}, ${survey.flattened ? `uneven by ${paper.spread}, evened out` : `even within ${paper.spread}`}`,
    ],
    ['Noise', `${paper.noise.toFixed(1)} greys`],
    ['Ink and paper points', `${inkPoints.blackPoint} and ${inkPoints.whitePoint}`],
    ['Turned', survey.slopePpm === 0 ? 'as it came' : `by ${degreesOfSlope(survey.slopePpm).toFixed(2)}°`],
    [
      'Line width',
      `${lengthText(lineWidthPx.median, dpi)}, mostly ${lineWidthPx.p10.toFixed(1)} to ${lineWidthPx.p90.toFixed(1)} px`,
    ],
    [
      'Strokes',
      facts.raggedness > RAGGED
        ? `dry or textured (${facts.raggedness.toFixed(2)})`
        : `clean (${facts.raggedness.toFixed(2)})`,
    ],
    ['Solid black', `${(facts.solidShare * 100).toFixed(1)}% in ${counted(facts.solids.length, 'place')}`],
    ['Pinholes', `${countText(survey.regions.crumbs.count)} below ${countText(survey.crumbLimitPx2)} px²`],
    ['Loose ends', countText(survey.looseEnds)],
  ];
  return (
    <>
      <Box component="dl" sx={{ m: 0, display: 'grid', gridTemplateColumns: 'auto 1fr', columnGap: 1, rowGap: 0.25 }}>
        {rows.map(([name, value]) => (
          <Box key={name} sx={{ display: 'contents' }}>
            <Typography component="dt" variant="caption" sx={{ color: tones.quiet }}>
              {name}
            </Typography>
            <Typography component="dd" variant="caption" sx={{ m: 0, fontVariantNumeric: 'tabular-nums' }}>
              {value}
            </Typography>
          </Box>
        ))}
      </Box>
      <WidthChart counts={facts.widthCounts} median={lineWidthPx.median} />
    </>
  );
}
