import type {
  AutomationGapsView,
  AutomationSummary,
  AutomationView,
  BreachesView,
  CrossingKind,
  CrossingsView,
  JudgedBy,
  MayItRun,
  MayItRunRequest,
  OwnersTold,
  TellOwnersRequest,
} from '@lantern/contracts/crossings';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { change, get } from './client';
import { KEYS } from './keys';

/** Drafts of services, workspaces and sets. */
export function useCrossings() {
  return useQuery({
    queryKey: [KEYS.crossings, 'drafts'],
    queryFn: () => get<CrossingsView>('/crossings'),
  });
}

export function useAutomations(by: JudgedBy, enabled = true) {
  return useQuery({
    queryKey: [KEYS.crossings, 'automations', by],
    queryFn: () => get<AutomationSummary[]>(`/automations?by=${by}`),
    enabled,
  });
}

/** What about automations nothing guards. */
export function useAutomationGaps(by: JudgedBy) {
  return useQuery({
    queryKey: [KEYS.crossings, 'gaps', by],
    queryFn: () => get<AutomationGapsView>(`/crossings/gaps?by=${by}`),
  });
}

/** May it run, by what is published and by the drafts? */
export function useMayItRun() {
  return useMutation({
    mutationFn: (about: MayItRunRequest) => change<MayItRun>('POST', '/automations/may-it-run', about),
  });
}

export function useAutomation(id: string | null) {
  return useQuery({
    queryKey: [KEYS.crossings, 'automation', id],
    queryFn: () => get<AutomationView>(`/automations/${encodeURIComponent(id ?? '')}`),
    enabled: id !== null,
  });
}

export function useBreaches(by: JudgedBy, search: string) {
  return useQuery({
    queryKey: [KEYS.crossings, 'breaches', by, search],
    queryFn: () => get<BreachesView>(`/crossings/breaches?${new URLSearchParams({ by, search })}`),
  });
}

export const breachesFile = (by: JudgedBy, search: string, format: 'csv' | 'xlsx'): string =>
  `/api/crossings/breaches/export?${new URLSearchParams({ by, search, format })}`;

export function useTellOwners() {
  return useMutation({
    mutationFn: (request: TellOwnersRequest) =>
      change<OwnersTold>('POST', '/crossings/breaches/told', request),
  });
}

export function useSavePart(kind: CrossingKind) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({
      id,
      ...request
    }: {
      readonly id: string | null;
      readonly definition: object;
      readonly version?: number;
    }) =>
      id === null
        ? change<{ readonly id: string }>('POST', `/crossings/${kind}`, request)
        : change<{ readonly id: string }>('PUT', `/crossings/${kind}/${encodeURIComponent(id)}`, request),
    onSettled: () => void queries.invalidateQueries({ queryKey: [KEYS.crossings] }),
  });
}

export function useRemovePart(kind: CrossingKind) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (id: string) => change<void>('DELETE', `/crossings/${kind}/${encodeURIComponent(id)}`),
    onSettled: () => void queries.invalidateQueries({ queryKey: [KEYS.crossings] }),
  });
}
