import type { JobView } from '@jumble/contracts';
import Box from '@mui/material/Box';
import type { ReactNode } from 'react';
import useSWR from 'swr';
import { counted } from '../../../measures.ts';
import { useNotices } from '../../../notices/NoticeProvider.tsx';
import { useBench, useBenchState } from '../../state/benchContext.ts';
import { copyRules } from './copyRules.ts';

/** Copies the rules that do not point at places of this page to another page of the job, or to all. */
export function CopyRulesChoice(): ReactNode {
  const bench = useBench();
  const { say, fail } = useNotices();
  const page = useBenchState((state) => state.page);
  const { data: job } = useSWR<JobView, Error>(page === null ? null : `/api/jobs/${page.jobId}`);
  const others = (job?.pages ?? []).filter(({ id }) => id !== page?.id);
  if (others.length === 0) return null;
  const copy = (ids: readonly string[]): void => {
    copyRules(bench, ids).then(
      (count) =>
        say(
          count === 0
            ? 'These rules point at places of this page: there is nothing to copy.'
            : `${counted(count, 'rule')} copied to ${counted(ids.length, 'page')}.`,
        ),
      fail,
    );
  };
  return (
    <Box sx={{ px: 1.25, pt: 0.5 }}>
      <select
        aria-label="Copy these rules to other pages"
        value=""
        onChange={(event) => {
          copy(event.target.value === 'all' ? others.map(({ id }) => id) : [event.target.value]);
          event.target.blur();
        }}
        style={{ font: 'inherit', fontSize: 12.5, width: '100%' }}
      >
        <option value="">Copy these rules to …</option>
        {others.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
        {others.length > 1 && <option value="all">all other pages</option>}
      </select>
    </Box>
  );
}
