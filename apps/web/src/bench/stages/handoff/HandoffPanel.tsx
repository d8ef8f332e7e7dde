import type { PackageView } from '@jumble/contracts';
import { canRunUnder, degreesOfSlope, hasLayers, MOST_PAGE_NOTES, type DeliveryRule } from '@jumble/core';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import { request } from '../../../api/http.ts';
import { PackageRow } from '../../../handoff/PackageRow.tsx';
import { usePackages } from '../../../handoff/usePackages.ts';
import { counted } from '../../../measures.ts';
import { useNotices } from '../../../notices/NoticeProvider.tsx';
import { ruleWords } from '../../page/ruleWords.ts';
import { PanelSection } from '../../PanelSection.tsx';
import { useBench, useBenchState } from '../../state/benchContext.ts';
import { TextRow } from '../../TextRow.tsx';
import { DeliveryRules } from './DeliveryRules.tsx';
import { fileExample } from './nameExamples.ts';
import { ReturnedFiles } from './ReturnedFiles.tsx';
import { Stacking } from './Stacking.tsx';

/** How the page goes out, and what went out already. */
export function HandoffPanel(): ReactNode {
  const page = useBenchState((state) => state.page);
  const cast = useBenchState((state) => state.cast);
  const [chosen, setChosen] = useState('');
  if (page === null || cast === null) return null;
  const rule = cast.deliveries.find(({ id }) => id === chosen) ?? cast.deliveries[0]!;
  return (
    <Box sx={{ overflowY: 'auto', flex: 1 }}>
      <Warnings />
      <DeliveryRules cast={cast} rule={rule} onChoose={setChosen} />
      <Notes />
      <Build rule={rule} pageId={page.id} jobId={page.jobId} />
      <ReturnedFiles pageId={page.id} />
      {hasLayers(rule.format) && rule.layerOrder === 'stack' && rule.layers === 'part' && <Stacking />}
    </Box>
  );
}

/** What is worth knowing before the page goes out. */
function Warnings(): ReactNode {
  const open = useBenchState((state) => state.openRegions.length);
  const palette = useBenchState((state) => state.cast?.palette ?? 'scene');
  const slopePpm = useBenchState((state) => state.survey?.slopePpm ?? 0);
  return (
    <>
      {open > 0 && (
        <Alert severity="warning" sx={{ py: 0 }}>
          {counted(open, 'region')} {open === 1 ? 'has' : 'have'} no part and would be empty.
        </Alert>
      )}
      {palette === 'scratch' && (
        <Alert severity="info" sx={{ py: 0 }}>
          Scratch colours are in use; the hand-off has them and its layers say so.
        </Alert>
      )}
      {slopePpm !== 0 && (
        <Alert severity="info" sx={{ py: 0 }}>
          The page is straightened by {degreesOfSlope(slopePpm).toFixed(2)}°. Line art and flats fit each other and lie
          level; they do not lie as the file that came.
        </Alert>
      )}
    </>
  );
}

/** What is said to who gets the flats. */
function Notes(): ReactNode {
  const bench = useBench();
  const notes = useBenchState((state) => state.document?.notes ?? '');
  return (
    <PanelSection title="Notes of this page">
      <TextRow
        label="To who gets the flats"
        value={notes}
        most={MOST_PAGE_NOTES}
        multiline
        mayBeEmpty
        onSet={(text) =>
          bench.push({ label: 'Change the notes', edits: [{ key: 'notes', value: text === '' ? null : text }] })
        }
      />
    </PanelSection>
  );
}

interface BuildProps {
  readonly rule: DeliveryRule;
  readonly pageId: string;
  readonly jobId: string;
}

function Build({ rule, pageId, jobId }: BuildProps): ReactNode {
  const bench = useBench();
  const { fail } = useNotices();
  const fileName = useBenchState((state) => fileExample(state, rule));
  const jobUnderlapPx = useBenchState((state) => state.cast?.trap.underlapPx ?? 0);
  const [asking, setAsking] = useState(false);
  const { data: packages = [], mutate } = usePackages(jobId);
  const ofPage = packages.filter(({ files }) => files.some((file) => file.pageId === pageId));
  const underlapPx = rule.underlapPx ?? jobUnderlapPx;
  const cannotRun = underlapPx > 0 && hasLayers(rule.format) && !canRunUnder(rule);
  const build = async (): Promise<void> => {
    setAsking(true);
    try {
      await bench.settled();
      await request<PackageView>('POST', `/api/jobs/${jobId}/packages`, { pageIds: [pageId], deliveryId: rule.id });
      await mutate();
    } catch (error) {
      fail(error);
    } finally {
      setAsking(false);
    }
  };
  return (
    <PanelSection title="This page">
      <TrapNote rule={rule} />
      {cannotRun && (
        <Alert severity="error" sx={{ py: 0, my: 0.5 }}>
          Layers run {underlapPx} px under each other, and these layers have none in front of them. Choose one layer a
          part as they are stacked, or set the underlap of the rule to 0.
        </Alert>
      )}
      {!cannotRun && underlapPx > 0 && canRunUnder(rule) && (
        <Typography variant="body2">Layers run {underlapPx} px under those in front of them.</Typography>
      )}
      <Typography variant="caption" color="text.secondary" component="p" sx={{ overflowWrap: 'anywhere', mb: 0.5 }}>
        {fileName}
      </Typography>
      <Button
        variant="contained"
        disabled={asking || cannotRun || ofPage.some(({ state }) => state === 'packing')}
        onClick={() => void build()}
      >
        Build the hand-off
      </Button>{' '}
      <Link to={`/jobs/${jobId}?handoff`} style={{ fontSize: 13 }}>
        Several pages
      </Link>
      {ofPage.length > 0 && (
        <Box component="ul" aria-label="Handed off" sx={{ m: 0, p: 0, listStyle: 'none' }}>
          {ofPage.map((pack) => (
            <PackageRow key={pack.id} pack={pack} pageId={pageId} onChanged={() => void mutate()} />
          ))}
        </Box>
      )}
    </PanelSection>
  );
}

/** How far colour runs under the ink; the rule says it, or the stage before. */
function TrapNote({ rule }: { readonly rule: DeliveryRule }): ReactNode {
  const words = useBenchState(({ document, cast }) =>
    ruleWords(rule.trap ?? document?.trap ?? cast?.trap.rule ?? { rule: 'middle' }),
  );
  const areas = useBenchState((state) => state.document?.areas.size ?? 0);
  const url = useBenchState(({ page }) => (page === null ? '/' : `/jobs/${page.jobId}/pages/${page.id}/trap`));
  return (
    <Typography variant="body2">
      <b>Trap</b> {words}
      {areas > 0 && `, with ${counted(areas, 'area')} of its own`}. <Link to={url}>Change it</Link>
    </Typography>
  );
}
