import { dropScene, editCastScene, editScene, type CastSheet } from '@jumble/core';
import Button from '@mui/material/Button';
import Divider from '@mui/material/Divider';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useState, type ReactNode } from 'react';
import { AskOnce } from '../../notices/AskOnce.tsx';
import { NameDialog } from '../../notices/NameDialog.tsx';
import { useBench } from '../state/benchContext.ts';
import { SceneDialog } from './SceneDialog.tsx';

/** Which scene's colours the page shows, and new scenes from it. A panel may have a scene of its own. */
export function SceneChoice({ cast, scene }: { readonly cast: CastSheet; readonly scene: string | null }): ReactNode {
  const bench = useBench();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [asked, setAsked] = useState<'copy' | 'rename' | 'delete' | null>(null);
  const ask = (what: 'copy' | 'rename' | 'delete'): void => {
    setAnchor(null);
    setAsked(what);
  };
  const done = (): void => setAsked(null);
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
        <MenuItem onClick={() => ask('copy')}>New scene from {now?.name} …</MenuItem>
        <MenuItem onClick={() => ask('rename')}>Rename {now?.name} …</MenuItem>
        {cast.scenes.length > 1 && <MenuItem onClick={() => ask('delete')}>Delete {now?.name} …</MenuItem>}
      </Menu>
      {asked === 'copy' && now !== undefined && <SceneDialog cast={cast} from={now.id} onClose={done} />}
      {asked === 'rename' && now !== undefined && (
        <NameDialog
          title="Rename the scene"
          name={now.name}
          action="Rename"
          taken={cast.scenes.filter((one) => one.id !== now.id).map((one) => one.name)}
          onClose={done}
          onName={(name) =>
            bench.changeCast(`Rename the scene ${now.name} to ${name}`, [editCastScene({ ...now, name })])
          }
        />
      )}
      {now !== undefined && (
        <AskOnce
          open={asked === 'delete'}
          title={`Delete the scene "${now.name}"?`}
          text={`Its colours go from the job; pages and panels in it show ${cast.scenes.find((one) => one.id !== now.id)?.name ?? ''} instead. Undo brings it back.`}
          action="Delete the scene"
          onClose={done}
          onConfirm={() => bench.changeCast(`Delete the scene ${now.name}`, dropScene(cast, now.id))}
        />
      )}
    </>
  );
}
