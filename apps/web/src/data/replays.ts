import type { JournalView, ReplayItem, ReplayView } from '@lantern/contracts';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { change, get } from './client';
import { KEYS } from './keys';

export function useReplays() {
  return useQuery({ queryKey: [KEYS.replays], queryFn: () => get<ReplayView[]>('/replays') });
}

export function useReplayItems(id: string | null, shift: string | null) {
  return useQuery({
    queryKey: [KEYS.replays, id, 'items', shift],
    queryFn: () => get<ReplayItem[]>(`/replays/${id ?? ''}/items${shift ? `?shift=${shift}` : ''}`),
    enabled: id !== null,
  });
}

export function useStartReplay() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (request: {
      since?: string;
      until?: string;
      unlimited?: string;
      over?: 'journal' | 'stored';
    }) => change<ReplayView>('POST', '/replays', request),
    onSuccess: () => void queries.invalidateQueries({ queryKey: [KEYS.replays] }),
  });
}

export function useStopReplay() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (id: string) => change<ReplayView>('POST', `/replays/${id}/stop`),
    onSuccess: () => void queries.invalidateQueries({ queryKey: [KEYS.replays] }),
  });
}

export function useJournal() {
  return useQuery({ queryKey: [KEYS.journal], queryFn: () => get<JournalView[]>('/journal') });
}

export function useSetJournal() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ channel, ...setting }: { channel: string; keeps: string; days: number }) =>
      change<JournalView[]>('PUT', `/journal/${channel}`, setting),
    onSuccess: (views) => queries.setQueryData([KEYS.journal], views),
  });
}
