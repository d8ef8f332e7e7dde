import type { PageView } from '@jumble/contracts';
import { useCallback, useRef, useState } from 'react';
import { uploadFile } from '../api/http.ts';

export interface Upload {
  readonly id: number;
  readonly name: string;
  readonly share: number;
  readonly state: 'waiting' | 'sending' | 'reading' | 'failed';
  readonly problem: string | null;
}

export interface Uploads {
  readonly list: readonly Upload[];
  readonly add: (files: readonly File[]) => void;
  readonly cancel: (id: number) => void;
  readonly dismiss: (id: number) => void;
}

/** Sends files one after the other, so that they keep their order; a bad one does not stop the rest. */
export function useUploads(jobId: string, onAdded: (page: PageView) => void): Uploads {
  const [list, setList] = useState<readonly Upload[]>([]);
  const tail = useRef<Promise<void>>(Promise.resolve());
  const aborts = useRef(new Map<number, AbortController>());
  const next = useRef(1);
  const change = useCallback(
    (id: number, part: Partial<Upload>) =>
      setList((all) => all.map((one) => (one.id === id ? { ...one, ...part } : one))),
    [],
  );
  const drop = useCallback((id: number) => setList((all) => all.filter((one) => one.id !== id)), []);

  const add = useCallback(
    (files: readonly File[]) => {
      for (const file of files) {
        const id = next.current++;
        const abort = new AbortController();
        aborts.current.set(id, abort);
        setList((all) => [...all, { id, name: file.name, share: 0, state: 'waiting', problem: null }]);
        tail.current = tail.current.then(async () => {
          if (abort.signal.aborted) return drop(id);
          change(id, { state: 'sending' });
          try {
            const url = `/api/jobs/${jobId}/pages`;
            const onShare = (share: number): void => change(id, { share, state: share < 1 ? 'sending' : 'reading' });
            onAdded(await uploadFile<PageView>('POST', url, file, onShare, abort.signal));
            drop(id);
          } catch (error) {
            if (abort.signal.aborted) drop(id);
            else change(id, { state: 'failed', problem: (error as Error).message });
          } finally {
            aborts.current.delete(id);
          }
        });
      }
    },
    [jobId, onAdded, change, drop],
  );
  const cancel = useCallback((id: number) => aborts.current.get(id)?.abort(), []);
  return { list, add, cancel, dismiss: drop };
}
