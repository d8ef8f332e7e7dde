import Box from '@mui/material/Box';
import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';
import type { StageName } from './state/benchState.ts';
import { KEY_ACTIONS, type KeyAction } from './tools/keys.ts';
import { Key } from './Key.tsx';

const GROUP_OF_STAGE: Partial<Record<StageName, KeyAction['group']>> = {
  lineart: 'Line art',
  gaps: 'Gaps',
  flats: 'Flats',
};

interface KeysDialogProps {
  readonly open: boolean;
  /** Its keys come first. */
  readonly stage: StageName;
  readonly onClose: () => void;
}

/** Every key of the bench, on one screen. */
export function KeysDialog({ open, stage, onClose }: KeysDialogProps): ReactNode {
  const all = [...new Set(KEY_ACTIONS.map((action) => action.group))];
  const here = all.filter((group) => group === GROUP_OF_STAGE[stage]);
  const groups = [...here, ...all.filter((group) => !here.includes(group))];
  return (
    <Dialog open={open} onClose={onClose} maxWidth={false} slotProps={{ paper: { sx: { maxWidth: 1220, m: 2 } } }}>
      <DialogTitle sx={{ pb: 1 }}>Keys</DialogTitle>
      <DialogContent sx={{ columnCount: 3, columnGap: 4, fontSize: 12.5, lineHeight: 1.35 }}>
        {groups.map((group) => (
          <Box key={group} component="section" sx={{ mb: 1.5, breakInside: 'avoid' }}>
            <Typography variant="h3" component="h3" sx={{ mb: 0.5 }}>
              {group}
            </Typography>
            <Box component="dl" sx={{ m: 0 }}>
              {KEY_ACTIONS.filter((action) => action.group === group).map(({ keys, words }) => (
                <Box key={`${keys} ${words}`} sx={{ display: 'flex', gap: 1.5, mb: 0.375 }}>
                  <Box component="dt" sx={{ width: 164, flexShrink: 0 }}>
                    <Key>{keys}</Key>
                  </Box>
                  <Box component="dd" sx={{ m: 0 }}>
                    {words}
                  </Box>
                </Box>
              ))}
            </Box>
          </Box>
        ))}
      </DialogContent>
    </Dialog>
  );
}
