import type {
  AlikeView,
  Around,
  AroundView,
  AssigneeView,
  BulkRequest,
  BulkView,
  CaseView,
  DeskSettingView,
  DeskViewView,
  PresenceView,
  RemarksView,
  ViewRequest,
} from '@lantern/contracts';
import {
  keepPreviousData,
  type QueryClient,
  useMutation,
  useQuery,
  useQueryClient,
} from '@tanstack/react-query';
import { change, get } from './client';
import { KEYS } from './keys';

/** So often a browser says that an incident is open. */
const PRESENT_MS = 15_000;

export function useAlike(number: number) {
  return useQuery({
    queryKey: [KEYS.incident, number, 'alike'],
    queryFn: () => get<AlikeView>(`/incidents/${number}/alike`),
  });
}

export function useCase(number: number, enabled: boolean) {
  return useQuery({
    queryKey: [KEYS.incident, number, 'case'],
    queryFn: () => get<CaseView>(`/incidents/${number}/case`),
    enabled,
  });
}

export function useLeaveCase() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (number: number) => change<void>('DELETE', `/incidents/${number}/case`),
    onSuccess: () => void queries.invalidateQueries({ queryKey: [KEYS.incident] }),
  });
}

export function useAround(
  number: number,
  about: Around,
  span: { readonly from: string; readonly to: string },
) {
  const { from, to } = span;
  return useQuery({
    queryKey: [KEYS.incident, number, 'around', about, from, to],
    queryFn: () =>
      get<AroundView>(
        `/incidents/around?${new URLSearchParams({ about, incident: String(number), from, to }).toString()}`,
      ),
    placeholderData: keepPreviousData,
  });
}

export function useRemarks(number: number) {
  return useQuery({
    queryKey: [KEYS.incident, number, 'remarks'],
    queryFn: () => get<RemarksView>(`/incidents/${number}/remarks`),
  });
}

/** Names of others who have the incident open. */
export function usePresence(number: number) {
  return useQuery({
    queryKey: [KEYS.presence, number],
    queryFn: () => get<PresenceView>(`/incidents/${number}/presence`),
    refetchInterval: PRESENT_MS,
    staleTime: 0,
  });
}

export function useAssignees() {
  return useQuery({
    queryKey: [KEYS.incidents, 'assignees'],
    queryFn: () => get<AssigneeView[]>('/incidents/assignees'),
  });
}

export function useDeskViews() {
  return useQuery({ queryKey: [KEYS.deskViews], queryFn: () => get<DeskViewView[]>('/desk/views') });
}

function useViewChange<Request>(send: (request: Request) => Promise<DeskViewView[]>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: send,
    onSuccess: (views) => queries.setQueryData([KEYS.deskViews], views),
  });
}

export const useAddView = () =>
  useViewChange((request: ViewRequest) => change<DeskViewView[]>('POST', '/desk/views', request));
export const useChangeView = () =>
  useViewChange(({ id, ...request }: ViewRequest & { readonly id: string }) =>
    change<DeskViewView[]>('PUT', `/desk/views/${id}`, request),
  );
export const useDeleteView = () =>
  useViewChange((id: string) => change<DeskViewView[]>('DELETE', `/desk/views/${id}`));

export function useDeskSetting() {
  return useQuery({
    queryKey: [KEYS.deskSetting],
    queryFn: () => get<DeskSettingView>('/desk/setting'),
  });
}

export function useSetDesk() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (request: DeskSettingView) => change<DeskSettingView>('PUT', '/desk/setting', request),
    onSuccess: (setting) => {
      queries.setQueryData([KEYS.deskSetting], setting);
      void queries.invalidateQueries({ queryKey: [KEYS.incidents] });
    },
  });
}

export function useBulk(id: string | null) {
  return useQuery({
    queryKey: [KEYS.bulk, id],
    queryFn: () => get<BulkView>(`/bulk-decisions/${id ?? ''}`),
    enabled: id !== null,
  });
}

export function useBulkList() {
  return useQuery({ queryKey: [KEYS.bulk], queryFn: () => get<BulkView[]>('/bulk-decisions') });
}

export function useBeginBulk() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (request: BulkRequest) => change<BulkView>('POST', '/bulk-decisions', request),
    onSuccess: (bulk) => keepBulk(queries, bulk),
  });
}

export function useBulkStep(step: 'stop' | 'undo') {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (id: string) => change<BulkView>('POST', `/bulk-decisions/${id}/${step}`),
    onSuccess: (bulk) => keepBulk(queries, bulk),
  });
}

/**
 * Shows the answer and asks again: a short decision may have ended, and its last event have come, before
 * the answer did, and no event would follow.
 */
function keepBulk(queries: QueryClient, bulk: BulkView): void {
  queries.setQueryData([KEYS.bulk, bulk.id], bulk);
  void queries.invalidateQueries({ queryKey: [KEYS.bulk, bulk.id] });
}
