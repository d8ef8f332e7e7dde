import { Comparison } from './Comparison.ts';
import type { ExpectedPage, ReadBackReport } from './ExpectedPage.ts';
import { readFolder } from './readFolder.ts';
import { readOpenRaster } from './readOpenRaster.ts';
import { readPdf } from './readPdf.ts';
import { readPalettePng } from './readPng.ts';
import { readSvg } from './readSvg.ts';
import { readTiff, type SampleSums } from './readTiff.ts';

/**
 * Reads a finished file again, by code that shares nothing with what wrote it, and compares it with the page pixel by pixel; in
 * CMYK with the samples that were written.
 *
 * @param sums checksums of the samples in CMYK by page; null for RGB.
 * @throws ReadBackError that names the first difference; whatever a decoder says of a damaged file.
 */
export async function readBack(
  path: string,
  format: 'ora' | 'tif' | 'folder' | 'png' | 'svg' | 'pdf',
  expected: ExpectedPage,
  sums: SampleSums | null,
): Promise<ReadBackReport> {
  const compared = new Comparison(expected);
  if (format === 'ora') await readOpenRaster(path, compared);
  else if (format === 'tif') await readTiff(path, compared, sums);
  else if (format === 'folder') await readFolder(path, compared);
  else if (format === 'svg') await readSvg(path, compared);
  else if (format === 'pdf') await readPdf(path, compared, sums === null ? null : (sums.get(0) ?? -1));
  else compared.picture('the flats', await readPalettePng(path), compared.flatsWord());
  return compared.report();
}
