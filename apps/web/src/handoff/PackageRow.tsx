import type { HandoffView, PackageView } from '@jumble/contracts';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import Typography from '@mui/material/Typography';
import dayjs from 'dayjs';
import { useState, type ReactNode } from 'react';
import { request } from '../api/http.ts';
import { countText, counted } from '../measures.ts';
import { AskOnce } from '../notices/AskOnce.tsx';
import { useNotices } from '../notices/NoticeProvider.tsx';
import { tones } from '../theme.ts';
import { ruleInWords } from './deliveryWords.ts';

export interface PackageRowProps {
  readonly pack: PackageView;
  /** Shows the files of these pages alone. @default all */
  readonly pageId?: string;
  /** In a line, and without the files of the pages while all is well. @default no */
  readonly isShort?: boolean;
  /** Says which job it is of. @default no */
  readonly withJob?: boolean;
  readonly onChanged: () => void;
}

/** A hand-off: what was delivered, how far it is, and what there is to download. */
export function PackageRow({ pack, pageId, withJob = false, isShort = false, onChanged }: PackageRowProps): ReactNode {
  const { fail } = useNotices();
  const [removing, setRemoving] = useState(false);
  const act = (method: string, path = ''): void =>
    void request(method, `/api/packages/${pack.id}${path}`).then(onChanged, fail);
  const files = pack.files.filter(
    (file) => (pageId === undefined || file.pageId === pageId) && (!isShort || file.state === 'failed'),
  );
  const isStopped = pack.state === 'failed' || pack.state === 'cancelled';
  return (
    <Box
      component="li"
      sx={
        isShort
          ? { display: 'flex', flexWrap: 'wrap', columnGap: 1.5, alignItems: 'baseline' }
          : { py: 1, borderBottom: `1px solid ${tones.chromeDark}` }
      }
    >
      <Typography variant="body2">
        <b>{pack.rule.name}</b>
        {withJob && `, ${pack.jobName}`}, {counted(pack.files.length, 'page')}
        {pack.palette === 'scratch' && ', scratch colours'}
      </Typography>
      <Typography variant="caption" color="text.secondary" component="p">
        {dayjs(pack.createdAt).format('D MMM HH:mm')}; {ruleInWords(pack.rule)}
      </Typography>
      {files.map((file) => (
        <FileLine key={file.id} file={file} />
      ))}
      {pack.state === 'packing' && (
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, flex: '1 1 160px' }}>
          <LinearProgress
            sx={{ flex: 1 }}
            variant="determinate"
            value={pack.progress * 100}
            aria-label="Building the hand-off"
          />
          <Button onClick={() => act('POST', '/cancel')}>Cancel</Button>
        </Box>
      )}
      {pack.problem !== null && (
        <Typography variant="caption" color="error" component="p">
          {pack.problem}
        </Typography>
      )}
      {pack.state === 'cancelled' && <Typography variant="caption">Cancelled. </Typography>}
      {pack.state === 'ready' && pack.sha256 !== null && (
        <Typography variant="caption" component="p" sx={{ overflowWrap: 'anywhere' }}>
          With palette and sums:{' '}
          <a href={`/api/packages/${pack.id}/file`} download>
            {pack.fileName}
          </a>
          , {megabytes(pack.sizeBytes)}, SHA-256 {pack.sha256.slice(0, 12)}
        </Typography>
      )}
      {isStopped && <Button onClick={() => act('POST', '/resume')}>Go on</Button>}
      {pack.state !== 'packing' && (
        <>
          <Button onClick={() => setRemoving(true)}>Remove</Button>
          <AskOnce
            open={removing}
            title="Remove this hand-off?"
            text="Its files are taken out of the outbox. The pages stay as they are, and can be handed off again."
            action="Remove it"
            onClose={() => setRemoving(false)}
            onConfirm={() => act('DELETE')}
          />
        </>
      )}
    </Box>
  );
}

const megabytes = (bytes: number | null): string => `${((bytes ?? 0) / 1e6).toFixed(1)} MB`;

function FileLine({ file }: { readonly file: HandoffView }): ReactNode {
  return (
    <Box sx={{ mb: 0.25 }}>
      <Typography variant="body2" sx={{ overflowWrap: 'anywhere' }}>
        {file.state === 'ready' ? (
          <a href={`/api/handoffs/${file.id}/file`} download>
            {file.fileName}
          </a>
        ) : (
          file.fileName
        )}
      </Typography>
      <Typography variant="caption" color={file.state === 'failed' ? 'error' : 'text.secondary'} component="p">
        {stateInWords(file)}
      </Typography>
    </Box>
  );
}

function stateInWords({ state, problem, sizeBytes, readBack, pageRevision }: HandoffView): string {
  if (state === 'failed') return problem ?? 'It could not be built.';
  if (state !== 'ready') return state === 'building' ? 'is built now' : 'waits';
  const read =
    readBack === null
      ? 'not read again'
      : `read again: ${counted(readBack.pictures, 'picture')}, ${countText(readBack.pixels)} px, no difference`;
  return `${megabytes(sizeBytes)}, revision ${pageRevision}; ${read}`;
}
