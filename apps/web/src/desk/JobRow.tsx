import type { JobPlan, JobView } from '@jumble/contracts';
import DeleteOutlineIcon from '@mui/icons-material/DeleteOutlined';
import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import LinearProgress from '@mui/material/LinearProgress';
import Tooltip from '@mui/material/Tooltip';
import Typography from '@mui/material/Typography';
import dayjs from 'dayjs';
import { useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import { request } from '../api/http.ts';
import { useNotices } from '../notices/NoticeProvider.tsx';
import { tones } from '../theme.ts';
import { AskOnce } from '../notices/AskOnce.tsx';
import { forecastWords } from './plans.ts';
import { progressOf, progressText } from './progress.ts';
import { Thumbnail } from './Thumbnail.tsx';
import { counted } from '../measures.ts';

interface JobRowProps {
  readonly job: JobView;
  /** Undefined while it is not known. */
  readonly plan?: JobPlan | undefined;
  readonly onChanged: () => void;
}

/** One job on the desk: its first pages, how far it is, when it is due. */
export function JobRow(props: JobRowProps): ReactNode {
  const { job, plan, onChanged } = props;
  const { filled, total, share } = progressOf(job.pages);
  const [asking, setAsking] = useState(false);
  const { fail } = useNotices();
  return (
    <Box
      component="li"
      sx={{
        display: 'flex',
        alignItems: 'center',
        gap: 2,
        p: 1.5,
        bgcolor: tones.sheet,
        border: `1px solid ${tones.line}`,
        borderRadius: 1,
        position: 'relative',
        '&:hover': { borderColor: tones.accent },
      }}
    >
      <Box sx={{ display: 'flex', gap: 0.5, width: 176, height: 84, overflow: 'hidden', flexShrink: 0 }}>
        {job.pages.slice(0, 3).map((page) => (
          <Box key={page.id} sx={{ width: 56, height: 84, bgcolor: tones.ground, flexShrink: 0 }}>
            {page.thumbnailHash !== null && (
              <Thumbnail page={page} style={{ width: '100%', height: '100%', objectFit: 'contain' }} />
            )}
          </Box>
        ))}
      </Box>
      <Box sx={{ flex: 1, minWidth: 0 }}>
        <Typography variant="h2" noWrap>
          <Link to={`/jobs/${job.id}`} style={{ color: 'inherit', textDecoration: 'none' }}>
            {job.name}
            <span style={{ position: 'absolute', inset: 0 }} />
          </Link>
        </Typography>
        <Typography variant="body2" color="text.secondary">
          {counted(job.pages.length, 'page')}, {progressText(filled, total)}
        </Typography>
        {plan !== undefined && (
          <Typography variant="body2" color="text.secondary">
            {forecastWords(plan)}
          </Typography>
        )}
        <LinearProgress
          variant="determinate"
          value={share * 100}
          sx={{ mt: 1, maxWidth: 360 }}
          aria-label={`Progress of ${job.name}`}
        />
      </Box>
      <Typography variant="body2" color="text.secondary" sx={{ width: 120, textAlign: 'right' }}>
        {job.dueOn === null ? 'no due day' : `due ${dayjs(job.dueOn).format('D MMM')}`}
      </Typography>
      <Tooltip title="Delete this job">
        <IconButton aria-label={`Delete ${job.name}`} onClick={() => setAsking(true)} sx={{ zIndex: 1 }}>
          <DeleteOutlineIcon fontSize="small" />
        </IconButton>
      </Tooltip>
      <AskOnce
        open={asking}
        title={`Delete "${job.name}"?`}
        text={`Its ${counted(job.pages.length, 'page')}, ${counted(filled, 'filled region')}, its cast sheet and all hand-offs are lost. This cannot be undone.`}
        action="Delete the job"
        onClose={() => setAsking(false)}
        onConfirm={() => void request('DELETE', `/api/jobs/${job.id}`).then(onChanged, fail)}
      />
    </Box>
  );
}
