import type { LiveEvent } from '@lantern/contracts';
import { type QueryClient, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { staleAfter } from './event-keys';
import { type Key, KEYS } from './keys';
import { patchIncident } from './queue';

/** Figures over periods and places are dear: however many events come, they are asked for again once in this time. */
const FIGURES_MS = 2_000;
const DEAR: readonly Key[] = [KEYS.insight, KEYS.discovery];
const soon = new Map<Key, ReturnType<typeof setTimeout>>();

function refresh(queries: QueryClient, event: LiveEvent): void {
  for (const queryKey of staleAfter(event)) {
    const [key] = queryKey;
    if (!DEAR.includes(key)) void queries.invalidateQueries({ queryKey });
    else if (!soon.has(key)) {
      const timer = setTimeout(() => {
        soon.delete(key);
        void queries.invalidateQueries({ queryKey: [key] });
      }, FIGURES_MS);
      soon.set(key, timer);
    }
  }
  if (event.kind === 'incident-changed') void patchIncident(queries, event.number).catch(() => undefined);
}

/** Keeps every screen current; `heard` must stay the same function. After a lost connection everything is fetched anew: events may have been missed. */
export function useLiveUpdates(heard?: (event: LiveEvent) => void): void {
  const queries = useQueryClient();
  useEffect(() => {
    const source = new EventSource('/api/events');
    let lost = false;
    source.onmessage = (message: MessageEvent<string>) => {
      const event = JSON.parse(message.data) as LiveEvent;
      refresh(queries, event);
      heard?.(event);
    };
    source.onerror = () => (lost = true);
    source.onopen = () => {
      if (lost) void queries.invalidateQueries();
      lost = false;
    };
    return () => source.close();
  }, [queries, heard]);
}
