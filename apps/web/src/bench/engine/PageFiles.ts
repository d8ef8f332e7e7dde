import { unpackCuts, type StoredCuts } from '@jumble/core';
import { problemOf } from '../../api/http.ts';

/** The rasters of a page's files, by address: settings change more often than files. */
export class PageFiles {
  private readonly rasters = new Map<string, Uint8Array>();

  constructor(private readonly allocate: (bytes: number) => ArrayBufferLike) {}

  /** Grey raster of a file, one byte a pixel. @throws Error with the server's words. */
  async rasterAt(url: string): Promise<Uint8Array> {
    const known = this.rasters.get(url);
    if (known !== undefined) return known;
    const response = await fetch(url);
    if (!response.ok) throw await problemOf(response);
    const bytes = await response.arrayBuffer();
    // Shared with the drawing worker, which shows it beside the result.
    const data = new Uint8Array(this.allocate(bytes.byteLength));
    data.set(new Uint8Array(bytes));
    this.rasters.set(url, data);
    return data;
  }

  /** Drops the rasters of files that the page no longer has. */
  keepOnly(urls: readonly string[]): void {
    for (const url of this.rasters.keys()) if (!urls.includes(url)) this.rasters.delete(url);
  }
}

/** Gaps that were found before; null where they cannot be had: they are found again. */
export async function cutsAt(url: string, pixels: number): Promise<StoredCuts | null> {
  try {
    const response = await fetch(url);
    return response.ok ? unpackCuts(await response.text(), pixels) : null;
  } catch {
    return null;
  }
}
