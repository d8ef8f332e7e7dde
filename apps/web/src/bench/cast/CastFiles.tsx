import type { AppendedView } from '@jumble/contracts';
import Button from '@mui/material/Button';
import Divider from '@mui/material/Divider';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useRef, useState, type ReactNode } from 'react';
import { request } from '../../api/http.ts';
import { useNotices } from '../../notices/NoticeProvider.tsx';
import { useBench, useBenchState } from '../state/benchContext.ts';

/** The cast sheet as a file: read from one, written to one, printed. */
export function CastFiles(): ReactNode {
  const bench = useBench();
  const jobId = useBenchState((state) => state.page?.jobId ?? null);
  const { say } = useNotices();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const base = `/api/jobs/${jobId ?? ''}/cast`;
  const load = async (file: File | undefined): Promise<void> => {
    if (file === undefined) return;
    try {
      await bench.settled();
      const { step } = await request<AppendedView>('POST', `${base}/import`, { text: await file.text() });
      bench.takeCastStep(step);
      say(`${file.name} is part of the cast sheet now. Undo takes it back.`);
    } catch (error) {
      say((error as Error).message, 'error');
    }
  };
  return (
    <>
      <Button sx={{ ml: 0.75, mt: 0.5 }} onClick={(event) => setAnchor(event.currentTarget)}>
        Files …
      </Button>
      <input
        ref={input}
        type="file"
        accept=".csv,.json,text/csv,application/json"
        hidden
        aria-label="Cast file"
        onChange={(event) => {
          void load(event.target.files?.[0]);
          event.target.value = '';
        }}
      />
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        <MenuItem
          onClick={() => {
            setAnchor(null);
            input.current?.click();
          }}
        >
          Import a cast file (CSV, JSON) …
        </MenuItem>
        <Divider />
        {(
          [
            ['colours.csv', 'Save as CSV'],
            ['colours.json', 'Save as JSON'],
            ['sheet.pdf', 'Print: PDF with swatches'],
          ] as const
        ).map(([file, words]) => (
          <MenuItem key={file} component="a" href={`${base}/${file}`} download onClick={() => setAnchor(null)}>
            {words}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
