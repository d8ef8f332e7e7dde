import type { PageView } from '@jumble/contracts';
import type { PageEntity } from '../database/entities.ts';

export function pageView(page: PageEntity): PageView {
  const { id, jobId, name, position, width, height, dpi, fileName, format, mode, bitsPerChannel } = page;
  const { greyHash, regionCount, filledCount, revision, thumbnailHash } = page;
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
    regionCount,
    filledCount,
    revision,
    thumbnailHash,
  };
}
