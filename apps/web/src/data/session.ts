import type { SignOnStep } from '@lantern/contracts/sign-on';
import type { FirstStepsView, OverviewView, Permission, SessionView } from '@lantern/contracts';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { ApiError, change, get, rememberToken } from './client';
import { KEYS } from './keys';

/** The session, or null when nobody is signed in. */
export function useSession() {
  return useQuery({
    queryKey: [KEYS.session],
    queryFn: async (): Promise<SessionView | null> => {
      try {
        const session = await get<SessionView>('/session');
        rememberToken(session.csrfToken);
        return session;
      } catch (error) {
        if (error instanceof ApiError && error.code === 'not-signed-in') return null;
        throw error;
      }
    },
    staleTime: Infinity,
  });
}

export function useSignIn() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (request: { email: string; password: string; code?: string }) =>
      change<SessionView>('POST', '/session', request),
    onSuccess: (session) => {
      rememberToken(session.csrfToken);
      queries.setQueryData([KEYS.session], session);
    },
  });
}

export function useSignOut() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async () => {
      // Whoever came from the identity provider signs out there as well.
      const { url } = await get<SignOnStep>('/session/sign-on/end').catch(() => ({ url: null }));
      await change<void>('DELETE', '/session');
      return url;
    },
    onSuccess: (url) => {
      // The door first: who watches the session would not hear of one that is taken away.
      queries.setQueryData([KEYS.session], null);
      queries.removeQueries({ predicate: ({ queryKey }) => queryKey[0] !== KEYS.session });
      if (url) window.location.assign(url);
    },
  });
}

/** Whether the signed-in account sees some incidents only. */
export function useLimited(): boolean {
  const { data } = useSession();
  return data?.account.limited ?? false;
}

/** Whether the signed-in account may do something. */
export function useMay(permission: Permission): boolean {
  const { data } = useSession();
  return data?.account.permissions.includes(permission) ?? false;
}

export function useOverview() {
  return useQuery({ queryKey: [KEYS.overview], queryFn: () => get<OverviewView>('/overview') });
}

/** How far a new installation is set up. */
export function useFirstSteps(may: boolean) {
  return useQuery({
    queryKey: [KEYS.overview, 'first-steps'],
    queryFn: () => get<FirstStepsView>('/overview/first-steps'),
    enabled: may,
  });
}
