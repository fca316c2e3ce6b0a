import type { WaitingView } from '@lantern/contracts';
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { change, get } from './client';
import { KEYS } from './keys';

/** What waits, and the newest of what was decided; a search goes through all of it. */
export function useWaiting(search = '') {
  return useQuery({
    queryKey: [KEYS.waiting, search],
    queryFn: () =>
      get<WaitingView[]>(`/waiting${search ? `?${new URLSearchParams({ search }).toString()}` : ''}`),
    placeholderData: keepPreviousData,
    refetchInterval: 30_000,
  });
}

export function useDecide() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({
      id,
      ...decision
    }: {
      id: string;
      goesOn: boolean;
      words: string;
      standing?: { readonly days: number; readonly to: readonly string[] };
    }) => change<void>('POST', `/waiting/${id}/decision`, decision),
    onSettled: () => void queries.invalidateQueries({ queryKey: [KEYS.waiting] }),
  });
}

/** Says that an approved override was wrong to approve. */
export function useJudgeWrong() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ id, reason }: { id: string; reason: string }) =>
      change<void>('POST', `/waiting/${id}/judged-wrong`, { reason }),
    onSettled: () => void queries.invalidateQueries({ queryKey: [KEYS.waiting] }),
  });
}
