import type { StandingApprovalView } from '@lantern/contracts/approvals';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { change, get } from './client';
import { KEYS } from './keys';

/** What is allowed for a time beside the published rules, and what was. */
export function useApprovals() {
  return useQuery({
    queryKey: [KEYS.waiting, 'approvals'],
    queryFn: () => get<StandingApprovalView[]>('/approvals'),
  });
}

export function useChangeApproval() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ id, ...terms }: { id: string; until: string; to: readonly string[]; words: string }) =>
      change<void>('PUT', `/approvals/${id}`, terms),
    onSettled: () => void queries.invalidateQueries({ queryKey: [KEYS.waiting] }),
  });
}

export function useEndApproval() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ id, words }: { id: string; words: string }) =>
      change<void>('POST', `/approvals/${id}/end`, { words }),
    onSettled: () => void queries.invalidateQueries({ queryKey: [KEYS.waiting] }),
  });
}
