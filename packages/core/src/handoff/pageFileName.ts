import type { DeliveryRule } from '../model/Delivery.ts';
import { fillPattern } from '../model/fillPattern.ts';
import { plainFileName } from './plainFileName.ts';

/** What names of files are made of. */
export interface NamedPage {
  readonly job: string;
  readonly page: string;
  /** Place in the job, from 1. */
  readonly number: number;
  readonly scene: string;
  readonly revision: number;
  readonly palette: 'scene' | 'scratch';
  /** `YYYY-MM-DD` */
  readonly date: string;
}

/** The name of a page's file by the pattern of a rule, without its ending. Scratch colours are always told. */
export function pageFileName(rule: Pick<DeliveryRule, 'fileName' | 'colours'>, page: NamedPage): string {
  const isScratch = page.palette === 'scratch';
  const name = fillPattern(rule.fileName, {
    job: plainFileName(page.job),
    page: plainFileName(page.page),
    number: String(page.number).padStart(2, '0'),
    scene: plainFileName(page.scene),
    colours: isScratch ? 'scratch' : rule.colours,
    revision: `r${page.revision}`,
    date: page.date,
  });
  return plainFileName(isScratch && !rule.fileName.includes('{colours}') ? `${name}_scratch` : name);
}
