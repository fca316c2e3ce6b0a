import type { AgentView, ChannelView, NewAgent, UnfinishedChoice } from '@lantern/contracts';
import type { Audience } from '@lantern/core/directory';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { change, get } from './client';
import { KEYS } from './keys';

export function useAgents() {
  return useQuery({ queryKey: [KEYS.doors, 'agents'], queryFn: () => get<AgentView[]>('/agents') });
}

/** An agent with its limits; those left out are none. */
export interface AgentToCreate {
  readonly name: string;
  readonly people: Audience;
  readonly hoursBack?: number;
}

export function useCreateAgent() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (agent: AgentToCreate) => change<NewAgent>('POST', '/agents', agent),
    onSuccess: () => void queries.invalidateQueries({ queryKey: [KEYS.doors] }),
  });
}

export function useRevokeAgent() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (id: string) => change<void>('DELETE', `/agents/${id}`),
    onSettled: () => void queries.invalidateQueries({ queryKey: [KEYS.doors] }),
  });
}

export function useChannels() {
  return useQuery({ queryKey: [KEYS.doors, 'channels'], queryFn: () => get<ChannelView[]>('/channels') });
}

export function useSetChannel() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({
      channel,
      ...setting
    }: {
      channel: string;
      unfinished: UnfinishedChoice;
      seconds: number;
    }) => change<ChannelView[]>('PUT', `/channels/${channel}`, setting),
    onSettled: () => void queries.invalidateQueries({ queryKey: [KEYS.doors] }),
  });
}
