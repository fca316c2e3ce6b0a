import type { PhoneView, TrustView } from '@lantern/contracts';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { change, get } from './client';
import { KEYS } from './keys';

const phone = (player: string): string => `/stand-ins/phone/${encodeURIComponent(player)}`;

/** The code that somebody's phone shows now; asked again as it changes. */
export function usePhone(player: string, isOpen: boolean) {
  return useQuery({
    queryKey: [KEYS.trusts, 'phone', player],
    queryFn: () => get<PhoneView>(phone(player)),
    enabled: isOpen,
    staleTime: 0,
    refetchInterval: ({ state }) => Math.max(1, state.data?.secondsLeft ?? 1) * 1_000,
  });
}

/** For how long and where somebody who is played is believed. */
export function useOwnTrusts(player: string, isOpen: boolean) {
  return useQuery({
    queryKey: [KEYS.trusts, player],
    queryFn: () => get<TrustView[]>(`${phone(player)}/trusts`),
    enabled: isOpen,
  });
}

export function useEndOwnTrust(player: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (id: string) => change<void>('DELETE', `${phone(player)}/trusts/${id}`),
    onSettled: () => void queries.invalidateQueries({ queryKey: [KEYS.trusts] }),
  });
}

/** Everybody who is believed for a while. */
export function useTrusts() {
  return useQuery({ queryKey: [KEYS.trusts], queryFn: () => get<TrustView[]>('/trusts') });
}

export function useEndTrust() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (id: string) => change<void>('DELETE', `/trusts/${id}`),
    onSettled: () => void queries.invalidateQueries({ queryKey: [KEYS.trusts] }),
  });
}

/** A code, handed in about a movement that asks who somebody is. What it changes stands in many windows. */
export function useProve(player: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ incident, code }: { readonly incident: number; readonly code: string }) =>
      change<void>('POST', `${phone(player)}/incidents/${incident}/proof`, { code }),
    onSettled: () => void queries.invalidateQueries(),
  });
}
