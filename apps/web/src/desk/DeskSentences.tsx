import type { JobPlan } from '@jumble/contracts';
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { counted } from '../measures.ts';
import { tones } from '../theme.ts';
import { dayWords, isLate, openPages, today, type OpenPage } from './plans.ts';

/** What is due next, what is late, and what to do now. */
export function DeskSentences({ plans }: { readonly plans: readonly JobPlan[] }): ReactNode {
  const on = today();
  const open = openPages(plans);
  const late = open.filter(({ due }) => isLate(due, on));
  const next = open.find(({ due }) => due !== null && !isLate(due, on));
  const [now] = open;
  if (now === undefined) return null;
  const ofNext = open.filter(({ job, due }) => job.id === next?.job.id && due === next.due);
  return (
    <Box
      component="section"
      aria-label="What to do"
      sx={{ mb: 2, p: 2, bgcolor: '#fff', border: `1px solid ${tones.line}`, borderRadius: 1 }}
    >
      <Typography>
        <b>Now</b>: <PageLink open={now} />, {now.step.words}.
      </Typography>
      {next !== undefined && (
        <Typography>
          <b>Due next</b>:{' '}
          {ofNext.length === 1 ? <PageLink open={next} /> : `${counted(ofNext.length, 'page')} of ${next.job.name}`},{' '}
          {dayWords(next.due!, on)}.
        </Typography>
      )}
      <Typography>
        {late.length === 0 ? (
          'Nothing is late.'
        ) : (
          <>
            <b>Late</b>:{' '}
            {late.slice(0, 4).map((one, k) => (
              <span key={one.page.id}>
                {k > 0 && ', '}
                <PageLink open={one} /> since {dayWords(one.due!, on)}
              </span>
            ))}
            {late.length > 4 && ` and ${late.length - 4} more`}.
          </>
        )}
      </Typography>
    </Box>
  );
}

function PageLink({ open: { job, page, step } }: { readonly open: OpenPage }): ReactNode {
  return (
    <Link to={`/jobs/${job.id}/pages/${page.id}/${step.stage}`}>
      {page.name} of {job.name}
    </Link>
  );
}
