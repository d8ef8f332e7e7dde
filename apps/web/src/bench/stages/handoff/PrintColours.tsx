import type { ProfileView } from '@jumble/contracts';
import { hasCmyk, type DeliveryRule } from '@jumble/core';
import Button from '@mui/material/Button';
import { useRef, type ReactNode } from 'react';
import useSWR from 'swr';
import { uploadFile } from '../../../api/http.ts';
import { useNotices } from '../../../notices/NoticeProvider.tsx';
import { ChoiceRow } from '../../ChoiceRow.tsx';
import { useBenchState } from '../../state/benchContext.ts';

export interface PrintColoursProps {
  readonly rule: DeliveryRule;
  readonly set: (label: string, change: Partial<DeliveryRule>) => void;
}

/** RGB, or the colours of a printer by its profile. */
export function PrintColours({ rule, set }: PrintColoursProps): ReactNode {
  const { fail } = useNotices();
  const jobId = useBenchState((state) => state.page?.jobId ?? null);
  const file = useRef<HTMLInputElement>(null);
  const { data: profiles = [], mutate } = useSWR<ProfileView[], Error>(
    jobId === null ? null : `/api/jobs/${jobId}/profiles`,
  );
  if (!hasCmyk(rule.format) || jobId === null) return null;
  const add = async (chosen: File): Promise<void> => {
    try {
      const url = `/api/jobs/${jobId}/profiles`;
      const { id, name } = await uploadFile<ProfileView>('POST', url, chosen, () => undefined, new AbortController().signal); // prettier-ignore
      await mutate();
      set(`printed by ${name}`, { profile: id });
    } catch (error) {
      fail(error);
    }
  };
  return (
    <>
      <ChoiceRow
        label="Colours"
        value={rule.colours}
        options={[
          ['rgb', 'RGB'],
          ['cmyk', 'CMYK, line art in black alone'],
        ]}
        onSet={(colours) => set(colours.toUpperCase(), { colours })}
      />
      {rule.colours === 'cmyk' && (
        <>
          <ChoiceRow
            label="Profile"
            value={rule.profile ?? ''}
            options={[['', 'a generic press'], ...profiles.map(({ id, name }): [string, string] => [id, name])]}
            onSet={(id) => set('profile', { profile: id === '' ? null : id })}
          />
          <Button onClick={() => file.current?.click()}>Add a printer&apos;s profile (ICC)</Button>
          <input
            ref={file}
            type="file"
            accept=".icc,.icm"
            hidden
            aria-label="Profile file"
            onChange={(event) => {
              const [chosen] = event.target.files ?? [];
              if (chosen !== undefined) void add(chosen);
              event.target.value = '';
            }}
          />
        </>
      )}
    </>
  );
}
