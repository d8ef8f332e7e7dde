import type { JobView } from '@jumble/contracts';
import AddIcon from '@mui/icons-material/Add';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useState, type ReactNode } from 'react';
import { Link, useNavigate } from 'react-router';
import useSWR from 'swr';
import { DeskSentences } from './DeskSentences.tsx';
import { PersonButton } from './PersonButton.tsx';
import { usePlans } from './plans.ts';
import { DeskFrame } from './DeskFrame.tsx';
import { JobRow } from './JobRow.tsx';
import { NewJobDialog } from './NewJobDialog.tsx';

/** All jobs, the newest first. */
export function DeskPage(): ReactNode {
  const { data: jobs, error, mutate } = useSWR<JobView[], Error>('/api/jobs');
  const { data: plans } = usePlans();
  const [creating, setCreating] = useState(false);
  const navigate = useNavigate();
  return (
    <DeskFrame
      title="Desk"
      actions={
        <>
          <PersonButton />
          <Button component={Link} to="/outbox">
            Outbox
          </Button>
          <Button variant="contained" startIcon={<AddIcon />} onClick={() => setCreating(true)}>
            New job
          </Button>
        </>
      }
    >
      {error !== undefined && <Alert severity="error">{error.message}</Alert>}
      {jobs?.length === 0 && (
        <Box sx={{ py: 8, textAlign: 'center' }}>
          <Typography variant="h2" gutterBottom>
            No jobs yet
          </Typography>
          <Box
            component="ol"
            sx={{ display: 'inline-block', textAlign: 'left', color: 'text.secondary', mb: 2, '& li': { mb: 0.5 } }}
          >
            <li>Begin a job: it holds the pages of a comic and the cast sheet they share.</li>
            <li>Drop finished line art on it. PNG, TIFF, JPEG, GIF and WebP are read.</li>
            <li>
              Open a page: what the drawing needs, its gaps, its flats, and the hand-off come one after the other.
            </li>
          </Box>
          <br />
          <Button variant="contained" onClick={() => setCreating(true)}>
            New job
          </Button>
        </Box>
      )}
      {plans !== undefined && <DeskSentences plans={plans} />}
      {jobs !== undefined && jobs.length > 0 && (
        <Box component="ul" sx={{ m: 0, p: 0, listStyle: 'none', display: 'grid', gap: 1 }}>
          {jobs.map((job) => (
            <JobRow
              key={job.id}
              job={job}
              plan={plans?.find(({ id }) => id === job.id)}
              onChanged={() => void mutate()}
            />
          ))}
        </Box>
      )}
      <NewJobDialog
        open={creating}
        onClose={() => setCreating(false)}
        onCreated={(job) => {
          void mutate();
          void navigate(`/jobs/${job.id}`);
        }}
      />
    </DeskFrame>
  );
}
