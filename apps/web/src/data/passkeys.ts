import type { SessionView } from '@lantern/contracts';
import type { PasskeyAddedView, PasskeyOptionsView, PasskeysView } from '@lantern/contracts/passkeys';
import {
  type PublicKeyCredentialCreationOptionsJSON,
  type PublicKeyCredentialRequestOptionsJSON,
  startAuthentication,
  startRegistration,
} from '@simplewebauthn/browser';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { ApiError, change, get, rememberToken } from './client';
import { KEYS } from './keys';
import { PASSKEY_NOT_USED } from '../wording/passkeys';

/** The browser asks its devices; whatever they refuse is told in the same words. */
export async function asked<Answer>(work: () => Promise<Answer>): Promise<Answer> {
  try {
    return await work();
  } catch {
    throw new ApiError({ code: 'act-refused', message: PASSKEY_NOT_USED });
  }
}

export function useSignInByPasskey() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async () => {
      const { options } = await change<PasskeyOptionsView>('POST', '/session/passkey/challenge', {});
      const optionsJSON = options as unknown as PublicKeyCredentialRequestOptionsJSON;
      const answer = await asked(() => startAuthentication({ optionsJSON }));
      return change<SessionView>('POST', '/session/passkey', answer);
    },
    onSuccess: (session) => {
      rememberToken(session.csrfToken);
      queries.setQueryData([KEYS.session], session);
    },
  });
}

export function usePasskeys() {
  return useQuery({
    queryKey: [KEYS.passkeys],
    queryFn: () => get<PasskeysView>('/own-account/passkeys'),
  });
}

export function useAddPasskey() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async ({ name, password }: { readonly name: string; readonly password: string }) => {
      const { options } = await change<PasskeyOptionsView>('POST', '/own-account/passkeys/challenge', {
        password,
      });
      const optionsJSON = options as unknown as PublicKeyCredentialCreationOptionsJSON;
      const answer = await asked(() => startRegistration({ optionsJSON }));
      return change<PasskeyAddedView>('POST', '/own-account/passkeys', { ...answer, name });
    },
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: [KEYS.passkeys] });
      void queries.invalidateQueries({ queryKey: [KEYS.session] });
    },
  });
}

export function useRemovePasskey() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (id: string) => change<PasskeysView>('DELETE', `/own-account/passkeys/${id}`),
    onSettled: () => {
      void queries.invalidateQueries({ queryKey: [KEYS.passkeys] });
      void queries.invalidateQueries({ queryKey: [KEYS.session] });
    },
  });
}
