import type { DocumentView } from '@jumble/contracts';
import { editHold, holdsInOrder, readPageDocument, type Records } from '@jumble/core';
import { getJson, request } from '../../../api/http.ts';
import type { Bench } from '../../state/Bench.ts';

/**
 * Copies the rules of a page behind those of others, one step on each. Rules that point at places of this page stay.
 *
 * @returns how many rules were copied to each.
 */
export async function copyRules(bench: Bench, pageIds: readonly string[]): Promise<number> {
  const rules = holdsInOrder(bench.state.document!).filter(({ lines }) => !('at' in lines) && !('within' in lines));
  if (rules.length === 0) return 0;
  for (const pageId of pageIds) {
    const { revision, records } = await getJson<DocumentView>(`/api/pages/${pageId}/document`);
    const page = readPageDocument(new Map(records) as Records);
    const first = Math.max(-1, ...[...page.holds.values()].map(({ order }) => order)) + 1;
    const edits = rules.map(({ id: _, ...rule }, k) => editHold(crypto.randomUUID(), { ...rule, order: first + k }));
    await request('POST', `/api/pages/${pageId}/edits`, {
      baseRevision: revision,
      label: `Copy rules of lines from ${bench.state.page?.name ?? 'another page'}`,
      edits,
    });
  }
  return rules.length;
}
