import type { LiveEvent } from '@lantern/contracts';
import { type QueryClient, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';

function refresh(queries: QueryClient, event: LiveEvent): void {
  const stale = (...keys: string[]) =>
    keys.forEach((key) => void queries.invalidateQueries({ queryKey: [key] }));
  switch (event.kind) {
    case 'incident-recorded':
      return stale('overview', 'incidents', 'waiting');
    case 'incident-changed':
      void queries.invalidateQueries({ queryKey: ['incident', event.number] });
      return stale('overview', 'incidents', 'waiting', 'mailbox', 'things');
    case 'drafts-changed':
      return stale(
        'overview',
        'draft',
        'policies',
        'labels',
        'desk',
        'texts',
        'exchanges',
        'spots',
        'patterns',
        'specimens',
        'lantern-set',
      );
    case 'revision-published':
      return stale(
        'overview',
        'draft',
        'policies',
        'labels',
        'desk',
        'mailbox',
        'texts',
        'exchanges',
        'spots',
        'patterns',
        'lantern-set',
        'revisions',
      );
    case 'thing-changed':
      return stale('things');
    case 'label-run-changed':
      return stale('label-runs');
    case 'replay-changed':
      return stale('replays');
  }
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
