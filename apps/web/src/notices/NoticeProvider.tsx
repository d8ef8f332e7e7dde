import Alert, { type AlertColor } from '@mui/material/Alert';
import Snackbar from '@mui/material/Snackbar';
import { createContext, useCallback, useContext, useMemo, useState, type ReactNode } from 'react';

interface Notice {
  readonly text: string;
  readonly severity: AlertColor;
  readonly id: number;
}

interface Notices {
  /** Something happened that the user should know. */
  readonly say: (text: string, severity?: AlertColor) => void;
  /** An error, in its own words. */
  readonly fail: (error: unknown) => void;
}

const NoticeContext = createContext<Notices>({ say: () => undefined, fail: () => undefined });

export function useNotices(): Notices {
  return useContext(NoticeContext);
}

/** One line at the foot of the window at a time; errors stay until they are closed. */
export function NoticeProvider({ children }: { readonly children: ReactNode }): ReactNode {
  const [notice, setNotice] = useState<Notice | null>(null);
  const say = useCallback(
    (text: string, severity: AlertColor = 'info') => setNotice({ text, severity, id: Date.now() }),
    [],
  );
  const fail = useCallback(
    (error: unknown) => {
      if (error instanceof DOMException && error.name === 'AbortError') return;
      say(error instanceof Error ? error.message : String(error), 'error');
    },
    [say],
  );
  const notices = useMemo(() => ({ say, fail }), [say, fail]);
  return (
    <NoticeContext.Provider value={notices}>
      {children}
      <Snackbar
        key={notice?.id}
        open={notice !== null}
        autoHideDuration={notice?.severity === 'error' ? null : 4000}
        onClose={(_, reason) => reason !== 'clickaway' && setNotice(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'center' }}
        // A click beside its button goes to the page below.
        sx={{ mb: 3, pointerEvents: 'none', '& button': { pointerEvents: 'auto' } }}
      >
        {notice === null ? undefined : (
          <Alert severity={notice.severity} variant="filled" onClose={() => setNotice(null)} sx={{ maxWidth: 640 }}>
            {notice.text}
          </Alert>
        )}
      </Snackbar>
    </NoticeContext.Provider>
  );
}
