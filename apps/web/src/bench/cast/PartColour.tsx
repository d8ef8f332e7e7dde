import { nearColours, type CastSheet } from '@jumble/core';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState, type ReactNode } from 'react';
import { HexColorPicker } from 'react-colorful';
import type { PartDraft } from './castEdits.ts';
import { colourNumbers, readColour } from './readColour.ts';

interface PartColourProps {
  readonly part: PartDraft;
  readonly cast: CastSheet;
  /** Null while there is no scene. */
  readonly sceneId: string | null;
  /** What is wrong with the colour as it is typed; null for nothing. */
  readonly problem: string | null;
  readonly onChange: (colour: string) => void;
}

/** The colour of a part in a scene, its numbers, and the parts it can hardly be told from. */
export function PartColour({ part, cast, sceneId, problem, onChange }: PartColourProps): ReactNode {
  const [typed, setTyped] = useState<string | null>(null);
  const sceneName = cast.scenes.find((one) => one.id === sceneId)?.name ?? '';
  const near =
    problem !== null || part.empty || sceneId === null ? [] : nearColours(cast, sceneId, part.id, part.colour);
  return (
    <Box
      sx={{ visibility: part.empty ? 'hidden' : 'visible', display: 'grid', gap: 1.5, alignContent: 'start', pt: 1 }}
    >
      <HexColorPicker color={part.colour} onChange={onChange} style={{ width: 210, height: 160 }} />
      <TextField
        label={`Colour (${sceneName})`}
        value={typed ?? part.colour}
        onChange={(event) => {
          setTyped(event.target.value);
          onChange(readColour(event.target.value) ?? event.target.value);
        }}
        onBlur={() => setTyped(null)}
        error={problem !== null}
        helperText={problem ?? '#hex, R G B, hsl(…) or cmyk C M Y K'}
      />
      <Box
        sx={{
          height: 28,
          bgcolor: problem === null ? part.colour : 'transparent',
          border: '1px solid rgba(0,0,0,0.35)',
        }}
      />
      {problem === null && <Numbers colour={part.colour} />}
      {near.length > 0 && (
        <Alert severity="warning" sx={{ py: 0 }}>
          Hardly told apart from {near.map((one) => one.name).join(', ')}.
        </Alert>
      )}
    </Box>
  );
}

/** The colour in the numbers a printer and a painter use. */
function Numbers({ colour }: { readonly colour: string }): ReactNode {
  const { rgb, hsl, cmyk } = colourNumbers(colour);
  return (
    <Typography variant="caption" color="text.secondary" component="p" sx={{ fontVariantNumeric: 'tabular-nums' }}>
      RGB {rgb}
      <br />
      HSL {hsl}
      <br />
      CMYK {cmyk}
    </Typography>
  );
}
