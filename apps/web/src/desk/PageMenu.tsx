import type { PageView } from '@jumble/contracts';
import MoreHorizIcon from '@mui/icons-material/MoreHoriz';
import IconButton from '@mui/material/IconButton';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useRef, useState, type ReactNode } from 'react';
import { request, uploadFile } from '../api/http.ts';
import { counted } from '../measures.ts';
import { AskOnce } from '../notices/AskOnce.tsx';
import { NameDialog } from '../notices/NameDialog.tsx';
import { useNotices } from '../notices/NoticeProvider.tsx';
import { tones } from '../theme.ts';
import type { PageCardProps } from './PageCard.tsx';

interface PageMenuProps extends Omit<PageCardProps, 'number'> {
  /** Its revised line art is on the way, or is there. */
  readonly onReplacing: (replacing: boolean) => void;
}

/** What can be done to a page as a whole. */
export function PageMenu(props: PageMenuProps): ReactNode {
  const { page, onChanged, onMoveEarlier, onMoveLater, onAskResolution, onReplacing } = props;
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [asking, setAsking] = useState(false);
  const [renaming, setRenaming] = useState(false);
  const revised = useRef<HTMLInputElement>(null);
  const { fail, say } = useNotices();
  const pick = (action: () => void) => () => {
    setAnchor(null);
    action();
  };
  const replace = async (file: File): Promise<void> => {
    onReplacing(true);
    try {
      await uploadFile<PageView>(
        'PUT',
        `/api/pages/${page.id}/file`,
        file,
        () => undefined,
        new AbortController().signal,
      );
      say(`"${page.name}" has its revised line art. Its fills are kept.`, 'success');
      onChanged();
    } catch (error) {
      fail(error);
    } finally {
      onReplacing(false);
    }
  };
  return (
    <>
      <IconButton
        aria-label={`More about ${page.name}`}
        onClick={(event) => setAnchor(event.currentTarget)}
        sx={{ position: 'absolute', right: 2, top: 2, p: 0.25, bgcolor: tones.sheet, zIndex: 1 }}
      >
        <MoreHorizIcon fontSize="small" />
      </IconButton>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        <MenuItem onClick={pick(() => setRenaming(true))}>Rename …</MenuItem>
        <MenuItem onClick={pick(onMoveEarlier ?? (() => undefined))} disabled={onMoveEarlier === undefined}>
          Move earlier
        </MenuItem>
        <MenuItem onClick={pick(onMoveLater ?? (() => undefined))} disabled={onMoveLater === undefined}>
          Move later
        </MenuItem>
        <MenuItem onClick={pick(onAskResolution)}>Resolution …</MenuItem>
        <MenuItem onClick={pick(() => revised.current?.click())}>Replace with revised line art …</MenuItem>
        <MenuItem component="a" href={`/api/pages/${page.id}/file`} onClick={() => setAnchor(null)}>
          Download the original file
        </MenuItem>
        <MenuItem onClick={pick(() => setAsking(true))} sx={{ color: 'error.main' }}>
          Delete …
        </MenuItem>
      </Menu>
      <input
        ref={revised}
        type="file"
        hidden
        aria-label={`Revised line art for ${page.name}`}
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = '';
          if (file !== undefined) void replace(file);
        }}
      />
      {renaming && (
        <NameDialog
          title="Rename"
          name={page.name}
          action="Rename"
          onClose={() => setRenaming(false)}
          onName={(name) => void request('PATCH', `/api/pages/${page.id}`, { name }).then(onChanged, fail)}
        />
      )}
      <AskOnce
        open={asking}
        title={`Delete "${page.name}"?`}
        text={`The page with its ${counted(page.filledCount, 'filled region')}, its history and its hand-offs is lost. This cannot be undone.`}
        action="Delete the page"
        onClose={() => setAsking(false)}
        onConfirm={() => void request('DELETE', `/api/pages/${page.id}`).then(onChanged, fail)}
      />
    </>
  );
}
