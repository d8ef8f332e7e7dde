import type { LogEntryView } from '@jumble/contracts';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import dayjs from 'dayjs';
import { useState, type ReactNode } from 'react';
import { Link, useParams } from 'react-router';
import useSWR from 'swr';
import { request } from '../api/http.ts';
import { useNotices } from '../notices/NoticeProvider.tsx';
import { tones } from '../theme.ts';
import { DeskFrame } from './DeskFrame.tsx';
import { usePlan } from './plans.ts';

/** What was decided and what happened in a job, with who, when and why. */
export function LogbookPage(): ReactNode {
  const { jobId = '' } = useParams();
  const { data: plan } = usePlan(jobId);
  const [search, setSearch] = useState('');
  const query = search.trim() === '' ? '' : `?search=${encodeURIComponent(search.trim())}`;
  const {
    data: entries,
    error,
    mutate,
  } = useSWR<LogEntryView[], Error>(`/api/jobs/${jobId}/logbook${query}`, {
    keepPreviousData: true,
  });
  return (
    <DeskFrame
      title="Logbook"
      parent={{ label: plan?.name ?? 'Job', to: `/jobs/${jobId}` }}
      actions={
        <>
          <a href={`/api/jobs/${jobId}/logbook.csv${query}`} download>
            As CSV
          </a>
          <a href={`/api/jobs/${jobId}/logbook.pdf${query}`} download>
            As PDF
          </a>
        </>
      }
    >
      <Box sx={{ display: 'flex', gap: 4, alignItems: 'flex-start', mb: 2 }}>
        <TextField
          label="Search"
          value={search}
          onChange={(event) => setSearch(event.target.value)}
          sx={{ width: 320 }}
        />
        <NewEntry jobId={jobId} onAdded={() => void mutate()} />
      </Box>
      {error !== undefined && <Alert severity="error">{error.message}</Alert>}
      {entries?.length === 0 && <Typography color="text.secondary">Nothing of the kind was written down.</Typography>}
      <Box component="ul" aria-label="Entries" sx={{ m: 0, p: 0, listStyle: 'none' }}>
        {entries?.map((one) => (
          <Entry key={one.entry} jobId={jobId} entry={one} onChanged={() => void mutate()} />
        ))}
      </Box>
    </DeskFrame>
  );
}

/** Something that was said or agreed elsewhere. */
function NewEntry({ jobId, onAdded }: { readonly jobId: string; readonly onAdded: () => void }): ReactNode {
  const { fail } = useNotices();
  const [what, setWhat] = useState('');
  const add = async (): Promise<void> => {
    try {
      await request('POST', `/api/jobs/${jobId}/logbook`, { what: what.trim() });
      setWhat('');
      onAdded();
    } catch (error) {
      fail(error);
    }
  };
  return (
    <Box
      component="form"
      aria-label="New entry"
      onSubmit={(event) => {
        event.preventDefault();
        void add();
      }}
      sx={{ display: 'flex', gap: 1, flex: 1 }}
    >
      <TextField
        label="New entry"
        placeholder="what was agreed"
        value={what}
        onChange={(event) => setWhat(event.target.value)}
        slotProps={{ htmlInput: { maxLength: 300 } }}
        sx={{ flex: 1, maxWidth: 460 }}
      />
      <Button type="submit" variant="outlined" disabled={what.trim() === ''}>
        Write down
      </Button>
    </Box>
  );
}

interface EntryProps {
  readonly jobId: string;
  readonly entry: LogEntryView;
  readonly onChanged: () => void;
}

function Entry({ jobId, entry, onChanged }: EntryProps): ReactNode {
  const { fail } = useNotices();
  const [why, setWhy] = useState<string | null>(null);
  const keep = (): void => {
    if (why !== null && why.trim() !== (entry.why ?? ''))
      void request('PUT', `/api/jobs/${jobId}/logbook/${entry.entry}/why`, { why: why.trim() }).then(onChanged, fail);
    setWhy(null);
  };
  return (
    <Box
      component="li"
      sx={{
        display: 'grid',
        gridTemplateColumns: '120px 110px 1fr 260px',
        gap: 2,
        py: 0.75,
        borderBottom: `1px solid ${tones.chromeDark}`,
        alignItems: 'baseline',
      }}
    >
      <Typography variant="body2" color="text.secondary">
        {dayjs(entry.at).format('D MMM HH:mm')}
      </Typography>
      <Typography variant="body2" noWrap>
        {entry.who ?? ''}
      </Typography>
      <Typography variant="body2">
        {entry.what}
        {entry.pageId !== null && entry.pageName !== null && (
          <>
            {', '}
            <Link to={`/jobs/${jobId}/pages/${entry.pageId}/flats`}>{entry.pageName}</Link>
          </>
        )}
      </Typography>
      <TextField
        variant="standard"
        placeholder="why"
        value={why ?? entry.why ?? ''}
        onChange={(event) => setWhy(event.target.value)}
        onBlur={keep}
        onKeyDown={(event) => event.key === 'Enter' && keep()}
        slotProps={{
          htmlInput: { maxLength: 500, 'aria-label': `Why: ${entry.what}` },
          input: { sx: { fontSize: 13 } },
        }}
      />
    </Box>
  );
}
