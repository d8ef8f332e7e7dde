import { render } from '@testing-library/react';
import type { ReactNode } from 'react';
import { MemoryRouter } from 'react-router';
import { SWRConfig } from 'swr';
import { getJson } from '../api/http.ts';
import { NoticeProvider } from '../notices/NoticeProvider.tsx';

/** Shows part of the interface with what it expects around it, at an address and with nothing fetched before. For tests. */
export function showView(children: ReactNode, address = '/'): void {
  render(
    <SWRConfig value={{ fetcher: getJson, provider: () => new Map() }}>
      <NoticeProvider>
        <MemoryRouter initialEntries={[address]}>{children}</MemoryRouter>
      </NoticeProvider>
    </SWRConfig>,
  );
}
