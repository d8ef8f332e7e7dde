import {
  KIND_WORDS,
  editJobChecks,
  severityOf,
  SEVERITIES,
  type FindingKind,
  type JobChecks,
  type Severity,
} from '@jumble/core';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';
import { counted } from '../../../measures.ts';
import { tones } from '../../../theme.ts';
import { ChoiceRow } from '../../ChoiceRow.tsx';
import { Key } from '../../Key.tsx';
import { PanelSection } from '../../PanelSection.tsx';
import { NumberField } from '../../NumberField.tsx';
import { useBench, useBenchState } from '../../state/benchContext.ts';
import { certify } from './certificate.ts';
import { openFindings } from './findings.ts';
import { KINDS_OF_PAGES, SEVERITY_WORDS } from './findingWords.ts';

/** The page's certificate, and what the pages of the job are checked by. */
export function CheckRules(): ReactNode {
  const bench = useBench();
  const checks = useBenchState((state) => state.cast?.checks);
  if (checks === undefined) return null;
  const change = (label: string, next: Partial<JobChecks>): void =>
    bench.changeCast(label, [editJobChecks({ ...checks, ...next })]);
  const weigh = (kind: FindingKind, severity: Severity): void =>
    change(`${KIND_WORDS[kind]}: ${SEVERITY_WORDS[severity]}`, {
      severities: { ...checks.severities, [kind]: severity },
    });
  return (
    <Box sx={{ overflowY: 'auto', flex: 1, pb: 1.5 }}>
      <CertificateOfPage />
      <PanelSection title="In the whole job">
        {KINDS_OF_PAGES.map((kind) => (
          <ChoiceRow
            key={kind}
            label={KIND_WORDS[kind]}
            value={severityOf(checks, kind)}
            options={SEVERITIES.map((severity) => [severity, SEVERITY_WORDS[severity]])}
            onSet={(severity) => weigh(kind, severity)}
          />
        ))}
        <NumberField
          label="Near colours: below CIEDE2000"
          value={checks.nearColours}
          least={0}
          most={100}
          onSet={(nearColours) => change(`Colours are near below ${nearColours}`, { nearColours })}
        />
        <NumberField
          label="Least resolution, in dpi (0: any)"
          value={checks.minDpi ?? 0}
          least={0}
          most={10_000}
          onSet={(dpi) => change(`Least resolution ${dpi} dpi`, { minDpi: dpi === 0 ? null : dpi })}
        />
        <NumberField
          label="Most ink, in percent (0: any)"
          value={checks.inkLimitPercent ?? 0}
          least={0}
          most={400}
          onSet={(most) => change(`Most ink ${most} %`, { inkLimitPercent: most === 0 ? null : most })}
        />
      </PanelSection>
    </Box>
  );
}

/** When, by what and for what content the page was found to be without faults. */
function CertificateOfPage(): ReactNode {
  const bench = useBench();
  const certificate = useBenchState((state) => state.document?.certificate ?? null);
  const holds = useBenchState((state) => state.certified);
  const mayCertify = useBenchState(
    (state) => state.findings !== null && !state.checking && openFindings(state).length === 0,
  );
  return (
    <Box
      component="section"
      aria-label="Certificate"
      sx={{ px: 1.25, py: 1, bgcolor: '#fff', borderBottom: `1px solid ${tones.line}` }}
    >
      {certificate === null ? (
        <Typography variant="body2">This page has no certificate yet.</Typography>
      ) : (
        <>
          <Typography variant="body2">
            <b>{holds === true ? 'Certified' : holds === false ? 'No longer certified' : 'Certificate'}</b>
          </Typography>
          <Typography variant="caption" color="text.secondary" component="p">
            {holds === false && 'Something was changed since. '}
            Checked {new Date(certificate.at).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' })},
            engine {certificate.engine}, {counted(certificate.waived, 'finding')} waived, content{' '}
            {certificate.content.slice(0, 12)}
          </Typography>
        </>
      )}
      <Button
        variant="contained"
        sx={{ mt: 0.75 }}
        disabled={!mayCertify || holds === true}
        onClick={() => void certify(bench)}
      >
        Certify the page
      </Button>{' '}
      <Typography variant="caption" color="text.secondary">
        <Key>c</Key>
      </Typography>
    </Box>
  );
}
