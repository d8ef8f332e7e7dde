import { colourName, formatColour } from '@jumble/core';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useState, type ReactNode } from 'react';
import { countText, counted } from '../../../measures.ts';
import { tones } from '../../../theme.ts';
import { newPartDraft } from '../../cast/castEdits.ts';
import { PartDialog } from '../../cast/PartDialog.tsx';
import { useBench, useBenchState } from '../../state/benchContext.ts';
import { rereadGuide } from './colourGuide.ts';
import type { GuideOnPage } from './flatsState.ts';
import { makeUnknownParts } from './unknownColours.ts';

/** So many swatches are shown; the rest is counted. */
const SHOWN = 24;

/** Colours of a key that no part has: one becomes a part with a name of its own, or all of them at once. */
export function UnknownColours({ guideOnPage: guide }: { readonly guideOnPage: GuideOnPage }): ReactNode {
  const bench = useBench();
  const cast = useBenchState((state) => state.cast);
  const scene = useBenchState((state) => state.document?.scene ?? null);
  const [chosen, setChosen] = useState<string | null>(null);
  const unknown = guide.reading?.unknown ?? [];
  if (unknown.length === 0) return null;
  return (
    <Box>
      <Typography variant="caption" component="p">
        {unknown.length === 1 ? 'A colour no part has' : `${countText(unknown.length)} colours no part has`}; click one
        to make it a part:
      </Typography>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.5, my: 0.25 }}>
        {unknown.slice(0, SHOWN).map(({ rgb, regions }) => {
          const colour = formatColour(rgb);
          const words = `${colourName(rgb)} ${colour}, in ${counted(regions.length, 'region')}`;
          return (
            <Button
              key={rgb}
              title={words}
              aria-label={`Make a part of ${words}`}
              onClick={() => setChosen(colour)}
              sx={{ minWidth: 26, height: 22, p: 0, bgcolor: colour, border: `1px solid ${tones.ink}` }}
            />
          );
        })}
        {unknown.length > SHOWN && (
          <Typography variant="caption">and {countText(unknown.length - SHOWN)} more</Typography>
        )}
      </Box>
      {unknown.length > 1 && (
        <Button variant="outlined" onClick={() => makeUnknownParts(bench)}>
          Make all {countText(unknown.length)} parts
        </Button>
      )}
      {chosen !== null && cast?.groups[0] !== undefined && (
        <PartDialog
          draft={{ ...newPartDraft(cast, cast.groups[0].id), colour: chosen }}
          cast={cast}
          scene={scene}
          onClose={() => {
            setChosen(null);
            // The new part may be what the key means.
            rereadGuide(bench);
          }}
        />
      )}
    </Box>
  );
}
