import type { InkFileView, PageView } from '@jumble/contracts';
import { editInkFile, MAIN_INK, type InkFile } from '@jumble/core';
import CloseIcon from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import IconButton from '@mui/material/IconButton';
import InputBase from '@mui/material/InputBase';
import Typography from '@mui/material/Typography';
import { useRef, useState, type ReactNode } from 'react';
import { request, uploadFile } from '../../../api/http.ts';
import { AskOnce } from '../../../notices/AskOnce.tsx';
import { useNotices } from '../../../notices/NoticeProvider.tsx';
import { useBench, useBenchState } from '../../state/benchContext.ts';
import { takePage } from '../../page/reading.ts';

/** The files the ink of this page is in; all print, those that are ticked bound regions. */
export function InkFiles(): ReactNode {
  const bench = useBench();
  const { fail } = useNotices();
  const page = useBenchState((state) => state.page);
  const inks = useBenchState((state) => state.document?.inks);
  const input = useRef<HTMLInputElement>(null);
  const [busy, setBusy] = useState(false);
  const [leaving, setLeaving] = useState<InkFileView | null>(null);
  if (page === null || inks === undefined) return null;

  const add = async (file: File): Promise<void> => {
    setBusy(true);
    try {
      const url = `/api/pages/${page.id}/inks`;
      takePage(bench, await uploadFile<PageView>('POST', url, file, () => undefined, new AbortController().signal));
    } catch (error) {
      fail(error);
    } finally {
      setBusy(false);
    }
  };
  const remove = (ink: InkFileView): void => {
    request<PageView>('DELETE', `/api/pages/${page.id}/inks/${ink.id}`).then((next) => takePage(bench, next), fail);
  };
  const rows = [
    { id: MAIN_INK, fileName: page.fileName, ink: null as InkFileView | null },
    ...page.inks.map((ink) => ({ id: ink.id, fileName: ink.fileName, ink })),
  ]
    .map((row, k) => ({ ...row, known: inks.get(row.id) ?? { name: nameOf(row.fileName), order: k, bounds: true } }))
    .sort((a, b) => a.known.order - b.known.order);
  const set = (id: string, file: InkFile, label: string): void => bench.push({ label, edits: [editInkFile(id, file)] });
  /** Changes places with the file before. */
  const raise = (at: number): void => {
    const [above, here] = [rows[at - 1]!, rows[at]!];
    bench.push({
      label: `Put ${here.known.name} before ${above.known.name}`,
      edits: [
        editInkFile(here.id, { ...here.known, order: at - 1 }),
        ...rows.flatMap((row, k) =>
          k === at ? [] : [editInkFile(row.id, { ...row.known, order: k < at - 1 ? k : k === at - 1 ? at : k })],
        ),
      ],
    });
  };
  return (
    <>
      {rows.map(({ id, known, ink }, k) => (
        <Box key={id} sx={{ display: 'flex', alignItems: 'center' }}>
          <Checkbox
            size="small"
            checked={known.bounds}
            onChange={(_, bounds) =>
              set(
                id,
                { ...known, bounds },
                bounds ? `Let ${known.name} bound regions` : `Leave ${known.name} out of the regions`,
              )
            }
            slotProps={{ input: { 'aria-label': `${known.name} bounds regions` } }}
            sx={{ p: 0.5 }}
          />
          <InputBase
            key={known.name}
            defaultValue={known.name}
            onBlur={(event) => {
              const name = event.target.value.trim();
              if (name !== '' && name !== known.name) set(id, { ...known, name }, `Call the ink file ${name}`);
            }}
            onKeyDown={(event) => {
              if (event.key === 'Enter') (event.target as HTMLInputElement).blur();
            }}
            inputProps={{ 'aria-label': 'Name of the ink file', maxLength: 80 }}
            sx={{ flex: 1, fontSize: 13, minWidth: 0 }}
          />
          {k > 0 && (
            <Button sx={{ minWidth: 0, px: 0.75 }} onClick={() => raise(k)} aria-label={`Put ${known.name} earlier`}>
              earlier
            </Button>
          )}
          {ink !== null && (
            <IconButton aria-label={`Remove ${known.name}`} onClick={() => setLeaving(ink)}>
              <CloseIcon sx={{ fontSize: 16 }} />
            </IconButton>
          )}
        </Box>
      ))}
      <Typography variant="caption" color="text.secondary" component="p">
        All print; regions end at the ticked ones.
      </Typography>
      <input
        ref={input}
        type="file"
        hidden
        accept=".png,.tif,.tiff,.jpg,.jpeg,.gif,.webp"
        aria-label="Further ink file"
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          event.target.value = '';
          if (file !== undefined) void add(file);
        }}
      />
      <Button disabled={busy} onClick={() => input.current?.click()}>
        {busy ? 'Is added …' : 'Add an ink file'}
      </Button>
      <AskOnce
        open={leaving !== null}
        title="Remove this ink file?"
        text={`${leaving?.fileName ?? ''} is taken off the page and deleted. Fills stay; regions it bounded join.`}
        action="Remove"
        onClose={() => setLeaving(null)}
        onConfirm={() => leaving !== null && remove(leaving)}
      />
    </>
  );
}

function nameOf(fileName: string): string {
  return fileName.replace(/\.[^.]*$/, '').slice(0, 80) || 'Ink';
}
