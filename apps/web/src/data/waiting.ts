import type { WaitingView } from '@lantern/contracts';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { change, get } from './client';
import { KEYS } from './keys';

export function useWaiting() {
  return useQuery({
    queryKey: [KEYS.waiting],
    queryFn: () => get<WaitingView[]>('/waiting'),
    refetchInterval: 30_000,
  });
}

export function useDecide() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ id, ...decision }: { id: string; goesOn: boolean; words: string }) =>
      change<void>('POST', `/waiting/${id}/decision`, decision),
    onSettled: () => void queries.invalidateQueries({ queryKey: [KEYS.waiting] }),
  });
}
