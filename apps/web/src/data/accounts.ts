import type {
  AccountRequest,
  AccountView,
  FactorRolesView,
  InvitationView,
  InviteRequest,
  NewFactorView,
  OwnSessionView,
  PasswordRequest,
  RecoveryCodesView,
  Role,
  TrailCheck,
  TrailForwardingView,
  TrailPage,
  WelcomeView,
} from '@lantern/contracts';
import {
  keepPreviousData,
  useInfiniteQuery,
  useMutation,
  useQuery,
  useQueryClient,
} from '@tanstack/react-query';
import { change, get } from './client';
import { KEYS } from './keys';

export function useAccounts() {
  return useQuery({ queryKey: [KEYS.accounts], queryFn: () => get<AccountView[]>('/accounts') });
}

export function useInvite() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (request: InviteRequest) => change<InvitationView>('POST', '/accounts', request),
    onSuccess: () => void queries.invalidateQueries({ queryKey: [KEYS.accounts] }),
  });
}

export function useChangeAccount() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ id, ...request }: AccountRequest & { readonly id: string }) =>
      change<AccountView>('PUT', `/accounts/${id}`, request),
    onSettled: () => void queries.invalidateQueries({ queryKey: [KEYS.accounts] }),
  });
}

export function useResetAccount() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (id: string) => change<InvitationView>('POST', `/accounts/${id}/reset`),
    onSettled: () => void queries.invalidateQueries({ queryKey: [KEYS.accounts] }),
  });
}

/** Roles that need a second factor. */
export function useFactorRoles() {
  return useQuery({
    queryKey: [KEYS.accounts, 'factor-roles'],
    queryFn: () => get<FactorRolesView>('/accounts/factor-roles'),
  });
}

export function useSetFactorRoles() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (roles: readonly Role[]) =>
      change<FactorRolesView>('PUT', '/accounts/factor-roles', { roles }),
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: [KEYS.accounts] });
      // The role of whoever set it may be among them.
      void queries.invalidateQueries({ queryKey: [KEYS.session] });
    },
  });
}

export function useOwnSessions() {
  return useQuery({
    queryKey: [KEYS.ownSessions],
    queryFn: () => get<OwnSessionView[]>('/own-account/sessions'),
  });
}

/** Ends one session by its id, or all but this one. */
export function useEndSessions() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (id: string | null) => change<void>('DELETE', `/own-account/sessions${id ? `/${id}` : ''}`),
    onSettled: () => void queries.invalidateQueries({ queryKey: [KEYS.ownSessions] }),
  });
}

export function useChangePassword() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (request: PasswordRequest) => change<void>('PUT', '/own-account/password', request),
    onSuccess: () => void queries.invalidateQueries({ queryKey: [KEYS.ownSessions] }),
  });
}

export function useBeginFactor() {
  return useMutation({ mutationFn: () => change<NewFactorView>('POST', '/own-account/factor') });
}

export function useConfirmFactor() {
  return useMutation({
    mutationFn: (code: string) => change<RecoveryCodesView>('PUT', '/own-account/factor', { code }),
  });
}

export function useRemoveFactor() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (code: string) => change<void>('POST', '/own-account/factor/removal', { code }),
    onSuccess: () => void queries.invalidateQueries({ queryKey: [KEYS.session] }),
  });
}

export function useWelcome(token: string) {
  return useQuery({
    queryKey: [KEYS.welcome, token],
    queryFn: () => get<WelcomeView>(`/welcome/${token}`),
    retry: false,
    staleTime: Infinity,
  });
}

export function useChoosePassword(token: string) {
  return useMutation({
    mutationFn: (password: string) => change<void>('POST', `/welcome/${token}`, { password }),
  });
}

/** What the trail is narrowed to. */
export interface TrailFilter {
  readonly actor: string;
  readonly action: string;
}

export function trailQuery({ actor, action }: TrailFilter): string {
  const query = new URLSearchParams({ ...(actor ? { actor } : {}), ...(action ? { action } : {}) });
  return query.toString();
}

export function useTrail(filter: TrailFilter) {
  return useInfiniteQuery({
    queryKey: [KEYS.trail, filter],
    queryFn: ({ pageParam }) => {
      const query = trailQuery(filter);
      const before = pageParam === null ? '' : `before=${pageParam}`;
      const asked = [query, before].filter(Boolean).join('&');
      return get<TrailPage>(`/trail${asked ? `?${asked}` : ''}`);
    },
    initialPageParam: null as number | null,
    getNextPageParam: (last) => last.before,
    placeholderData: keepPreviousData,
  });
}

/** Whether the trail is sent on, and how far. */
export function useTrailForwarding() {
  return useQuery({
    queryKey: [KEYS.trail, 'forwarding'],
    queryFn: () => get<TrailForwardingView>('/trail/forwarding'),
  });
}

export function useTrailCheck() {
  return useMutation({ mutationFn: () => get<TrailCheck>('/trail/check') });
}
