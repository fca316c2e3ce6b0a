import type {
  AutomationKept,
  AutomationSummary,
  AutomationView,
  BuilderRegister,
  JudgedWhileBuilding,
} from '@lantern/contracts/crossings';
import type { AnyAutomation } from '@lantern/core/automations';
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { change, get } from './client';
import { KEYS } from './keys';

const base = (player: string): string => `/stand-ins/automations/${encodeURIComponent(player)}`;

export function useBuilderRegister(player: string) {
  return useQuery({
    queryKey: [KEYS.crossings, 'builder', player],
    queryFn: () => get<BuilderRegister>(`${base(player)}/register`),
  });
}

export function useOwnAutomations(player: string) {
  return useQuery({
    queryKey: [KEYS.crossings, 'mine', player],
    queryFn: () => get<AutomationSummary[]>(`${base(player)}/automations`),
  });
}

export function useOwnAutomation(player: string, id: string | null) {
  return useQuery({
    queryKey: [KEYS.crossings, 'mine', player, id],
    queryFn: () => get<AutomationView>(`${base(player)}/automations/${encodeURIComponent(id ?? '')}`),
    enabled: id !== null,
  });
}

/** What is said about it as it stands, asked anew with every choice; the last answer stays until the next comes. */
export function useJudged(player: string, automation: AnyAutomation | null) {
  return useQuery({
    queryKey: [KEYS.crossings, 'judged', player, automation],
    queryFn: () => change<JudgedWhileBuilding>('POST', `${base(player)}/judged`, { automation }),
    enabled: automation !== null,
    placeholderData: keepPreviousData,
  });
}

export function useSaveAutomation(player: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (request: {
      readonly automation: AnyAutomation;
      readonly isOn: boolean;
      readonly version?: number;
    }) => change<AutomationKept>('PUT', `${base(player)}/automations`, request),
    onSettled: () => void queries.invalidateQueries({ queryKey: [KEYS.crossings] }),
  });
}

export function useRemoveAutomation(player: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (id: string) =>
      change<void>('DELETE', `${base(player)}/automations/${encodeURIComponent(id)}`),
    onSettled: () => void queries.invalidateQueries({ queryKey: [KEYS.crossings] }),
  });
}
