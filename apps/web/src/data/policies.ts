import type { DraftView, PolicyView, RevisionView } from '@lantern/contracts';
import type { Policy } from '@lantern/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { change, get } from './client';

export type PolicyFields = Omit<Policy, 'id'>;

export function usePolicies() {
  return useQuery({ queryKey: ['policies'], queryFn: () => get<PolicyView[]>('/policies') });
}

export function usePolicy(id: string) {
  return useQuery({ queryKey: ['policies', id], queryFn: () => get<PolicyView>(`/policies/${id}`) });
}

export function savePolicy(id: string, fields: PolicyFields, version: number): Promise<PolicyView> {
  const { name, purpose, channels, rules } = fields;
  return change<PolicyView>('PUT', `/policies/${id}`, { name, purpose, channels, rules, version });
}

export function useCreatePolicy() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ name, purpose, channels, rules }: PolicyFields) =>
      change<PolicyView>('POST', '/policies', { name, purpose, channels, rules }),
    onSuccess: () => void queries.invalidateQueries({ queryKey: ['policies'] }),
  });
}

export function useRemovePolicy() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (id: string) => change<void>('DELETE', `/policies/${id}`),
    onSuccess: () => void queries.invalidateQueries({ queryKey: ['policies'] }),
  });
}

export function useDraft() {
  return useQuery({ queryKey: ['draft'], queryFn: () => get<DraftView>('/revisions/draft') });
}

export function useRevisions() {
  return useQuery({ queryKey: ['revisions'], queryFn: () => get<RevisionView[]>('/revisions') });
}

export function usePublish() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (request: { name: string; reason: string; brokenSpecimens?: string[] }) =>
      change<RevisionView>('POST', '/revisions', request),
    onSuccess: () => void queries.invalidateQueries(),
  });
}
