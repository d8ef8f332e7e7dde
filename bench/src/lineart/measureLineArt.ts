import type { Row } from '../printTable.ts';
import { measureLayout } from './measureLayout.ts';
import { measureVerdicts } from './measureVerdicts.ts';

/** The Line art stage: panels, angles and verdicts on drawings whose truth is known. */
export async function measureLineArt(): Promise<{ title: string; rows: Row[] }> {
  return { title: 'Line art', rows: [...(await measureLayout()), ...(await measureVerdicts())] };
}
