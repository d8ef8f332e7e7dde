import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useRef, type ReactNode } from 'react';
import { useNotices } from '../../../notices/NoticeProvider.tsx';
import { useBench, useBenchState } from '../../state/benchContext.ts';
import { loadGuide } from './colourGuide.ts';
import { LoadedGuide } from './LoadedGuide.tsx';

/** Loads the colourist's key, lays it over the page and takes what it proposes. */
export function GuideControls(): ReactNode {
  const bench = useBench();
  const { say } = useNotices();
  const guide = useBenchState((state) => state.flats.guide);
  const input = useRef<HTMLInputElement>(null);
  const load = async (file: File | undefined): Promise<void> => {
    if (file === undefined) return;
    try {
      await loadGuide(bench, file);
    } catch (error) {
      say((error as Error).message, 'error');
    }
  };
  return (
    <Box sx={{ px: 1.25, py: 0.75, display: 'grid', gap: 0.5 }}>
      <input
        ref={input}
        type="file"
        accept="image/*"
        hidden
        aria-label="Colour key"
        onChange={(event) => {
          void load(event.target.files?.[0]);
          event.target.value = '';
        }}
      />
      {guide === null ? (
        <>
          <Typography variant="caption" color="text.secondary">
            Load the colourist’s guide to this page: any size, rough or blurred. It is laid over the page by itself.
          </Typography>
          <Button variant="outlined" onClick={() => input.current?.click()}>
            Load a key …
          </Button>
        </>
      ) : (
        <LoadedGuide guideOnPage={guide} onOther={() => input.current?.click()} />
      )}
    </Box>
  );
}
