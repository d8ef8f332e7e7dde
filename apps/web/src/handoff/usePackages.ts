import type { PackageView } from '@jumble/contracts';
import useSWR, { type SWRResponse } from 'swr';

/** What was handed off: of a job, or of all; looked at anew while something is packed. */
export function usePackages(jobId: string | null): SWRResponse<PackageView[], Error> {
  return useSWR<PackageView[], Error>(jobId === null ? '/api/packages' : `/api/jobs/${jobId}/packages`, {
    refreshInterval: (latest) => (latest?.some((one) => one.state === 'packing') === true ? 400 : 0),
  });
}
