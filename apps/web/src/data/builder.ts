import type {
  AssistantOffer,
  AssistantTalk,
  AutomationKept,
  AutomationSummary,
  AutomationView,
  BuilderRegister,
  FlowRunView,
  JudgedWhileBuilding,
} from '@lantern/contracts/crossings';
import type { AnyAutomation } from '@lantern/core/automations';
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { change, get } from './client';
import { KEYS } from './keys';
import { useToldActs } from './told-acts';

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

/** Runs of a flow, the newest first. */
export function useFlowRuns(player: string, automation: string) {
  return useQuery({
    queryKey: [KEYS.crossings, 'runs', player, automation],
    queryFn: () => get<FlowRunView[]>(runsPath(player, automation)),
  });
}

export function useRunActs(player: string, automation: string) {
  const queries = useQueryClient();
  const settled = {
    onSettled: () =>
      void queries.invalidateQueries({ queryKey: [KEYS.crossings, 'runs', player, automation] }),
  };
  return {
    start: useMutation({
      mutationFn: () => change<FlowRunView>('POST', runsPath(player, automation)),
      ...settled,
    }),
    stop: useMutation({
      mutationFn: (run: string) => change<void>('POST', `${runsPath(player, automation)}/${run}/stop`),
      ...settled,
    }),
  };
}

const runsPath = (player: string, automation: string): string =>
  `${base(player)}/automations/${encodeURIComponent(automation)}/runs`;

/** Assistants that a person may ask. */
export function useAssistants(player: string) {
  return useQuery({
    queryKey: [KEYS.crossings, 'assistants', player],
    queryFn: () => get<AssistantOffer[]>(`${base(player)}/assistants`),
  });
}

/** What a person asked an assistant, the newest first. */
export function useTalks(player: string, assistant: string) {
  return useQuery({
    queryKey: [KEYS.crossings, 'talks', player, assistant],
    queryFn: () => get<AssistantTalk[]>(talksPath(player, assistant)),
  });
}

export function useAskAssistant(player: string, assistant: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (question: string) =>
      change<AssistantTalk>('POST', talksPath(player, assistant), { question }),
    onSettled: () =>
      void queries.invalidateQueries({ queryKey: [KEYS.crossings, 'talks', player, assistant] }),
  });
}

const talksPath = (player: string, assistant: string): string =>
  `${base(player)}/assistants/${encodeURIComponent(assistant)}/talks`;

/** What a person does about a question or an answer. */
export const useTalkActs = (player: string) =>
  useToldActs((id) => `${base(player)}/talks/${id}`, [KEYS.crossings, 'talks', player]);

/** What the owner of a flow does about the movement of its last step. */
export const useRunToldActs = (player: string, automation: string) =>
  useToldActs((id) => `${runsPath(player, automation)}/${id}`, [KEYS.crossings, 'runs', player, automation]);
