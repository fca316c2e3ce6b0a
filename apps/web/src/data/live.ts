import type { LiveEvent } from '@lantern/contracts';
import { type QueryClient, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { staleAfter } from './event-keys';
import { KEYS } from './keys';
import { patchIncident } from './queue';

/** Figures over periods are dear: however many events come, they are asked for again once in this time. */
const FIGURES_MS = 2_000;
let figuresSoon: ReturnType<typeof setTimeout> | undefined;

function refresh(queries: QueryClient, event: LiveEvent): void {
  for (const queryKey of staleAfter(event)) {
    if (queryKey[0] !== KEYS.insight) void queries.invalidateQueries({ queryKey });
    else
      figuresSoon ??= setTimeout(() => {
        figuresSoon = undefined;
        void queries.invalidateQueries({ queryKey: [KEYS.insight] });
      }, FIGURES_MS);
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
