import type {
  DeletePersonDataRequest,
  EndHoldRequest,
  HoldRequest,
  HoldView,
  KeptKind,
  KeptTrial,
  KeptView,
  KeysView,
  PersonData,
} from '@lantern/contracts/retention';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { change, get } from './client';
import { KEYS } from './keys';

export function useKept() {
  return useQuery({
    queryKey: [KEYS.retention, 'kinds'],
    queryFn: () => get<KeptView[]>('/retention/kinds'),
  });
}

export interface KeptDays {
  readonly kind: KeptKind;
  readonly days: number | null;
}

/** What so many days would delete now. */
export function useTryDays() {
  return useMutation({
    mutationFn: ({ kind, days }: KeptDays) =>
      change<KeptTrial>('POST', `/retention/kinds/${kind}/trials`, { days }),
  });
}

function useRetentionChange<Input, Answer>(mutationFn: (input: Input) => Promise<Answer>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn,
    onSettled: () => void queries.invalidateQueries({ queryKey: [KEYS.retention] }),
  });
}

export function useSetDays() {
  return useRetentionChange(({ kind, days }: KeptDays) =>
    change<KeptView[]>('PUT', `/retention/kinds/${kind}`, { days }),
  );
}

const KEYS_EVERY_MS = 1_000;

/** Asked again and again while the master key changes. */
export function useKeptKeys() {
  return useQuery({
    queryKey: [KEYS.retention, 'keys'],
    queryFn: () => get<KeysView>('/retention/keys'),
    refetchInterval: ({ state }) => (state.data?.running ? KEYS_EVERY_MS : false),
  });
}

export function useChangeMasterKey() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: () => change<KeysView>('POST', '/retention/keys/changes', {}),
    onSuccess: (view) => queries.setQueryData([KEYS.retention, 'keys'], view),
  });
}

export function useHolds() {
  return useQuery({
    queryKey: [KEYS.retention, 'holds'],
    queryFn: () => get<HoldView[]>('/retention/holds'),
  });
}

export function useAddHold() {
  return useRetentionChange((request: HoldRequest) => change<HoldView>('POST', '/retention/holds', request));
}

export function useEndHold() {
  return useRetentionChange(({ id, ...request }: EndHoldRequest & { readonly id: string }) =>
    change<HoldView>('POST', `/retention/holds/${id}/end`, request),
  );
}

export function usePersonData(address: string) {
  return useQuery({
    queryKey: [KEYS.retention, 'person', address],
    queryFn: () => get<PersonData>(`/retention/people?${new URLSearchParams({ address }).toString()}`),
    enabled: address !== '',
  });
}

export function useDeletePersonData() {
  return useRetentionChange((request: DeletePersonDataRequest) =>
    change<PersonData>('POST', '/retention/people/deletion', request),
  );
}
