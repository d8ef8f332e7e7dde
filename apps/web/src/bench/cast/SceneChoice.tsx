import { editScene, type CastSheet } from '@jumble/core';
import Button from '@mui/material/Button';
import Divider from '@mui/material/Divider';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useState, type ReactNode } from 'react';
import { useBench } from '../state/benchContext.ts';
import { SceneDialog } from './SceneDialog.tsx';

/** Which scene's colours the page shows, and new scenes from it. A panel may have a scene of its own. */
export function SceneChoice({ cast, scene }: { readonly cast: CastSheet; readonly scene: string | null }): ReactNode {
  const bench = useBench();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [copying, setCopying] = useState(false);
  const now = cast.scenes.find((one) => one.id === scene) ?? cast.scenes[0];
  return (
    <>
      <Button
        sx={{ p: 0, minWidth: 0 }}
        onClick={(event) => setAnchor(event.currentTarget)}
        disabled={now === undefined}
      >
        {now?.name ?? 'none'} ▾
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        {cast.scenes.map((one) => (
          <MenuItem
            key={one.id}
            selected={one.id === now?.id}
            onClick={() => {
              setAnchor(null);
              if (one.id !== now?.id) bench.push({ label: `Show the page in ${one.name}`, edits: [editScene(one.id)] });
            }}
          >
            {one.name}
          </MenuItem>
        ))}
        <Divider />
        <MenuItem
          onClick={() => {
            setAnchor(null);
            setCopying(true);
          }}
        >
          New scene from {now?.name} …
        </MenuItem>
      </Menu>
      {copying && now !== undefined && <SceneDialog cast={cast} from={now.id} onClose={() => setCopying(false)} />}
    </>
  );
}
