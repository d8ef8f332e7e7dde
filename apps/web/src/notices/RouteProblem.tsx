import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';
import { Link, useRouteError } from 'react-router';

/** What is shown when an address leads nowhere or a view broke. */
export function RouteProblem(): ReactNode {
  const error = useRouteError();
  return (
    <Box sx={{ p: 6, maxWidth: 560 }}>
      <Typography variant="h1" gutterBottom>
        {error === undefined ? 'There is nothing at this address' : 'This view could not be shown'}
      </Typography>
      <Typography sx={{ mb: 2 }}>
        {error instanceof Error ? `${error.message}. ` : ''}Everything that was stored is kept. Go back to the desk and
        open it from there.
      </Typography>
      <Button component={Link} to="/" variant="contained">
        Go to the desk
      </Button>
    </Box>
  );
}
