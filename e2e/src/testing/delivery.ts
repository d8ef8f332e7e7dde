import { expect, type Download, type Page } from '@playwright/test';
import { readFile } from 'node:fs/promises';
import { whenSaved } from './bench.ts';

/** Changes what the chosen delivery rule says, on the stage Hand off. */
export async function setDelivery(page: Page, { format, layers }: { format?: string; layers?: string }): Promise<void> {
  const turn = page.getByRole('button', { name: /^(?:Change|Fold)$/ }).first();
  if ((await turn.textContent()) === 'Change') await turn.click();
  if (format !== undefined) await page.getByLabel('Format', { exact: true }).selectOption({ label: format });
  if (layers !== undefined) await page.getByLabel('Layers', { exact: true }).selectOption({ label: layers });
  await whenSaved(page);
}

/** Builds the hand-off of the page on the bench and downloads its file. */
export async function buildAndDownload(page: Page, name: string | RegExp): Promise<Buffer> {
  await page.getByRole('button', { name: 'Build the hand-off' }).click();
  await expect(page.getByText(/no difference/).first()).toBeVisible({ timeout: 60_000 });
  return saved(page, name);
}

/** Follows the first link of this name and reads what it gives. */
export async function saved(page: Page, name: string | RegExp): Promise<Buffer> {
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name }).first().click({ timeout: 30_000 }),
  ]);
  return contentOf(download);
}

const contentOf = async (download: Download): Promise<Buffer> => readFile(await download.path());
