import { contentOfPage, CUTS_VERSION, editCertificate, type Certificate } from '@jumble/core';
import { counted } from '../../../measures.ts';
import type { Bench } from '../../state/Bench.ts';
import { openFindings } from './findings.ts';

/** How often it was asked whether the certificate holds: only the last answer counts. */
const asked = new WeakMap<Bench, number>();

/** SHA-256 of all that the page's flats come from, in hexadecimal; null while it is not loaded. */
async function hashOfContent(bench: Bench): Promise<string | null> {
  const { page } = bench.state;
  const [own, cast] = [bench.syncOf('page')?.records, bench.syncOf('cast')?.records];
  if (page === null || own === undefined || cast === undefined) return null;
  const text = contentOfPage(page.greyHash, own, cast);
  const digest = await crypto.subtle.digest('SHA-256', new TextEncoder().encode(text));
  return [...new Uint8Array(digest)].map((byte) => byte.toString(16).padStart(2, '0')).join('');
}

/** Sees whether the page's certificate still holds: any edit since voids it. */
export function followCertificate(bench: Bench): void {
  const certificate = bench.state.document?.certificate ?? null;
  const question = (asked.get(bench) ?? 0) + 1;
  asked.set(bench, question);
  if (certificate === null) {
    if (bench.state.certified !== null) bench.set({ certified: null });
    return;
  }
  void hashOfContent(bench).then((content) => {
    if (content === null || asked.get(bench) !== question) return;
    bench.set({ certified: content === certificate.content && certificate.engine === CUTS_VERSION });
  });
}

/** Certifies a page without open findings, as one step. @returns false where there are some, or the page was not checked. */
export async function certify(bench: Bench): Promise<boolean> {
  const open = openFindings(bench.state).length;
  if (open > 0)
    bench.fail(new Error(`${counted(open, 'finding')} to settle first: a certificate is for a page without any.`));
  if (bench.state.findings === null || bench.state.checking || open > 0) return false;
  await bench.settled();
  const content = await hashOfContent(bench);
  const { cast, document: page, findings } = bench.state;
  if (content === null || cast === null || page === null || findings === null) return false;
  const certificate: Certificate = {
    at: new Date().toISOString(),
    content,
    engine: CUTS_VERSION,
    checks: cast.checks,
    waived: page.waivers.size,
  };
  bench.push({ label: 'Certify the page', edits: [editCertificate(certificate)] });
  return true;
}
