import Box from '@mui/material/Box';
import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';
import { KEY_ACTIONS } from './tools/keys.ts';
import { Key } from './Key.tsx';

/** Every key of the bench. */
export function KeysDialog({ open, onClose }: { readonly open: boolean; readonly onClose: () => void }): ReactNode {
  const groups = [...new Set(KEY_ACTIONS.map((action) => action.group))];
  return (
    <Dialog open={open} onClose={onClose} maxWidth="md">
      <DialogTitle>Keys</DialogTitle>
      <DialogContent sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', columnGap: 5, rowGap: 2 }}>
        {groups.map((group) => (
          <Box key={group}>
            <Typography variant="h3" gutterBottom>
              {group}
            </Typography>
            <Box
              component="dl"
              sx={{ m: 0, display: 'grid', gridTemplateColumns: 'auto 1fr', columnGap: 2, rowGap: 0.5, fontSize: 13 }}
            >
              {KEY_ACTIONS.filter((action) => action.group === group).map((action) => (
                <Box key={action.keys} sx={{ display: 'contents' }}>
                  <Box component="dt">
                    <Key>{action.keys}</Key>
                  </Box>
                  <Box component="dd" sx={{ m: 0 }}>
                    {action.words}
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
