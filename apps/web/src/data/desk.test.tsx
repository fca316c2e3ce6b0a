import { jest } from '@jest/globals';
import type { BulkRequest, BulkView } from '@lantern/contracts';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, renderHook, waitFor } from '@testing-library/react';
import type { ReactNode } from 'react';
import { useBeginBulk, useBulk } from './desk';

const RUNNING = { id: 'b', state: 'running', total: 61, done: 0, skipped: 0 } as BulkView;
const answers = (body: BulkView) => Promise.resolve(new Response(JSON.stringify(body), { status: 200 }));

it('shows the end of a decision whose last event came before its answer', async () => {
  // As main.tsx has it: an answer is fresh for a while, and not asked for again on its own.
  const queries = new QueryClient({ defaultOptions: { queries: { staleTime: 5_000, retry: false } } });
  const wrapper = ({ children }: { readonly children: ReactNode }) => (
    <QueryClientProvider client={queries}>{children}</QueryClientProvider>
  );
  globalThis.fetch = jest.fn<typeof fetch>((_input, init) =>
    answers(init?.method === 'POST' ? RUNNING : { ...RUNNING, state: 'done', done: 61 }),
  );
  const begin = renderHook(() => useBeginBulk(), { wrapper });
  await act(() => begin.result.current.mutateAsync({} as BulkRequest));
  const shown = renderHook(() => useBulk('b'), { wrapper });
  await waitFor(() => expect(shown.result.current.data).toMatchObject({ state: 'done', done: 61 }));
});
