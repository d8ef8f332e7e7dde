import CssBaseline from '@mui/material/CssBaseline';
import { ThemeProvider } from '@mui/material/styles';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { createBrowserRouter, RouterProvider } from 'react-router';
import { SWRConfig } from 'swr';
import { getJson } from './api/http.ts';
import { NoticeProvider } from './notices/NoticeProvider.tsx';
import { RouteProblem } from './notices/RouteProblem.tsx';
import { theme } from './theme.ts';

const router = createBrowserRouter([
  {
    errorElement: <RouteProblem />,
    children: [
      { path: '/', lazy: async () => ({ Component: (await import('./desk/DeskPage.tsx')).DeskPage }) },
      { path: '/outbox', lazy: async () => ({ Component: (await import('./desk/OutboxPage.tsx')).OutboxPage }) },
      { path: '/jobs/:jobId', lazy: async () => ({ Component: (await import('./desk/JobPage.tsx')).JobPage }) },
      {
        path: '/jobs/:jobId/logbook',
        lazy: async () => ({ Component: (await import('./desk/LogbookPage.tsx')).LogbookPage }),
      },
      { path: '/jobs/:jobId/time', lazy: async () => ({ Component: (await import('./desk/TimePage.tsx')).TimePage }) },
      {
        path: '/jobs/:jobId/pages/:pageId/:stage',
        lazy: async () => ({ Component: (await import('./bench/BenchPage.tsx')).BenchPage }),
      },
      { path: '*', element: <RouteProblem /> },
    ],
    HydrateFallback: () => null,
  },
]);

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <ThemeProvider theme={theme}>
      <CssBaseline />
      <SWRConfig
        value={{ fetcher: getJson, revalidateOnFocus: true, shouldRetryOnError: true, errorRetryInterval: 3000 }}
      >
        <NoticeProvider>
          <RouterProvider router={router} />
        </NoticeProvider>
      </SWRConfig>
    </ThemeProvider>
  </StrictMode>,
);
