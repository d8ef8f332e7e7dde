import type { ReturnedView } from '@jumble/contracts';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import Typography from '@mui/material/Typography';
import dayjs from 'dayjs';
import { useState, type ReactNode } from 'react';
import { useDropzone } from 'react-dropzone';
import useSWR from 'swr';
import { request, uploadFile } from '../../../api/http.ts';
import { countText, counted } from '../../../measures.ts';
import { useNotices } from '../../../notices/NoticeProvider.tsx';
import { tones } from '../../../theme.ts';
import { ChoiceRow } from '../../ChoiceRow.tsx';
import { showBox } from '../../page/look.ts';
import { PanelSection } from '../../PanelSection.tsx';
import { useBench, useBenchState } from '../../state/benchContext.ts';
import { isTaken, takeColours, takeMoved, type ColourScope, type Recoloured } from './returned.ts';

const SCOPE_WORDS: readonly (readonly [ColourScope, string])[] = [
  ['scene', 'in this scene'],
  ['job', 'in the whole job'],
  ['page', 'on this page alone'],
];
/** Room around a place that is shown, in px. */
const ROOM_PX = 60;

/** Files that the colourist sent back: new colours and moved boundaries are offered, their own layers kept aside. */
export function ReturnedFiles({ pageId }: { readonly pageId: string }): ReactNode {
  const bench = useBench();
  const { fail } = useNotices();
  const [isReading, setReading] = useState(false);
  const { data: files = [], mutate } = useSWR<ReturnedView[], Error>(`/api/pages/${pageId}/returned`);
  const add = async ([file]: readonly File[]): Promise<void> => {
    if (file === undefined) return;
    setReading(true);
    try {
      await bench.settled();
      const url = `/api/pages/${pageId}/returned`;
      await uploadFile<ReturnedView>('POST', url, file, () => undefined, new AbortController().signal);
      await mutate();
    } catch (error) {
      fail(error);
    } finally {
      setReading(false);
    }
  };
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    onDrop: (accepted, refused) => void add([...accepted, ...refused.map(({ file }) => file)]),
    noClick: true,
    noKeyboard: true,
    multiple: false,
  });
  return (
    <PanelSection title="What came back">
      <Box
        {...getRootProps()}
        sx={{ border: `1px dashed ${isDragActive ? tones.accent : tones.line}`, borderRadius: 1, p: 1, mb: 0.5 }}
      >
        <input {...getInputProps({ 'aria-label': 'File that came back' })} />
        <Typography variant="body2">Drop the file that came back, or </Typography>
        <Button onClick={open} sx={{ px: 0.75 }}>
          Choose a file
        </Button>
      </Box>
      {isReading && <LinearProgress aria-label="The returned file is read" />}
      <Box component="ul" aria-label="Returned files" sx={{ m: 0, p: 0, listStyle: 'none' }}>
        {files.map((file) => (
          <Returned
            key={file.id}
            file={file}
            onRemove={() => void request('DELETE', `/api/returned/${file.id}`).then(() => mutate(), fail)}
          />
        ))}
      </Box>
    </PanelSection>
  );
}

function Returned({ file, onRemove }: { readonly file: ReturnedView; readonly onRemove: () => void }): ReactNode {
  const { report } = file;
  const isSame = report.recoloured.length + report.movedCount + report.unknownPx === 0;
  return (
    <Box component="li" sx={{ py: 1, borderBottom: `1px solid ${tones.chromeDark}` }}>
      <Typography variant="body2" sx={{ overflowWrap: 'anywhere' }}>
        <a href={`/api/returned/${file.id}/file`} download>
          {file.fileName}
        </a>
      </Typography>
      <Typography variant="caption" color="text.secondary" component="p">
        {dayjs(file.createdAt).format('D MMM HH:mm')}; kept as it came
      </Typography>
      {isSame && <Typography variant="body2">The flats are as they were sent.</Typography>}
      {report.recoloured.length > 0 && <NewColours changes={report.recoloured} />}
      {report.movedCount > 0 && <Moved file={file} />}
      {report.ownLayers.length > 0 && (
        <Typography variant="body2">Kept aside, untouched: {report.ownLayers.join(', ')}</Typography>
      )}
      {report.removedLayers.length > 0 && (
        <Typography variant="body2">Did not come back: {report.removedLayers.join(', ')}</Typography>
      )}
      {report.unknownPx > 0 && (
        <Typography variant="body2">{countText(report.unknownPx)} px are in colours that no part has.</Typography>
      )}
      <Button onClick={onRemove} sx={{ px: 0.75 }}>
        Remove
      </Button>
    </Box>
  );
}

function NewColours({ changes }: { readonly changes: readonly Recoloured[] }): ReactNode {
  const bench = useBench();
  const cast = useBenchState((state) => state.cast);
  const pageScene = useBenchState((state) => state.document?.scene ?? null);
  const [scope, setScope] = useState<ColourScope>('scene');
  if (cast === null) return null;
  const left = changes.filter((change) => !isTaken(cast, pageScene, change));
  return (
    <Box sx={{ mb: 0.5 }}>
      <Typography variant="body2">
        <b>{counted(changes.length, 'new colour')}</b>
      </Typography>
      <Box component="ul" sx={{ m: 0, p: 0, listStyle: 'none' }}>
        {changes.map((change) => (
          <Box
            component="li"
            key={`${change.partId} ${change.sceneId}`}
            sx={{ display: 'flex', alignItems: 'center', gap: 0.75, fontSize: 13 }}
          >
            <Swatch colour={change.from} />
            <span aria-hidden>→</span>
            <Swatch colour={change.to} />
            <span style={{ flex: 1 }}>
              {cast.parts.find(({ id }) => id === change.partId)?.name ?? 'a removed part'}
            </span>
            {isTaken(cast, pageScene, change) ? (
              <span>taken</span>
            ) : (
              <Button onClick={() => takeColours(bench, [change], scope)} sx={{ minWidth: 0, px: 0.75 }}>
                Take
              </Button>
            )}
          </Box>
        ))}
      </Box>
      {left.length > 0 && (
        <>
          <ChoiceRow label="They count" value={scope} options={SCOPE_WORDS} onSet={setScope} />
          {left.length > 1 && (
            <Button onClick={() => takeColours(bench, left, scope)} sx={{ px: 0.75 }}>
              Take all {left.length}
            </Button>
          )}
        </>
      )}
    </Box>
  );
}

function Swatch({ colour }: { readonly colour: string }): ReactNode {
  return (
    <span
      title={colour}
      style={{ width: 22, height: 14, background: colour, border: `1px solid ${tones.line}`, display: 'inline-block' }}
    />
  );
}

/** Places with another part than before. */
function Moved({ file: { id, fileName, report } }: { readonly file: ReturnedView }): ReactNode {
  const bench = useBench();
  const { fail, say } = useNotices();
  const [shown, setShown] = useState(-1);
  const show = (): void => {
    const next = (shown + 1) % report.moved.length;
    const { x, y, width, height } = report.moved[next]!;
    setShown(next);
    showBox(bench, [x - ROOM_PX, y - ROOM_PX, x + width + ROOM_PX, y + height + ROOM_PX]);
  };
  return (
    <Box>
      <Typography variant="body2">
        <b>{counted(report.movedCount, 'place')}</b> moved, {countText(report.movedPx)} px
        {shown >= 0 && `; shown: ${shown + 1} of ${report.moved.length}`}
      </Typography>
      <Button onClick={show} sx={{ minWidth: 0, px: 0.75 }}>
        Show the next
      </Button>
      <Button
        onClick={() => {
          takeMoved(bench, id, fileName).then((any) => say(any ? 'What moved is painted on the page now.' : 'All of it is on the page already.'), fail); // prettier-ignore
        }}
        sx={{ minWidth: 0, px: 0.75 }}
      >
        Take as corrections
      </Button>
    </Box>
  );
}
