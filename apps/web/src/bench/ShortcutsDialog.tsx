import Box from '@mui/material/Box';
import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';
import type { StageName } from './state/benchState.ts';
import { STAGES } from './stages/stages.ts';
import { COMMON_SHORTCUTS } from './tools/shortcuts.ts';
import { Key } from './Key.tsx';

interface ShortcutsDialogProps {
  readonly open: boolean;
  /** Its keys come first. */
  readonly stage: StageName;
  readonly onClose: () => void;
}

/** Every key of the bench, on one screen. */
export function ShortcutsDialog({ open, stage, onClose }: ShortcutsDialogProps): ReactNode {
  const ofStages = [...STAGES].sort((a, b) => Number(b.name === stage) - Number(a.name === stage));
  const groups = [
    ...ofStages.flatMap(({ label, keys }) => (keys.length === 0 ? [] : [[label, keys] as const])),
    ...Object.entries(COMMON_SHORTCUTS),
  ];
  return (
    <Dialog open={open} onClose={onClose} maxWidth={false} slotProps={{ paper: { sx: { maxWidth: 1260, m: 1 } } }}>
      <DialogTitle sx={{ pb: 1 }}>Keys</DialogTitle>
      <DialogContent sx={{ columnCount: 4, columnGap: 2.5, fontSize: 12, lineHeight: 1.3 }}>
        {groups.map(([group, actions]) => (
          <Box key={group} component="section" sx={{ mb: 1.25 }}>
            <Typography variant="h3" component="h3" sx={{ mb: 0.5, breakAfter: 'avoid' }}>
              {group}
            </Typography>
            <Box component="dl" sx={{ m: 0 }}>
              {actions.map(({ keys, words }) => (
                <Box key={`${keys} ${words}`} sx={{ display: 'flex', gap: 1, mb: 0.375, breakInside: 'avoid' }}>
                  <Box component="dt" sx={{ width: 112, flexShrink: 0, '& kbd': { whiteSpace: 'normal' } }}>
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
