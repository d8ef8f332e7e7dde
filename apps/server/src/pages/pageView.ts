import type { PageView } from '@jumble/contracts';
import type { PageEntity, PageInkEntity } from '../database/entities.ts';

export function pageView(page: PageEntity): PageView {
  const { id, jobId, name, position, width, height, dpi, fileName, format, mode, bitsPerChannel } = page;
  const { greyHash, previousGreyHash, regionCount, filledCount, revision, thumbnailHash } = page;
  return {
    id,
    jobId,
    name,
    position,
    width,
    height,
    dpi,
    fileName,
    format,
    mode,
    bitsPerChannel,
    greyHash,
    previousGreyHash,
    inks: inksOf(page).map(({ id, fileName, format, mode, greyHash }) => ({ id, fileName, format, mode, greyHash })),
    cuts: page.cutsHash === null ? null : { hash: page.cutsHash, cacheKey: page.cutsCacheKey! },
    full: page.fullGreyHash === null ? null : { width: page.fullWidth!, height: page.fullHeight! },
    regionCount,
    filledCount,
    revision,
    thumbnailHash,
  };
}

/** The further ink files of a page, in the order they were added. */
export function inksOf(page: PageEntity): PageInkEntity[] {
  return [...page.inks].sort((a, b) =>
    a.createdAt < b.createdAt ? -1 : a.createdAt > b.createdAt ? 1 : a.id < b.id ? -1 : 1,
  );
}
