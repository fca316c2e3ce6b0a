import { jest } from '@jest/globals';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { renderHook } from '@testing-library/react';
import type { ReactNode } from 'react';
import { KEYS } from './keys';
import { useLiveUpdates } from './live';

/** The stream of events, in the hands of the test. */
class Stream {
  static last: Stream;
  onmessage: ((message: { data: string }) => void) | null = null;
  onerror: (() => void) | null = null;
  onopen: (() => void) | null = null;
  closed = false;
  constructor(readonly address: string) {
    Stream.last = this;
  }
  close(): void {
    this.closed = true;
  }
}

describe('live updates', () => {
  let queries: QueryClient;
  let stale: unknown[];
  let unmount: () => void;

  beforeEach(() => {
    Object.assign(globalThis, { EventSource: Stream });
    queries = new QueryClient();
    stale = [];
    jest.spyOn(queries, 'invalidateQueries').mockImplementation((filters) => {
      stale.push(filters?.queryKey ?? 'everything');
      return Promise.resolve();
    });
    const wrapper = ({ children }: { readonly children: ReactNode }) => (
      <QueryClientProvider client={queries}>{children}</QueryClientProvider>
    );
    ({ unmount } = renderHook(() => useLiveUpdates(), { wrapper }));
  });

  it('ask again for what an event makes stale', () => {
    Stream.last.onmessage?.({ data: JSON.stringify({ kind: 'replay-changed', id: 'r' }) });
    expect(stale).toEqual([[KEYS.replays]]);
  });

  it('ask for everything after a lost connection, and for nothing at the first one', () => {
    Stream.last.onopen?.();
    expect(stale).toEqual([]);
    Stream.last.onerror?.();
    Stream.last.onopen?.();
    expect(stale).toEqual(['everything']);
    Stream.last.onopen?.();
    expect(stale).toEqual(['everything']);
  });

  it('end with the page', () => {
    unmount();
    expect(Stream.last.closed).toBe(true);
  });
});
