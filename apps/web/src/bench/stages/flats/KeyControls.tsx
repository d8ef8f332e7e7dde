import { formatColour } from '@jumble/core';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import Slider from '@mui/material/Slider';
import Typography from '@mui/material/Typography';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import { useNotices } from '../../../notices/NoticeProvider.tsx';
import { tones } from '../../../theme.ts';
import { newPartDraft } from '../../cast/castEdits.ts';
import { PartDialog } from '../../cast/PartDialog.tsx';
import { useBench, useBenchState } from '../../state/benchContext.ts';
import { countProposals, keyFits } from './colourKey.ts';
import type { KeyOnPage } from './flatsState.ts';
import { countText, counted } from '../../../measures.ts';
import { dropKey, layKey, loadKey, nudgeKey, setSureFrom, takeKey } from './colourKey.ts';

/** Loads the colourist's key, lays it over the page and takes what it proposes. */
export function KeyControls(): ReactNode {
  const bench = useBench();
  const { say } = useNotices();
  const key = useBenchState((state) => state.flats.key);
  const input = useRef<HTMLInputElement>(null);
  const load = async (file: File | undefined): Promise<void> => {
    if (file === undefined) return;
    try {
      await loadKey(bench, file);
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
      {key === null ? (
        <>
          <Typography variant="caption" color="text.secondary">
            Load the colourist’s guide to this page: any size, rough or blurred. It is laid over the page by itself.
          </Typography>
          <Button variant="outlined" onClick={() => input.current?.click()}>
            Load a key …
          </Button>
        </>
      ) : (
        <Loaded keyOnPage={key} onOther={() => input.current?.click()} />
      )}
    </Box>
  );
}

function Loaded({
  keyOnPage: key,
  onOther,
}: {
  readonly keyOnPage: KeyOnPage;
  readonly onOther: () => void;
}): ReactNode {
  const bench = useBench();
  const resolved = useBenchState((state) => state.resolved);
  const width = useBenchState((state) => state.page?.width ?? 1);
  const [unknown, setUnknown] = useState<string | null>(null);
  const cast = useBenchState((state) => state.cast);
  const scene = useBenchState((state) => state.document?.scene ?? null);
  const { match, reading } = key;
  const { sure, doubtful } = countProposals(key, resolved);
  const others = useBenchState((state) => state.flats.examples !== null);
  const step = Math.max(1, Math.round(width / 1000));
  return (
    <>
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
        <KeyPicture keyOnPage={key} />
        <Box sx={{ minWidth: 0 }}>
          <Typography variant="body2" noWrap title={key.name}>
            {key.name}
          </Typography>
          <Typography variant="caption" color="text.secondary" component="p">
            {match !== null && reading !== null
              ? `The page explains ${Math.round(match.explained * 100)}% of it`
              : key.share === 0
                ? 'It is laid over the page …'
                : 'Its colours are read …'}
          </Typography>
          {reading?.isWhole === false && (
            <Typography variant="caption" color="text.secondary" component="p">
              First look on the page; what is small is still being weighed …
            </Typography>
          )}
        </Box>
      </Box>
      {reading?.isWhole !== true && (
        <LinearProgress variant="determinate" value={100 * key.share} aria-label="How much of the key is read" />
      )}
      {match !== null && reading !== null && !keyFits(match) && (
        <Alert severity="warning" sx={{ py: 0 }}>
          Nothing here matches this key: it seems to belong to another page.
        </Alert>
      )}
      {match !== null && (
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.25 }}>
          <Typography variant="caption">Nudge</Typography>
          {(
            [
              ['←', -step, 0, 'left'],
              ['→', step, 0, 'right'],
              ['↑', 0, -step, 'up'],
              ['↓', 0, step, 'down'],
            ] as const
          ).map(([sign, dx, dy, words]) => (
            <Button
              key={words}
              aria-label={`Nudge the key ${words} by ${step} px`}
              onClick={() => nudgeKey(bench, dx, dy)}
              sx={{ minWidth: 28, px: 0 }}
            >
              {sign}
            </Button>
          ))}
          <Typography variant="caption" color="text.secondary">
            {step} px
          </Typography>
        </Box>
      )}
      {reading?.isWhole !== true && (
        <Button variant="contained" disabled={key.takeOnceWhole} onClick={() => void takeKey(bench)}>
          {key.takeOnceWhole ? 'Accepted once all is read' : `Accept once all is read${others ? '' : ' (/)'}`}
        </Button>
      )}
      {reading?.isWhole === true && (
        <>
          <Typography variant="caption" component="p">
            Sure from <b>{key.sureFrom.toFixed(2)}</b>: <b>{countText(sure)}</b> accepted as they are,{' '}
            <b>{countText(doubtful)}</b> to be looked at
          </Typography>
          {key.splits.length > 0 && (
            <Typography variant="caption" component="p">
              {key.splits.length === 1 ? '1 region shows' : `${key.splits.length} regions show`} several colours: their
              gaps will be closed
            </Typography>
          )}
          <Slider
            size="small"
            min={0.5}
            max={0.99}
            step={0.01}
            value={key.sureFrom}
            aria-label="Proposals are sure from this confidence"
            onChange={(_, value) => setSureFrom(bench, value as number)}
            sx={{ py: 0.5 }}
          />
          <Button variant="contained" disabled={sure + doubtful === 0} onClick={() => void takeKey(bench)}>
            Accept {counted(sure + doubtful, 'proposal')}
            {others ? '' : ' (/)'}
          </Button>
          {reading.unknown.length > 0 && (
            <Box>
              <Typography variant="caption" component="p">
                Colours no part has; click one to make it a part:
              </Typography>
              <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.5, mt: 0.25 }}>
                {reading.unknown.slice(0, 12).map(({ rgb, regions }) => (
                  <Button
                    key={rgb}
                    title={`${formatColour(rgb)} in ${counted(regions.length, 'region')}`}
                    onClick={() => setUnknown(formatColour(rgb))}
                    sx={{
                      minWidth: 26,
                      height: 22,
                      p: 0,
                      bgcolor: formatColour(rgb),
                      border: `1px solid ${tones.ink}`,
                    }}
                  />
                ))}
              </Box>
            </Box>
          )}
        </>
      )}
      <Box sx={{ display: 'flex', gap: 0.5 }}>
        <Button onClick={onOther}>Another key …</Button>
        <Button onClick={() => dropKey(bench)}>Put away</Button>
      </Box>
      {unknown !== null && cast?.groups[0] !== undefined && (
        <PartDialog
          draft={{ ...newPartDraft(cast, cast.groups[0].id), colour: unknown }}
          cast={cast}
          scene={scene}
          onClose={() => {
            setUnknown(null);
            // The key is read again: the new part may be what it means.
            void layKey(bench, key.name, key.raster, key.match?.place ?? null, key.picture);
          }}
        />
      )}
    </>
  );
}

function KeyPicture({ keyOnPage: { raster } }: { readonly keyOnPage: KeyOnPage }): ReactNode {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (context === null || context === undefined) return;
    const image = new ImageData(raster.width, raster.height);
    for (let k = 0; k < raster.width * raster.height; k++) {
      image.data.set(raster.rgb.subarray(k * 3, k * 3 + 3), k * 4);
      image.data[k * 4 + 3] = 255;
    }
    context.putImageData(image, 0, 0);
  }, [raster]);
  return (
    <canvas
      ref={canvas}
      width={raster.width}
      height={raster.height}
      aria-label="The key"
      style={{ width: 46, height: (46 * raster.height) / raster.width, border: `1px solid ${tones.line}` }}
    />
  );
}
