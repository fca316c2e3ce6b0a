import type {
  DeputyRequest,
  DeputyView,
  LimitChoicesView,
  NewServiceKeyView,
  OwnRoleView,
  RoleRequest,
  ServiceAccountRequest,
  ServiceKeyView,
  TwoPeopleKind,
  TwoPeopleView,
} from '@lantern/contracts/access';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { change, get } from './client';
import { KEYS } from './keys';

/** Roles of the organisation's own. */
export function useOwnRoles() {
  return useQuery({ queryKey: [KEYS.accounts, 'roles'], queryFn: () => get<OwnRoleView[]>('/roles') });
}

export function useLimitChoices() {
  return useQuery({
    queryKey: [KEYS.accounts, 'limit-choices'],
    queryFn: () => get<LimitChoicesView>('/roles/choices'),
  });
}

function useRoleChange<Asked>(work: (asked: Asked) => Promise<OwnRoleView[]>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: work,
    onSettled: () => void queries.invalidateQueries({ queryKey: [KEYS.accounts] }),
  });
}

/** Saves a role; without an id a new one. */
export const useSaveRole = () =>
  useRoleChange(({ id, ...request }: RoleRequest & { readonly id: string | null }) =>
    id === null
      ? change<OwnRoleView[]>('POST', '/roles', request)
      : change<OwnRoleView[]>('PUT', `/roles/${id}`, request),
  );

export const useRemoveRole = () =>
  useRoleChange((id: string) => change<OwnRoleView[]>('DELETE', `/roles/${id}`));

/** Acts that take two people. */
export function useTwoPeople() {
  return useQuery({
    queryKey: [KEYS.accounts, 'two-people'],
    queryFn: () => get<TwoPeopleView>('/two-people'),
  });
}

export function useSetTwoPeople() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (kinds: readonly TwoPeopleKind[]) => change<TwoPeopleView>('PUT', '/two-people', { kinds }),
    onSuccess: () => void queries.invalidateQueries({ queryKey: [KEYS.accounts] }),
  });
}

/** Everybody's absences. */
export function useDeputies() {
  return useQuery({ queryKey: [KEYS.deputies, 'all'], queryFn: () => get<DeputyView[]>('/deputies') });
}

export function useOwnDeputies() {
  return useQuery({
    queryKey: [KEYS.deputies, 'own'],
    queryFn: () => get<DeputyView[]>('/own-account/deputies'),
  });
}

export function useNameDeputy() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (request: DeputyRequest) => change<DeputyView[]>('POST', '/own-account/deputies', request),
    onSuccess: () => void queries.invalidateQueries({ queryKey: [KEYS.deputies] }),
  });
}

export function useEndDeputy() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (id: string) => change<DeputyView[]>('DELETE', `/own-account/deputies/${id}`),
    onSettled: () => void queries.invalidateQueries({ queryKey: [KEYS.deputies] }),
  });
}

export function useServiceKeys() {
  return useQuery({
    queryKey: [KEYS.accounts, 'keys'],
    queryFn: () => get<ServiceKeyView[]>('/service-accounts/keys'),
  });
}

export function useAddService() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (request: ServiceAccountRequest) => change<void>('POST', '/service-accounts', request),
    onSuccess: () => void queries.invalidateQueries({ queryKey: [KEYS.accounts] }),
  });
}

export function useMakeKey() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ account, expiresAt }: { readonly account: string; readonly expiresAt: string }) =>
      change<NewServiceKeyView>('POST', `/service-accounts/${account}/keys`, { expiresAt }),
    onSuccess: () => void queries.invalidateQueries({ queryKey: [KEYS.accounts] }),
  });
}

export function useWithdrawKey() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (id: string) => change<void>('DELETE', `/service-accounts/keys/${id}`),
    onSettled: () => void queries.invalidateQueries({ queryKey: [KEYS.accounts] }),
  });
}
