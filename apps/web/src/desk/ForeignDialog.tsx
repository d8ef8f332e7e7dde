import type { ForeignCheckView, PageView } from '@jumble/contracts';
import { KIND_WORDS, type Finding, type FindingKind } from '@jumble/core';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import LinearProgress from '@mui/material/LinearProgress';
import Typography from '@mui/material/Typography';
import { useState, type ReactNode } from 'react';
import { useDropzone } from 'react-dropzone';
import { request, uploadFile } from '../api/http.ts';
import { areaText, counted } from '../measures.ts';
import { tones } from '../theme.ts';

export interface ForeignDialogProps {
  readonly jobId: string;
  readonly onClose: () => void;
  readonly onTaken: (page: PageView) => void;
}

/** Line art and flats that others made: checked together, and taken over as a page where someone says so. */
export function ForeignDialog({ jobId, onClose, onTaken }: ForeignDialogProps): ReactNode {
  const [ink, setInk] = useState<File | null>(null);
  const [flats, setFlats] = useState<File | null>(null);
  const [view, setView] = useState<ForeignCheckView | null>(null);
  const [busy, setBusy] = useState<'checking' | 'taking' | null>(null);
  const [byCast, setByCast] = useState(false);
  const [mode, setMode] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const attempt = async (what: 'checking' | 'taking', act: () => Promise<void>): Promise<void> => {
    setBusy(what);
    setProblem(null);
    try {
      await act();
    } catch (error) {
      setProblem((error as Error).message);
    } finally {
      setBusy(null);
    }
  };
  const check = (): Promise<void> =>
    attempt('checking', async () => {
      const { signal } = new AbortController();
      const quiet = (): void => undefined;
      const { id } = await uploadFile<{ id: string }>('POST', `/api/jobs/${jobId}/foreign`, ink!, quiet, signal);
      const asked = new URLSearchParams([
        ...(byCast ? [['cast', 'job']] : []),
        ...(mode === '' ? [] : [['mode', mode]]),
      ]);
      setView(await uploadFile<ForeignCheckView>('PUT', `/api/foreign/${id}/flats?${asked}`, flats!, quiet, signal));
    });
  const take = (): Promise<void> =>
    attempt('taking', async () => {
      onTaken(await request<PageView>('POST', `/api/foreign/${view!.id}/take`));
      onClose();
    });
  const close = (): void => {
    if (view !== null) void request('DELETE', `/api/foreign/${view.id}`).catch(() => undefined);
    onClose();
  };
  return (
    <Dialog open onClose={busy === null ? close : undefined} maxWidth="md" fullWidth>
      <DialogTitle>Check flats from elsewhere</DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 1.5 }}>
        {view === null ? (
          <>
            <Typography variant="body2" color="text.secondary">
              Line art and its flats, made by whatever: PNG, TIFF or OpenRaster, both at one size. They are checked, and
              nothing becomes a page unless you say so.
            </Typography>
            <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1.5 }}>
              <FileWell label="Line art" file={ink} onFile={setInk} />
              <FileWell label="Flats" file={flats} onFile={setFlats} />
            </Box>
            <Box sx={{ display: 'flex', gap: 4, fontSize: 13 }}>
              <label>
                <input type="checkbox" checked={byCast} onChange={(event) => setByCast(event.target.checked)} /> The
                colours of this job&apos;s cast alone
              </label>
              <label>
                Colour mode{' '}
                <select value={mode} onChange={(event) => setMode(event.target.value)} style={{ font: 'inherit' }}>
                  <option value="">any</option>
                  <option value="rgb">RGB</option>
                  <option value="cmyk">CMYK</option>
                </select>
              </label>
            </Box>
          </>
        ) : (
          <Findings view={view} />
        )}
        {busy !== null && (
          <LinearProgress aria-label={busy === 'checking' ? 'The flats are checked' : 'The page is taken over'} />
        )}
        {problem !== null && (
          <Typography variant="body2" color="error">
            {problem}
          </Typography>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={close} disabled={busy !== null}>
          {view === null ? 'Cancel' : 'Leave it'}
        </Button>
        {view === null ? (
          <Button
            variant="contained"
            disabled={ink === null || flats === null || busy !== null}
            onClick={() => void check()}
          >
            Check
          </Button>
        ) : (
          <Button variant="contained" disabled={busy !== null} onClick={() => void take()}>
            Take over as a page
          </Button>
        )}
      </DialogActions>
    </Dialog>
  );
}

interface FileWellProps {
  readonly label: string;
  readonly file: File | null;
  readonly onFile: (file: File) => void;
}

function FileWell({ label, file, onFile }: FileWellProps): ReactNode {
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    onDrop: (accepted, refused) => {
      const [first] = [...accepted, ...refused.map((one) => one.file)];
      if (first !== undefined) onFile(first);
    },
    noClick: true,
    noKeyboard: true,
    multiple: false,
  });
  return (
    <Box
      {...getRootProps()}
      sx={{
        p: 2,
        minHeight: 110,
        border: `2px dashed ${isDragActive ? tones.accent : tones.line}`,
        borderRadius: 1,
        textAlign: 'center',
      }}
    >
      <input {...getInputProps({ 'aria-label': label })} />
      <Typography variant="h3" component="h3">
        {label}
      </Typography>
      <Typography variant="body2" sx={{ overflowWrap: 'anywhere' }}>
        {file === null ? 'Drop it here' : file.name}
      </Typography>
      <Button onClick={open}>Choose a file</Button>
    </Box>
  );
}

/** Pictures of findings that are shown of a kind. */
const SHOWN = 6;

function Findings({ view }: { readonly view: ForeignCheckView }): ReactNode {
  const byKind = new Map<FindingKind, Finding[]>();
  for (const finding of view.findings) byKind.set(finding.kind, [...(byKind.get(finding.kind) ?? []), finding]);
  return (
    <>
      <Typography variant="body2">
        <b>{view.flatsName}</b> on <b>{view.inkName}</b>: {view.width} x {view.height} px,{' '}
        {counted(view.regionCount, 'region')}, {counted(view.colours.length, 'colour')},{' '}
        {view.findings.length === 0 ? 'nothing found' : counted(view.findings.length, 'finding')}.
      </Typography>
      {[...byKind].map(([kind, findings]) => (
        <Box component="section" key={kind} aria-label={KIND_WORDS[kind]}>
          <Typography variant="h3" component="h3">
            {KIND_WORDS[kind]}: {findings.length}
          </Typography>
          <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', mt: 0.5 }}>
            {findings.slice(0, SHOWN).map((finding) => (
              <Crop key={`${finding.x},${finding.y}`} view={view} finding={finding} />
            ))}
          </Box>
        </Box>
      ))}
    </>
  );
}

const [CROP_WIDTH, CROP_HEIGHT] = [118, 84];
/** What is shown around a finding, in px of the page. */
const ROOM_PX = 24;

/** A finding where it lies, as large as it is or made smaller. */
function Crop({ view, finding }: { readonly view: ForeignCheckView; readonly finding: Finding }): ReactNode {
  const { x, y, width, height, areaPx, message } = finding;
  const scale = Math.min(6, CROP_WIDTH / (width + ROOM_PX), CROP_HEIGHT / (height + ROOM_PX));
  const left = CROP_WIDTH / 2 - (x + width / 2) * scale;
  const top = CROP_HEIGHT / 2 - (y + height / 2) * scale;
  return (
    <Box component="figure" sx={{ m: 0, width: CROP_WIDTH }} title={message}>
      <Box
        sx={{
          position: 'relative',
          width: CROP_WIDTH,
          height: CROP_HEIGHT,
          bgcolor: tones.ground,
          backgroundImage: `url(/api/foreign/${view.id}/picture)`,
          backgroundRepeat: 'no-repeat',
          imageRendering: scale > 1 ? 'pixelated' : 'auto',
          backgroundSize: `${view.width * scale}px ${view.height * scale}px`,
          backgroundPosition: `${left}px ${top}px`,
        }}
      >
        <Box
          sx={{
            position: 'absolute',
            left: left + x * scale - 2,
            top: top + y * scale - 2,
            width: width * scale + 4,
            height: height * scale + 4,
            outline: `1px solid ${tones.ink}`,
            boxShadow: '0 0 0 2px #fff',
          }}
        />
      </Box>
      <Typography component="figcaption" variant="caption">
        {areaText(areaPx, null)} at {x}, {y}
      </Typography>
    </Box>
  );
}
