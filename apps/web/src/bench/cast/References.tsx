import type { ReferencePictureView } from '@jumble/contracts';
import { editColour } from '@jumble/core';
import AddPhotoAlternateOutlinedIcon from '@mui/icons-material/AddPhotoAlternateOutlined';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ButtonBase from '@mui/material/ButtonBase';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Typography from '@mui/material/Typography';
import { useRef, useState, type MouseEvent, type ReactNode } from 'react';
import useSWR from 'swr';
import { getJson, request } from '../../api/http.ts';
import { AskOnce } from '../../notices/AskOnce.tsx';
import { useNotices } from '../../notices/NoticeProvider.tsx';
import { tones } from '../../theme.ts';
import { useBench, useBenchState } from '../state/benchContext.ts';
import { meanColour } from './meanColour.ts';

/** Pictures beside the cast sheet: looked at, and asked for colours. */
export function References(): ReactNode {
  const jobId = useBenchState((state) => state.page?.jobId ?? null);
  const { say, fail } = useNotices();
  const input = useRef<HTMLInputElement>(null);
  const [shown, setShown] = useState<ReferencePictureView | null>(null);
  const { data, mutate } = useSWR<ReferencePictureView[]>(
    jobId === null ? null : `/api/jobs/${jobId}/references`,
    getJson,
    { revalidateOnFocus: false },
  );
  const add = async (files: FileList | null): Promise<void> => {
    for (const file of files ?? []) {
      const form = new FormData();
      form.append('file', file);
      try {
        await request('POST', `/api/jobs/${jobId ?? ''}/references`, form);
      } catch (error) {
        say(`${file.name}: ${(error as Error).message}`, 'error');
      }
    }
    await mutate();
  };
  return (
    <Box component="section" aria-label="Reference pictures" sx={{ px: 1.25, pt: 1 }}>
      <Box sx={{ display: 'flex', alignItems: 'center' }}>
        <Typography variant="h3" sx={{ flex: 1 }}>
          Reference pictures
        </Typography>
        <Button
          sx={{ minWidth: 0, px: 0.5, py: 0 }}
          aria-label="Add reference pictures"
          onClick={() => input.current?.click()}
        >
          <AddPhotoAlternateOutlinedIcon sx={{ fontSize: 18 }} />
        </Button>
        <input
          ref={input}
          type="file"
          accept="image/*"
          multiple
          hidden
          aria-label="Reference picture files"
          onChange={(event) => {
            void add(event.target.files).finally(() => {
              if (input.current !== null) input.current.value = '';
            });
          }}
        />
      </Box>
      {data?.length === 0 && (
        <Typography variant="caption" color="text.secondary">
          Model sheets, photographs, sketches: add them, and click them to take up their colours.
        </Typography>
      )}
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.5, mt: 0.5 }}>
        {data?.map((picture) => (
          <ButtonBase
            key={picture.id}
            aria-label={picture.name}
            title={picture.name}
            onClick={() => setShown(picture)}
            sx={{ border: `1px solid ${tones.line}`, bgcolor: '#fff' }}
          >
            <img
              src={`/api/references/${picture.id}/picture`}
              alt=""
              loading="lazy"
              style={{ height: 52, width: Math.min(110, (52 * picture.width) / picture.height), objectFit: 'cover' }}
            />
          </ButtonBase>
        ))}
      </Box>
      {shown !== null && (
        <Picture
          picture={shown}
          onClose={() => setShown(null)}
          onRemove={() => {
            setShown(null);
            void request('DELETE', `/api/references/${shown.id}`).then(() => mutate(), fail);
          }}
        />
      )}
    </Box>
  );
}

/** A picture at a readable size; a click takes up its colour for the chosen part. */
function Picture({
  picture,
  onClose,
  onRemove,
}: {
  readonly picture: ReferencePictureView;
  readonly onClose: () => void;
  readonly onRemove: () => void;
}): ReactNode {
  const bench = useBench();
  const cast = useBenchState((state) => state.cast);
  const partId = useBenchState((state) => state.partId);
  const scene = useBenchState((state) => state.document?.scene ?? null);
  const image = useRef<HTMLImageElement>(null);
  const [colour, setColour] = useState<string | null>(null);
  const [asking, setAsking] = useState(false);
  const part = cast?.parts.find((one) => one.id === partId && !one.empty);
  const inScene = cast?.scenes.find((one) => one.id === scene) ?? cast?.scenes[0];
  const pick = (event: MouseEvent<HTMLImageElement>): void => {
    const box = event.currentTarget.getBoundingClientRect();
    const x = ((event.clientX - box.left) / box.width) * picture.width;
    const y = ((event.clientY - box.top) / box.height) * picture.height;
    setColour(meanColour(event.currentTarget, x, y));
  };
  return (
    <Dialog open onClose={onClose} maxWidth="lg">
      <DialogTitle>{picture.name}</DialogTitle>
      <DialogContent sx={{ bgcolor: tones.ground, p: 1, textAlign: 'center' }}>
        <img
          ref={image}
          src={`/api/references/${picture.id}/picture`}
          alt={picture.name}
          onClick={pick}
          style={{ maxWidth: '100%', maxHeight: '62vh', cursor: 'crosshair', display: 'inline-block' }}
        />
      </DialogContent>
      <DialogActions>
        <Button color="error" onClick={() => setAsking(true)}>
          Remove
        </Button>
        <Box sx={{ flex: 1, display: 'flex', alignItems: 'center', gap: 1, justifyContent: 'center' }} role="status">
          {colour === null ? (
            <Typography variant="caption" color="text.secondary">
              Click the picture to take up a colour.
            </Typography>
          ) : (
            <>
              <Box sx={{ width: 34, height: 24, bgcolor: colour, border: '1px solid rgba(0,0,0,0.35)' }} />
              <Typography variant="body2">{colour}</Typography>
            </>
          )}
        </Box>
        <Button
          variant="contained"
          disabled={colour === null || part === undefined || inScene === undefined}
          onClick={() => {
            bench.changeCast(`Colour ${part!.name} from ${picture.name}`, [editColour(inScene!.id, part!.id, colour)]);
            onClose();
          }}
        >
          {part === undefined ? 'Choose a part first' : `Use it for ${part.name} (${inScene?.name ?? ''})`}
        </Button>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
      <AskOnce
        open={asking}
        title={`Remove "${picture.name}"?`}
        text="The picture goes from the job; this cannot be undone. Colours taken from it stay."
        action="Remove"
        onClose={() => setAsking(false)}
        onConfirm={onRemove}
      />
    </Dialog>
  );
}
