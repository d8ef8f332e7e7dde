import type { JobView } from '@jumble/contracts';
import Box from '@mui/material/Box';
import { useCallback, useEffect, useRef, useState, type ReactNode } from 'react';
import { useBlocker, useNavigate, useParams } from 'react-router';
import useSWR from 'swr';
import { useNotices } from '../notices/NoticeProvider.tsx';
import { ClashDialog } from './ClashDialog.tsx';
import { FirstSteps } from './FirstSteps.tsx';
import { HistoryDialog } from './HistoryDialog.tsx';
import { ShortcutsDialog } from './ShortcutsDialog.tsx';
import { openPage, makeBench } from './page/openBench.ts';
import { AwayDialog } from '../time/AwayDialog.tsx';
import { useWorkTime } from '../time/useWorkTime.ts';
import { setJob, setStage } from './page/show.ts';
import { PageStage } from './PageStage.tsx';
import { Readout } from './Readout.tsx';
import { SidePanel } from './SidePanel.tsx';
import { StageRail } from './StageRail.tsx';
import { STAGES } from './stages/stages.ts';
import type { Bench } from './state/Bench.ts';
import { BenchContext } from './state/benchContext.ts';
import { showToTests } from './showToTests.ts';
import { pressShortcut } from './tools/shortcuts.ts';
import { startEngine } from './engine/startEngine.ts';

/** The page bench: one page, through the stages of the work. */
export function BenchPage(): ReactNode {
  const { jobId = '', pageId = '', stage = 'flats' } = useParams();
  const { data: job } = useSWR<JobView, Error>(`/api/jobs/${jobId}`);
  return <OpenBench key={pageId} job={job ?? null} jobId={jobId} pageId={pageId} stage={stage} />;
}

interface OpenBenchProps {
  readonly job: JobView | null;
  readonly jobId: string;
  readonly pageId: string;
  readonly stage: string;
}

function OpenBench({ job, jobId, pageId, stage }: OpenBenchProps): ReactNode {
  const { say, fail } = useNotices();
  const navigate = useNavigate();
  const [bench, setBench] = useState<Bench | null>(null);
  const [dialog, setDialog] = useState<'keys' | 'history' | null>(null);
  const cancelGesture = useRef<() => void>(() => undefined);
  const onTool = useCallback((cancel: () => void) => {
    cancelGesture.current = cancel;
  }, []);

  useEffect(() => {
    const opened = makeBench(pageId, startEngine(), STAGES, fail);
    setBench(opened);
    showToTests(opened);
    void openPage(opened);
    return () => opened.close();
  }, [pageId, fail]);

  const current = STAGES.find(({ name }) => name === stage) ?? STAGES.find(({ name }) => name === 'flats')!;
  useEffect(() => {
    if (bench !== null) setStage(bench, current.name);
  }, [bench, current]);
  useEffect(() => {
    if (bench !== null && job !== null) setJob(bench, job);
  }, [bench, job]);

  const goToPage = (direction: 1 | -1): void => {
    const at = job?.pages.findIndex((page) => page.id === pageId) ?? -1;
    const next = job?.pages[at + direction];
    if (next !== undefined && at >= 0) void navigate(`/jobs/${jobId}/pages/${next.id}/${stage}`);
    else say(direction === 1 ? 'This is the last page.' : 'This is the first page.');
  };

  useEffect(() => {
    if (bench === null) return;
    const onPress = (event: KeyboardEvent): void => {
      if (isTyping(event.target) || isAsking()) return;
      // Buttons and links keep the keys that press them.
      if (
        (event.key === 'Enter' || event.key === ' ') &&
        event.target instanceof Element &&
        event.target.closest('button, a, [role="button"]')
      )
        return;
      const ports = {
        goToPage,
        showShortcuts: () => setDialog('keys'),
        alreadySaved: () =>
          say(
            bench.unsaved === 0
              ? 'Already saved: every step is stored as you do it.'
              : 'The last steps are being stored.',
          ),
        cancelGesture: () => cancelGesture.current(),
        pressOnStage: current.press,
      };
      if (pressShortcut(event, bench, ports)) event.preventDefault();
    };
    window.addEventListener('keydown', onPress);
    return () => window.removeEventListener('keydown', onPress);
  });

  useEffect(() => {
    const onLeave = (event: BeforeUnloadEvent): void => {
      if (bench !== null && bench.unsaved > 0) event.preventDefault();
    };
    window.addEventListener('beforeunload', onLeave);
    return () => window.removeEventListener('beforeunload', onLeave);
  }, [bench]);

  // The stages of a page share its bench; whoever leaves the page waits a moment for the last steps.
  const blocker = useBlocker(
    ({ nextLocation }) =>
      bench !== null && bench.unsaved > 0 && !nextLocation.pathname.startsWith(`/jobs/${jobId}/pages/${pageId}/`),
  );
  useEffect(() => {
    if (blocker.state !== 'blocked' || bench === null) return;
    let stays = false;
    const timer = setTimeout(() => {
      stays = true;
      say('The last steps are not stored yet. Wait a moment, then go on.', 'warning');
      blocker.reset();
    }, LEAVE_MS);
    void bench.settled().then(() => {
      if (!stays) blocker.proceed();
    });
    return () => {
      stays = true;
      clearTimeout(timer);
    };
  }, [blocker, bench, say]);

  const { away, answer } = useWorkTime(pageId, current.name);
  if (bench === null) return null;
  const { left, right } = current;
  return (
    <BenchContext.Provider value={bench}>
      <Box sx={{ height: '100%', display: 'grid', gridTemplateRows: 'auto 1fr auto', overflow: 'hidden' }}>
        <StageRail
          job={job}
          stage={current.name}
          onPage={goToPage}
          onShortcuts={() => setDialog('keys')}
          onHistory={() => setDialog('history')}
        />
        <Box sx={{ display: 'flex', minHeight: 0 }}>
          <SidePanel side="left" name={left.name}>
            <left.Content />
            <FirstSteps />
          </SidePanel>
          <PageStage onTool={onTool} />
          <SidePanel side="right" name={right.name}>
            <right.Content />
          </SidePanel>
        </Box>
        <Readout />
      </Box>
      <AwayDialog away={away} onAnswer={answer} />
      <ShortcutsDialog open={dialog === 'keys'} stage={current.name} onClose={() => setDialog(null)} />
      <HistoryDialog open={dialog === 'history'} onClose={() => setDialog(null)} />
      <ClashDialog />
    </BenchContext.Provider>
  );
}

/** So long the last steps may take to be stored before leaving is refused, in ms. */
const LEAVE_MS = 3000;

/** Whether a dialog or menu is up; these stand at the end of the document's body. */
function isAsking(): boolean {
  return [...document.body.children].some((one) => one.classList.contains('MuiModal-root'));
}

function isTyping(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    (target.isContentEditable ||
      ['TEXTAREA', 'SELECT'].includes(target.tagName) ||
      // Boxes that are ticked take no letters.
      (target instanceof HTMLInputElement && !['checkbox', 'radio'].includes(target.type)))
  );
}
