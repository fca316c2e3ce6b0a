import type { PhoneView, TrustView } from '@lantern/contracts';
import type { PasskeyOptionsView } from '@lantern/contracts/passkeys';
import {
  type PublicKeyCredentialCreationOptionsJSON,
  type PublicKeyCredentialRequestOptionsJSON,
  startAuthentication,
  startRegistration,
} from '@simplewebauthn/browser';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { change, get } from './client';
import { KEYS } from './keys';
import { asked } from './passkeys';

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

/** The same with a passkey of the person. */
export function useProveByPasskey(player: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async (incident: number) => {
      const path = `${phone(player)}/incidents/${incident}/proof`;
      const { options } = await change<PasskeyOptionsView>('POST', `${path}/challenge`, {});
      const optionsJSON = options as unknown as PublicKeyCredentialRequestOptionsJSON;
      const passkey = await asked(() => startAuthentication({ optionsJSON }));
      return change<void>('POST', path, { passkey });
    },
    onSettled: () => void queries.invalidateQueries(),
  });
}

/** Passkeys of somebody who is played: this device becomes one, or stops being one. */
export function useOwnPasskeys(player: string) {
  const queries = useQueryClient();
  const settled = {
    onSettled: () => void queries.invalidateQueries({ queryKey: [KEYS.trusts, 'phone', player] }),
  };
  return {
    add: useMutation({
      mutationFn: async () => {
        const { options } = await change<PasskeyOptionsView>(
          'POST',
          `${phone(player)}/passkeys/challenge`,
          {},
        );
        const optionsJSON = options as unknown as PublicKeyCredentialCreationOptionsJSON;
        const answer = await asked(() => startRegistration({ optionsJSON }));
        return change<void>('POST', `${phone(player)}/passkeys`, answer);
      },
      ...settled,
    }),
    remove: useMutation({
      mutationFn: (id: string) => change<void>('DELETE', `${phone(player)}/passkeys/${id}`),
      ...settled,
    }),
  };
}
