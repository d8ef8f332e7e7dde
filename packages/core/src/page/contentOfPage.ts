import type { Records } from '../model/records.ts';
import { serialiseRecords } from './records.ts';

/** What says something about work, not about the page. */
const BESIDE = /^(certificate$|seen\/)/;

/** One text for all that the flats of a page come from: two pages with the same text have the same flats. */
export function contentOfPage(greyHash: string, page: Records, cast: Records): string {
  const own = new Map([...page].filter(([key]) => !BESIDE.test(key)));
  return JSON.stringify([greyHash, serialiseRecords(own), serialiseRecords(cast)]);
}
