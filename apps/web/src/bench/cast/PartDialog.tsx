import type { PartUsageView } from '@jumble/contracts';
import {
  copyPart,
  dropPart,
  editColour,
  editPart,
  markingsOn,
  mergeParts,
  nearColours,
  type CastPart,
  type CastSheet,
  type RecordEdit,
} from '@jumble/core';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import FormControlLabel from '@mui/material/FormControlLabel';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState, type ReactNode } from 'react';
import { HexColorPicker } from 'react-colorful';
import useSWR from 'swr';
import { getJson } from '../../api/http.ts';
import { AskOnce } from '../../notices/AskOnce.tsx';
import { useBench, useBenchState } from '../state/benchContext.ts';
import { newId, type PartDraft } from './castEdits.ts';
import { colourNumbers, readColour } from './readColour.ts';
import { followColour } from './shiftColour.ts';
import { RESERVED_KEYS } from '../tools/keys.ts';
import { counted } from '../../measures.ts';
import { assignPart, choosePart } from '../page/parts.ts';

export interface PartDialogProps {
  readonly draft: PartDraft;
  readonly cast: CastSheet;
  readonly scene: string | null;
  readonly onClose: () => void;
}

/** Name, colour, key and group of a part. */
export function PartDialog({ draft, cast, scene, onClose }: PartDialogProps): ReactNode {
  const bench = useBench();
  /** Regions on this page. */
  const count = useBenchState((state) => state.regionsOfPart.get(draft.id) ?? 0);
  const [part, setPart] = useState(draft);
  const [asking, setAsking] = useState(false);
  const [typed, setTyped] = useState<string | null>(null);
  const [mergeInto, setMergeInto] = useState<string | null>(null);
  const target = cast.parts.find((one) => one.id === mergeInto);
  const sceneId = (cast.scenes.find((one) => one.id === scene) ?? cast.scenes[0])?.id ?? null;
  const sceneName = cast.scenes.find((one) => one.id === sceneId)?.name ?? '';
  const problems = problemsOf(part, cast);
  const near =
    problems.colour !== null || part.empty || sceneId === null ? [] : nearColours(cast, sceneId, part.id, part.colour);
  const change = (fields: Partial<PartDraft>): void => setPart({ ...part, ...fields });

  const save = (): void => {
    const { colour, isNew, notes, ...fields } = part;
    const name = part.name.trim();
    const said = notes?.trim() ?? '';
    const edits = [editPart({ ...fields, name, ...(said === '' ? {} : { notes: said }) })];
    if (!part.empty && sceneId !== null && (isNew || colour !== draft.colour || draft.empty))
      edits.push(editColour(sceneId, part.id, colour));
    if (!isNew && sceneId !== null && colour !== draft.colour)
      edits.push(...followingColours(cast, sceneId, part.id, draft.colour, colour));
    bench.changeCast(isNew ? `Add the part ${name}` : `Change the part ${name}`, edits);
    if (isNew) choosePart(bench, part.id);
    onClose();
  };
  return (
    <Dialog open onClose={onClose} maxWidth="sm">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (problems.any) return;
          save();
        }}
      >
        <DialogTitle>{draft.isNew ? 'New part' : `Change "${draft.name}"`}</DialogTitle>
        <DialogContent sx={{ display: 'flex', gap: 3 }}>
          <Box sx={{ display: 'grid', gap: 2, alignContent: 'start', pt: 1, width: 230 }}>
            <TextField
              autoFocus
              label="Name"
              value={part.name}
              onChange={(event) => change({ name: event.target.value })}
              error={problems.name !== null}
              helperText={problems.name ?? ' '}
              slotProps={{ htmlInput: { maxLength: 80 } }}
            />
            <TextField
              select
              label="Belongs to"
              value={part.groupId}
              onChange={(event) => change({ groupId: event.target.value })}
            >
              {cast.groups.map((group) => (
                <MenuItem key={group.id} value={group.id}>
                  {group.name}
                </MenuItem>
              ))}
            </TextField>
            <TextField
              select
              label="Is a marking on"
              value={part.on ?? ''}
              onChange={(event) => {
                const { on: _, ...rest } = part;
                setPart(event.target.value === '' ? rest : { ...rest, on: event.target.value });
              }}
              helperText="Stripes, freckles: lies in front of it and follows its colour"
            >
              <MenuItem value="">nothing</MenuItem>
              {basesFor(cast, part.id).map((one) => (
                <MenuItem key={one.id} value={one.id}>
                  {cast.groups.find((group) => group.id === one.groupId)?.name}: {one.name}
                </MenuItem>
              ))}
            </TextField>
            <TextField
              label="Key"
              value={part.slot ?? ''}
              onChange={(event) => change({ slot: event.target.value.slice(-1).toLowerCase() || null })}
              error={problems.slot !== null}
              helperText={problems.slot ?? 'One letter or digit that chooses it'}
            />
            <TextField
              label="Notes"
              multiline
              maxRows={4}
              value={part.notes ?? ''}
              onChange={(event) => change({ notes: event.target.value })}
              slotProps={{ htmlInput: { maxLength: 1000 } }}
            />
            <FormControlLabel
              control={<Checkbox checked={part.empty} onChange={(event) => change({ empty: event.target.checked })} />}
              label="Leave empty: decided, but prints nothing"
            />
          </Box>
          <Box
            sx={{
              visibility: part.empty ? 'hidden' : 'visible',
              display: 'grid',
              gap: 1.5,
              alignContent: 'start',
              pt: 1,
            }}
          >
            <HexColorPicker
              color={part.colour}
              onChange={(colour) => change({ colour })}
              style={{ width: 210, height: 160 }}
            />
            <TextField
              label={`Colour (${sceneName})`}
              value={typed ?? part.colour}
              onChange={(event) => {
                setTyped(event.target.value);
                change({ colour: readColour(event.target.value) ?? event.target.value });
              }}
              onBlur={() => setTyped(null)}
              error={problems.colour !== null}
              helperText={problems.colour ?? '#hex, R G B, hsl(…) or cmyk C M Y K'}
            />
            <Box
              sx={{
                height: 28,
                bgcolor: problems.colour === null ? part.colour : 'transparent',
                border: '1px solid rgba(0,0,0,0.35)',
              }}
            />
            {problems.colour === null && <Numbers colour={part.colour} />}
            {near.length > 0 && (
              <Alert severity="warning" sx={{ py: 0 }}>
                Hardly told apart from {near.map((one) => one.name).join(', ')}.
              </Alert>
            )}
          </Box>
        </DialogContent>
        {!draft.isNew && (
          <Box sx={{ display: 'flex', alignItems: 'baseline', justifyContent: 'space-between', pr: 3 }}>
            <Usage partId={draft.id} />
            <SplitByPanel part={draft} cast={cast} onClose={onClose} />
          </Box>
        )}
        <DialogActions>
          {!draft.isNew && (
            <TextField
              select
              size="small"
              label="Merge into"
              value=""
              onChange={(event) => setMergeInto(event.target.value)}
              sx={{ width: 150 }}
            >
              {cast.parts
                .filter((one) => one.id !== draft.id)
                .map((one) => (
                  <MenuItem key={one.id} value={one.id}>
                    {cast.groups.find((group) => group.id === one.groupId)?.name}: {one.name}
                  </MenuItem>
                ))}
            </TextField>
          )}
          {!draft.isNew && (
            <Button color="error" sx={{ mr: 'auto' }} onClick={() => setAsking(true)}>
              Delete the part
            </Button>
          )}
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={problems.any}>
            {draft.isNew ? 'Add the part' : 'Save'}
          </Button>
        </DialogActions>
      </form>
      <AskOnce
        open={asking}
        title={`Delete "${draft.name}"?`}
        text={`It goes from every page of the job with its colours. ${count === 0 ? 'No region of this page has it.' : `${counted(count, 'region')} of this page will have no part.`} Undo brings it back.`}
        action="Delete the part"
        onClose={() => setAsking(false)}
        onConfirm={() => {
          bench.changeCast(`Delete the part ${draft.name}`, dropPart(cast, draft.id));
          onClose();
        }}
      />
      <AskOnce
        open={mergeInto !== null}
        title={`Merge "${draft.name}" into "${target?.name ?? ''}"?`}
        text={`Every region of the job that has ${draft.name} becomes ${target?.name ?? ''}, on earlier pages too; its own colours go. Undo brings it back.`}
        action="Merge"
        onClose={() => setMergeInto(null)}
        onConfirm={() => {
          bench.changeCast(`Merge ${draft.name} into ${target?.name ?? ''}`, mergeParts(cast, draft.id, mergeInto!));
          choosePart(bench, mergeInto!);
          onClose();
        }}
      />
    </Dialog>
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

/** Makes a part of its own of what lies in the panel the worklist keeps to. */
function SplitByPanel({
  part,
  cast,
  onClose,
}: Pick<PartDialogProps, 'cast' | 'onClose'> & { part: PartDraft }): ReactNode {
  const bench = useBench();
  const panel = useBenchState((state) => state.panelShown);
  const ofRegion = useBenchState((state) => state.panelOfRegion);
  const resolved = useBenchState((state) => state.resolved);
  if (panel === null || ofRegion === null) return null;
  const regions = (resolved?.partOfRegion ?? []).flatMap((one, region) =>
    one === part.id && ofRegion[region] === panel ? [region] : [],
  );
  if (regions.length === 0) return null;
  return (
    <Button
      onClick={() => {
        const { colour: _, isNew: __, ...plain } = part;
        const id = newId();
        const taken = new Set(cast.parts.filter((one) => one.groupId === part.groupId).map((one) => one.name));
        let name = `${part.name}, panel ${panel + 1}`;
        for (let k = 2; taken.has(name); k++) name = `${part.name}, panel ${panel + 1} (${k})`;
        bench.changeCast(`Split ${name} off`, copyPart(cast, plain, id, name));
        assignPart(bench, new Set(regions), id);
        choosePart(bench, id);
        onClose();
      }}
    >
      Split off panel {panel + 1} ({regions.length})
    </Button>
  );
}

/** What a part may be a marking on: any other that is not, over however many, a marking on it. */
function basesFor(cast: CastSheet, partId: string): CastPart[] {
  const above = new Set([partId]);
  for (let k = 0; k < cast.parts.length; k++) {
    const more = cast.parts.filter((one) => one.on !== undefined && above.has(one.on) && !above.has(one.id));
    if (more.length === 0) break;
    for (const one of more) above.add(one.id);
  }
  return cast.parts.filter((one) => !above.has(one.id) && !one.empty);
}

/** The colours of markings that follow that of the part they lie on, and of those on them. */
function followingColours(
  cast: CastSheet,
  sceneId: string,
  partId: string,
  before: string,
  after: string,
): RecordEdit[] {
  return markingsOn(cast, partId).flatMap((marking) => {
    const own = cast.colours.get(sceneId)?.get(marking.id);
    if (own === undefined) return [];
    const next = followColour(own, before, after);
    return [editColour(sceneId, marking.id, next), ...followingColours(cast, sceneId, marking.id, own, next)];
  });
}

/** Pages of the job where a part is used. */
function Usage({ partId }: { readonly partId: string }): ReactNode {
  const jobId = useBenchState((state) => state.page?.jobId ?? null);
  const { data } = useSWR<PartUsageView[]>(jobId === null ? null : `/api/jobs/${jobId}/cast/usage`, getJson, {
    revalidateOnFocus: false,
  });
  const pages = data?.find((one) => one.partId === partId)?.pages;
  return (
    <Typography variant="caption" color="text.secondary" sx={{ px: 3, pb: 1 }}>
      {pages === undefined
        ? 'Where it is used is counted …'
        : pages.length === 0
          ? 'Used on no page yet.'
          : `Used on ${pages.map(({ name, places }) => `${name} (${places})`).join(', ')}.`}
    </Typography>
  );
}

function problemsOf(
  part: PartDraft,
  cast: CastSheet,
): { name: string | null; slot: string | null; colour: string | null; any: boolean } {
  const others = cast.parts.filter((one) => one.id !== part.id);
  const twin = others.some(
    (one) => one.groupId === part.groupId && one.name.toLowerCase() === part.name.trim().toLowerCase(),
  );
  const name = twin ? 'There is one of this name already.' : null;
  const holder = part.slot === null ? undefined : others.find((one) => one.slot === part.slot);
  const slot =
    part.slot === null
      ? null
      : !/^[a-z0-9]$/.test(part.slot)
        ? 'Only letters and digits.'
        : RESERVED_KEYS.has(part.slot)
          ? 'This key has a meaning on the bench.'
          : holder === undefined
            ? null
            : `${holder.name} has this key.`;
  const colour = part.empty || /^#[0-9a-f]{6}$/.test(part.colour) ? null : 'A colour like #a0b1c2.';
  return { name, slot, colour, any: part.name.trim() === '' || name !== null || slot !== null || colour !== null };
}
