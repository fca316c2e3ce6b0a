import type { LiveEvent } from '@lantern/contracts';
import { type QueryClient, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { staleAfter } from './event-keys';

function refresh(queries: QueryClient, event: LiveEvent): void {
  for (const queryKey of staleAfter(event)) void queries.invalidateQueries({ queryKey });
}

/** Keeps every screen current. After a lost connection everything is fetched anew: events may have been missed. */
export function useLiveUpdates(): void {
  const queries = useQueryClient();
  useEffect(() => {
    const source = new EventSource('/api/events');
    let lost = false;
    source.onmessage = (message: MessageEvent<string>) =>
      refresh(queries, JSON.parse(message.data) as LiveEvent);
    source.onerror = () => (lost = true);
    source.onopen = () => {
      if (lost) void queries.invalidateQueries();
      lost = false;
    };
    return () => source.close();
  }, [queries]);
}
