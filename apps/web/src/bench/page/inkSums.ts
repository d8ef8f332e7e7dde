import { formatColour, parseColour, type CastSheet } from '@jumble/core';
import { getJson } from '../../api/http.ts';

/** The profile that counts: that of the first delivery rule in CMYK; null is the generic one. */
export function printProfile({ deliveries }: CastSheet): string | null {
  return deliveries.find(({ colours }) => colours === 'cmyk')?.profile ?? null;
}

/** Where the inks of a job's colours are. @param revision changes with the colours. */
export function inksUrl(jobId: string, cast: CastSheet, revision: number | string): string {
  const profile = printProfile(cast);
  return `/api/jobs/${jobId}/cast/inks?${profile === null ? '' : `profile=${profile}&`}of=${revision}`;
}

/** Inks in percent by colour. */
export type Inks = Readonly<Record<string, readonly number[]>>;

export const loadInks = (jobId: string, cast: CastSheet, revision: number | string): Promise<Inks> =>
  getJson<Inks>(inksUrl(jobId, cast, revision));

/** All four inks of a colour together, in percent; null where nobody knows. */
export function inkSum(inks: Inks, colour: string): number | null {
  const own = inks[colour] ?? inks[formatColour(parseColour(colour))];
  return own === undefined ? null : Math.round(own.reduce((sum, ink) => sum + ink, 0));
}
