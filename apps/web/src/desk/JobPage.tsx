import type { JobView, PageView, ScannerView } from '@jumble/contracts';
import UploadFileIcon from '@mui/icons-material/UploadFile';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import dayjs from 'dayjs';
import { useState, type ReactNode } from 'react';
import { useDropzone } from 'react-dropzone';
import { Link, useParams, useSearchParams } from 'react-router';
import useSWR from 'swr';
import { request } from '../api/http.ts';
import { PackageRow } from '../handoff/PackageRow.tsx';
import { usePackages } from '../handoff/usePackages.ts';
import { useNotices } from '../notices/NoticeProvider.tsx';
import { tones } from '../theme.ts';
import { DeskFrame } from './DeskFrame.tsx';
import { PagesPlanDialog } from './PagesPlanDialog.tsx';
import { PlanDialog } from './PlanDialog.tsx';
import { dueOf, usePlan } from './plans.ts';
import { ALL_PAGES, isShown, WallTools } from './WallTools.tsx';
import { PageCard, type CardSize } from './PageCard.tsx';
import { ForeignDialog } from './ForeignDialog.tsx';
import { CheckDialog } from './CheckDialog.tsx';
import { HandOffDialog } from './HandOffDialog.tsx';
import { progressOf, progressText } from './progress.ts';
import { ResolutionDialog } from './ResolutionDialog.tsx';
import { ScanDialog } from './ScanDialog.tsx';
import { TrimDialog } from './TrimDialog.tsx';
import { UploadList } from './UploadList.tsx';
import { useUploads } from './useUploads.ts';
import { counted } from '../measures.ts';

const ACCEPT = {
  'image/png': ['.png'],
  'image/tiff': ['.tif', '.tiff'],
  'image/jpeg': ['.jpg', '.jpeg'],
  'image/gif': ['.gif'],
  'image/webp': ['.webp'],
};

/** Cards by how many pages there are, so that a job is seen at once; widths in px. */
const CARDS: readonly { readonly most: number; readonly size: CardSize; readonly width: number }[] = [
  { most: 6, size: 'large', width: 180 },
  { most: 12, size: 'medium', width: 180 },
  { most: Infinity, size: 'small', width: 106 },
];

function toggled(set: ReadonlySet<string>, one: string): Set<string> {
  const next = new Set(set);
  if (!next.delete(one)) next.add(one);
  return next;
}

/** The pages of a job: as they stand, and where new ones are dropped. */
export function JobPage(): ReactNode {
  const { jobId = '' } = useParams();
  const [search] = useSearchParams();
  const { data: job, error, mutate } = useSWR<JobView, Error>(`/api/jobs/${jobId}`, { refreshInterval: 4000 });
  const { data: scanner } = useSWR<ScannerView, Error>('/api/scanner');
  const [dialog, setDialog] = useState<'scan' | 'trim' | 'handoff' | 'foreign' | 'plan' | 'pages' | 'check' | null>(
    search.has('handoff') ? 'handoff' : null,
  );
  const { fail } = useNotices();
  const packages = usePackages(jobId);
  const { data: plan, mutate: replan } = usePlan(jobId);
  const [filter, setFilter] = useState(ALL_PAGES);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [dragged, setDragged] = useState<string | null>(null);
  const latest = packages.data?.[0];
  const [unstated, setUnstated] = useState<readonly PageView[]>([]);
  const uploads = useUploads(jobId, (page) => {
    void mutate();
    if (page.dpi === null) setUnstated((pages) => [...pages, page]);
  });
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    // The server decides what a page is: a wrong kind gets its reason, not silence.
    onDrop: (accepted, refused) => uploads.add([...accepted, ...refused.map(({ file }) => file)]),
    accept: ACCEPT,
    noClick: true,
    noKeyboard: true,
  });

  const move = (from: number, to: number): void => {
    if (job === undefined) return;
    const pages = [...job.pages];
    const [moved] = pages.splice(from, 1);
    pages.splice(to, 0, moved!);
    void mutate({ ...job, pages }, { revalidate: false });
    request('PUT', `/api/jobs/${jobId}/pages/order`, { pageIds: pages.map((page) => page.id) })
      .catch(fail)
      .finally(() => void mutate());
  };

  const planOf = new Map(plan?.pages.map((page) => [page.id, page]));
  const shown = (job?.pages ?? []).filter((page) => {
    const own = planOf.get(page.id);
    return plan === undefined || own === undefined || isShown(plan, own, filter);
  });
  const cards = CARDS.find(({ most }) => (job?.pages.length ?? 0) <= most)!;
  const progress = progressOf(job?.pages ?? []);
  return (
    <Box {...getRootProps()} sx={{ minHeight: '100%' }}>
      <DeskFrame
        title={job?.name ?? ' '}
        parent={{ label: 'Desk', to: '/' }}
        subtitle={
          <Typography variant="body2" color="text.secondary">
            {job !== undefined &&
              `${counted(job.pages.length, 'page')}, ${progressText(progress.filled, progress.total)}${job.dueOn === null ? '' : `, due ${dayjs(job.dueOn).format('D MMM YYYY')}`}`}
          </Typography>
        }
        actions={
          <>
            <Button onClick={() => setDialog('plan')} disabled={plan === undefined}>
              Plan
            </Button>
            <Button onClick={() => setDialog('trim')} disabled={job === undefined}>
              Trim and bleed
            </Button>
            <Button onClick={() => setDialog('foreign')} disabled={job === undefined}>
              Check flats from elsewhere
            </Button>
            <Button onClick={() => setDialog('handoff')} disabled={job === undefined || job.pages.length === 0}>
              Hand off pages
            </Button>
            {scanner !== undefined && scanner.sheets.length > 0 && (
              <Button variant="outlined" onClick={() => setDialog('scan')}>
                Scan a page
              </Button>
            )}
            <Button variant="contained" startIcon={<UploadFileIcon />} onClick={open}>
              Add pages
            </Button>
          </>
        }
      >
        <input {...getInputProps({ 'aria-label': 'Page files' })} />
        {error !== undefined && <Alert severity="error">{error.message}</Alert>}
        <UploadList uploads={uploads} />
        {latest !== undefined && (
          <Box
            component="section"
            aria-label="Latest hand-off"
            sx={{ display: 'flex', gap: 1.5, alignItems: 'baseline', mt: -1, mb: 0.5, fontSize: 13 }}
          >
            <Box component="ul" sx={{ m: 0, p: 0, listStyle: 'none', flex: 1 }}>
              <PackageRow pack={latest} isShort onChanged={() => void packages.mutate()} />
            </Box>
            {(packages.data?.length ?? 0) > 1 && <Link to="/outbox">All in the outbox</Link>}
          </Box>
        )}
        {plan !== undefined && plan.pages.length > 0 && (
          <WallTools
            plan={plan}
            filter={filter}
            onFilter={setFilter}
            chosen={chosen}
            onChooseAll={() => setChosen(new Set(shown.map(({ id }) => id)))}
            onChooseNone={() => setChosen(new Set())}
            onSet={() => setDialog('pages')}
            onCheck={() => setDialog('check')}
            onHandOff={() => setDialog('handoff')}
          />
        )}
        {job?.pages.length === 0 && (
          <Box sx={{ py: 8, textAlign: 'center', border: `2px dashed ${tones.line}`, borderRadius: 1 }}>
            <Typography variant="h2" gutterBottom>
              Drop finished line art here
            </Typography>
            <Typography color="text.secondary" sx={{ mb: 2 }}>
              PNG, TIFF, JPEG, GIF or WebP, in any colour mode. The original files are kept as they are.
            </Typography>
            <Button variant="outlined" onClick={open}>
              Choose files
            </Button>
          </Box>
        )}
        <Box
          component="ul"
          sx={{
            m: 0,
            p: 0,
            listStyle: 'none',
            display: 'grid',
            gap: cards.size === 'small' ? 1 : 2,
            gridTemplateColumns: `repeat(auto-fill, minmax(${cards.width}px, 1fr))`,
          }}
        >
          {shown.map((page) => {
            const k = job!.pages.indexOf(page);
            return (
              <PageCard
                key={page.id}
                page={page}
                number={k + 1}
                size={cards.size}
                plan={planOf.get(page.id)}
                due={plan === undefined ? null : dueOf(plan, planOf.get(page.id) ?? { dueOn: null })}
                chosen={chosen.has(page.id)}
                onChoose={() => setChosen(toggled(chosen, page.id))}
                onDrag={() => setDragged(page.id)}
                onDropped={() => {
                  const from = job!.pages.findIndex(({ id }) => id === dragged);
                  setDragged(null);
                  if (from >= 0 && from !== k) move(from, k);
                }}
                onChanged={() => void mutate()}
                onMoveEarlier={k === 0 ? undefined : () => move(k, k - 1)}
                onMoveLater={k === job!.pages.length - 1 ? undefined : () => move(k, k + 1)}
                onAskResolution={() => setUnstated([page])}
              />
            );
          })}
        </Box>
      </DeskFrame>
      {isDragActive && (
        <Box
          sx={{
            position: 'fixed',
            inset: 16,
            border: `3px dashed ${tones.accent}`,
            borderRadius: 1,
            bgcolor: 'rgba(246,246,244,0.9)',
            display: 'grid',
            placeItems: 'center',
            zIndex: 1300,
            pointerEvents: 'none',
          }}
        >
          <Typography variant="h1">Drop to add these pages</Typography>
        </Box>
      )}
      {scanner !== undefined && dialog === 'scan' && (
        <ScanDialog
          open
          jobId={jobId}
          scanner={scanner}
          onClose={() => setDialog(null)}
          onScanned={() => void mutate()}
        />
      )}
      {job !== undefined && job.pages.length > 0 && dialog === 'handoff' && (
        <HandOffDialog
          job={job}
          chosen={chosen}
          onClose={() => setDialog(null)}
          onBegun={() => void packages.mutate()}
        />
      )}
      {plan !== undefined && dialog === 'plan' && (
        <PlanDialog
          plan={plan}
          onClose={() => setDialog(null)}
          onChanged={() => {
            void replan();
            void mutate();
          }}
        />
      )}
      {plan !== undefined && chosen.size > 0 && dialog === 'pages' && (
        <PagesPlanDialog
          plan={plan}
          pageIds={[...chosen]}
          onClose={() => setDialog(null)}
          onChanged={() => void replan()}
        />
      )}
      {job !== undefined && chosen.size > 0 && dialog === 'check' && (
        <CheckDialog
          job={job}
          pageIds={[...chosen]}
          onClose={() => setDialog(null)}
          onChecked={() => {
            void replan();
            void mutate();
          }}
        />
      )}
      {dialog === 'foreign' && (
        <ForeignDialog jobId={jobId} onClose={() => setDialog(null)} onTaken={() => void mutate()} />
      )}
      {job !== undefined && dialog === 'trim' && (
        <TrimDialog job={job} onClose={() => setDialog(null)} onChanged={() => void mutate()} />
      )}
      <ResolutionDialog
        page={unstated[0] ?? null}
        onDone={() => {
          setUnstated((pages) => pages.slice(1));
          void mutate();
        }}
      />
    </Box>
  );
}
