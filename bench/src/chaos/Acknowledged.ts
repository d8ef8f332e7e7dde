/** What the server said that it has stored: it must be there whatever happens next. */
export class Acknowledged {
  /** Page id to the hash of its original. */
  readonly pages = new Map<string, string>();
  readonly deletedPages = new Set<string>();
  /** Document (`pages/ID` or `jobs/ID/cast`) to keys that it must hold. */
  readonly keys = new Map<string, Set<string>>();
  /** Hand-offs that were ready. */
  readonly handoffs = new Map<string, { readonly pageId: string }>();
  /** Job id to names of parts that were imported. */
  readonly parts = new Map<string, Set<string>>();
  steps = 0;
  others = 0;

  keep(document: string, key: string): void {
    const keys = this.keys.get(document) ?? new Set();
    this.keys.set(document, keys.add(key));
    this.steps++;
  }

  /** From here on nobody knows whether the page is there. */
  forget(pageId: string): void {
    this.pages.delete(pageId);
    this.keys.delete(`pages/${pageId}`);
    for (const [id, handoff] of this.handoffs) if (handoff.pageId === pageId) this.handoffs.delete(id);
  }
}
