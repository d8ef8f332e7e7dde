import type { Row } from '../printTable.ts';
import { measureExamples } from './measureExamples.ts';
import { measureGuide } from './measureGuide.ts';
import { measureMarks } from './measureMarks.ts';
import { measureSilhouettes } from './measureSilhouettes.ts';

/** The Flats stage: how much loops, marks, keys and proposals from done pages get right. */
export async function measureFlats(): Promise<{ title: string; rows: Row[] }> {
  return {
    title: "Flats on the demo's pages",
    rows: [
      ...(await measureSilhouettes()),
      ...(await measureMarks()),
      ...(await measureGuide()),
      ...(await measureExamples()),
    ],
  };
}
