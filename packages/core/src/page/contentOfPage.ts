import type { Records } from '../model/records.ts';
import { serialiseRecords } from './records.ts';

/** What says something about work, not about the page. */
const BESIDE = /^(certificate$|notes$|seen\/)/;
/** What says how flats go out, not what they are. */
const DELIVERED = /^delivery\//;

/** One text for all that the flats of a page come from: two pages with the same text have the same flats. */
export function contentOfPage(greyHash: string, page: Records, cast: Records): string {
  const own = new Map([...page].filter(([key]) => !BESIDE.test(key)));
  const sheet = new Map([...cast].filter(([key]) => !DELIVERED.test(key)));
  return JSON.stringify([greyHash, serialiseRecords(own), serialiseRecords(sheet)]);
}
