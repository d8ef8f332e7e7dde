import type { PartUsageView } from '@jumble/contracts';
import { copyPart, type CastSheet } from '@jumble/core';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';
import useSWR from 'swr';
import { getJson } from '../../api/http.ts';
import { assignPart, choosePart } from '../page/parts.ts';
import { useBench, useBenchState } from '../state/benchContext.ts';
import { newId, type PartDraft } from './castEdits.ts';
import { countText } from '../../measures.ts';

interface PartPlacesProps {
  readonly part: PartDraft;
  readonly cast: CastSheet;
  readonly onClose: () => void;
}

/** Where a part is used, and what makes a part of its own of it. */
export function PartPlaces({ part, cast, onClose }: PartPlacesProps): ReactNode {
  return (
    <Box sx={{ display: 'flex', alignItems: 'baseline', justifyContent: 'space-between', pr: 3 }}>
      <Usage partId={part.id} />
      <SplitByPanel part={part} cast={cast} onClose={onClose} />
    </Box>
  );
}

/** Makes a part of its own of what lies in the panel the worklist keeps to. */
function SplitByPanel({ part, cast, onClose }: PartPlacesProps): ReactNode {
  const bench = useBench();
  const panel = useBenchState((state) => state.panelShown);
  const ofRegion = useBenchState((state) => state.panelOfRegion);
  const resolved = useBenchState((state) => state.resolved);
  if (panel === null || ofRegion === null) return null;
  const regions = (resolved?.partOfRegion ?? []).flatMap((one, region) =>
    one === part.id && ofRegion[region] === panel ? [region] : [],
  );
  if (regions.length === 0) return null;
  return (
    <Button
      onClick={() => {
        const { colour: _, isNew: __, ...plain } = part;
        const id = newId();
        const taken = new Set(cast.parts.filter((one) => one.groupId === part.groupId).map((one) => one.name));
        let name = `${part.name}, panel ${panel + 1}`;
        for (let k = 2; taken.has(name); k++) name = `${part.name}, panel ${panel + 1} (${k})`;
        bench.changeCast(`Split ${name} off`, copyPart(cast, plain, id, name));
        assignPart(bench, new Set(regions), id);
        choosePart(bench, id);
        onClose();
      }}
    >
      Split off panel {panel + 1} ({countText(regions.length)})
    </Button>
  );
}

/** Pages of the job where a part is used. */
function Usage({ partId }: { readonly partId: string }): ReactNode {
  const jobId = useBenchState((state) => state.page?.jobId ?? null);
  const { data } = useSWR<PartUsageView[]>(jobId === null ? null : `/api/jobs/${jobId}/cast/usage`, getJson, {
    revalidateOnFocus: false,
  });
  const pages = data?.find((one) => one.partId === partId)?.pages;
  return (
    <Typography variant="caption" color="text.secondary" sx={{ px: 3, pb: 1 }}>
      {pages === undefined
        ? 'Where it is used is counted …'
        : pages.length === 0
          ? 'Used on no page yet.'
          : `Used on ${pages.map(({ name, places }) => `${name} (${places})`).join(', ')}.`}
    </Typography>
  );
}
