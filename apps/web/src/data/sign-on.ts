import type {
  SignOnOffer,
  SignOnRequest,
  SignOnStep,
  SignOnTrial,
  SignOnView,
} from '@lantern/contracts/sign-on';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { change, get } from './client';
import { KEYS } from './keys';

/** Whether the sign-in page offers single sign-on. */
export function useSignOnOffer() {
  return useQuery({
    queryKey: [KEYS.signOn, 'offer'],
    queryFn: () => get<SignOnOffer>('/session/sign-on'),
    retry: false,
  });
}

/** Leaves for the identity provider. */
export function useBeginSignOn() {
  return useMutation({
    mutationFn: () => change<SignOnStep>('POST', '/session/sign-on', {}),
    onSuccess: ({ url }) => {
      if (url) window.location.assign(url);
    },
  });
}

export function useSignOnSetting() {
  return useQuery({ queryKey: [KEYS.signOn], queryFn: () => get<SignOnView>('/single-sign-on') });
}

export function useSetSignOn() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (request: SignOnRequest) => change<SignOnView>('PUT', '/single-sign-on', request),
    onSuccess: () => void queries.invalidateQueries({ queryKey: [KEYS.signOn] }),
  });
}

/** Asks the provider who it is, without saving. */
export function useTrySignOn() {
  return useMutation({
    mutationFn: (request: SignOnRequest) => change<SignOnTrial>('POST', '/single-sign-on/trials', request),
  });
}
