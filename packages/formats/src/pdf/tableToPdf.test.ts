import { expect, test } from '@jest/globals';
import { PDFDocument } from 'pdf-lib';
import { tableToPdf } from './tableToPdf.ts';

test('a table goes on over pages, whatever its texts are', async () => {
  const columns = [
    { field: 'day', share: 1 },
    { field: 'what', share: 3 },
  ];
  const rows = Array.from({ length: 90 }, (_, k) => ({ day: k, what: `七 ${'a very long word '.repeat(20)}` }));
  const pdf = await PDFDocument.load(await tableToPdf('Time of Night tram', columns, rows));
  expect(pdf.getPageCount()).toBe(3);
  expect(pdf.getTitle()).toBe('Time of Night tram');
  expect(pdf.getPage(0).getWidth()).toBeGreaterThan(pdf.getPage(0).getHeight());
  expect((await PDFDocument.load(await tableToPdf('Nothing', columns, []))).getPageCount()).toBe(1);
});
