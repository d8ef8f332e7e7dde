import type { Row } from '../printTable.ts';
import { measureExamples } from './measureExamples.ts';
import { measureKey } from './measureKey.ts';
import { measureMarks } from './measureMarks.ts';
import { measureSchools } from './measureSchools.ts';

/** The Flats stage: how much marks and keys get right, and what a page costs with each way of working. */
export async function measureFlats(): Promise<{ title: string; rows: Row[] }> {
  return {
    title: "Flats on the demo's pages",
    rows: [
      ...(await measureMarks()),
      ...(await measureKey()),
      ...(await measureExamples()),
      ...(await measureSchools()),
    ],
  };
}
