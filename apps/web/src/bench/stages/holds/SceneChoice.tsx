import { scenesShown } from '@jumble/core';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';
import { useBench, useBenchState } from '../../state/benchContext.ts';
import { dropSceneColour, setDraftScene } from './draft.ts';

/** Which scene the colour of a rule is said for: lines may take another one in each. */
export function SceneChoice(): ReactNode {
  const bench = useBench();
  const scenes = useBenchState((state) => state.cast?.scenes) ?? [];
  const draft = useBenchState((state) => state.holdDraft);
  const page = useBenchState((state) => state.document);
  const [first, ...further] = scenes;
  if (draft === null || page === null || first === undefined || further.length === 0) return null;
  const { scene, inScene } = draft;
  const isShown = scene === null || scenesShown(page).includes(scene);
  return (
    <Box sx={{ mb: 0.75 }}>
      <select
        aria-label="Scene whose colour is set"
        value={scene ?? ''}
        onChange={(event) => {
          setDraftScene(bench, event.target.value === '' ? null : event.target.value);
          event.target.blur();
        }}
        style={{ font: 'inherit', fontSize: 13, width: '100%', padding: '3px 2px' }}
      >
        <option value="">In all scenes{Object.keys(inScene).length > 0 ? ' without a colour of their own' : ''}</option>
        {further.map(({ id, name }) => (
          <option key={id} value={id}>
            In {name}
            {inScene[id] === undefined ? '' : ': its own'}
          </option>
        ))}
      </select>
      {!isShown && (
        <Typography variant="caption" color="text.secondary" component="p">
          This page does not show that scene: what you set is seen on pages that do.
        </Typography>
      )}
      {scene !== null && inScene[scene] !== undefined && (
        <Button sx={{ ml: -0.5 }} onClick={() => dropSceneColour(bench)}>
          As in all scenes
        </Button>
      )}
    </Box>
  );
}
