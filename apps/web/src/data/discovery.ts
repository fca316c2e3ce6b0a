import type { ReaderCode, ReaderCost, ReaderView } from '@lantern/contracts';
import type {
  DiscoveryPlaceView,
  ItemActRequest,
  ItemActView,
  ItemDetail,
  ItemFacets,
  ItemOrder,
  ItemPage,
  JobEstimate,
  JobRequest,
  JobView,
  PlaceLabelPreview,
  PlaceRequest,
  RunsCompared,
  WatchGroupView,
  WatchRequest,
  WithdrawPreview,
} from '@lantern/contracts/discovery';
import {
  keepPreviousData,
  useInfiniteQuery,
  useMutation,
  useQuery,
  useQueryClient,
} from '@tanstack/react-query';
import { change, get } from './client';
import { KEYS } from './keys';

/** Whether a reader is silent is told by the clock, not by an event. */
const LOOK_EVERY_MS = 15_000;

export function useDiscoveryPlaces() {
  return useQuery({
    queryKey: [KEYS.discovery, 'places'],
    queryFn: () => get<DiscoveryPlaceView[]>('/discovery/places'),
    refetchInterval: LOOK_EVERY_MS,
  });
}

export function useJobs() {
  return useQuery({
    queryKey: [KEYS.discovery, 'jobs'],
    queryFn: () => get<JobView[]>('/discovery/jobs'),
    refetchInterval: LOOK_EVERY_MS,
  });
}

export function useEstimate(places: readonly string[]) {
  return useQuery({
    queryKey: [KEYS.discovery, 'estimate', places.join()],
    queryFn: () => get<JobEstimate>(`/discovery/estimate?places=${places.join()}`),
    enabled: places.length > 0,
    placeholderData: keepPreviousData,
  });
}

export function useReaders() {
  return useQuery({
    queryKey: [KEYS.discovery, 'readers'],
    queryFn: () => get<ReaderView[]>('/discovery/readers'),
    refetchInterval: LOOK_EVERY_MS,
  });
}

export function useCompared(from: string | null, to: string | null) {
  return useQuery({
    queryKey: [KEYS.discovery, 'compared', from, to],
    queryFn: () => get<RunsCompared>(`/discovery/compared-runs?from=${from ?? ''}&to=${to ?? ''}`),
    enabled: from !== null && to !== null,
  });
}

export function useItems(filter: string, order: ItemOrder) {
  return useInfiniteQuery({
    queryKey: [KEYS.discovery, 'items', filter, order],
    queryFn: ({ pageParam }) => {
      const query = new URLSearchParams({ filter, order, ...(pageParam ? { after: pageParam } : {}) });
      return get<ItemPage>(`/discovery/items?${query}`);
    },
    initialPageParam: '',
    getNextPageParam: ({ next }) => next ?? undefined,
    placeholderData: keepPreviousData,
  });
}

export function useFacets(filter: string) {
  return useQuery({
    queryKey: [KEYS.discovery, 'facets', filter],
    queryFn: () => get<ItemFacets>(`/discovery/facets?${new URLSearchParams({ filter })}`),
    placeholderData: keepPreviousData,
  });
}

export function useItem(id: string | null) {
  return useQuery({
    queryKey: [KEYS.discovery, 'item', id],
    queryFn: () => get<ItemDetail>(`/discovery/items/${id ?? ''}`),
    enabled: id !== null,
  });
}

export function useActs() {
  return useQuery({
    queryKey: [KEYS.discovery, 'acts'],
    queryFn: () => get<ItemActView[]>('/discovery/acts'),
  });
}

export function useWithdrawPreview(place: string | null) {
  return useQuery({
    queryKey: [KEYS.discovery, 'withdraw', place],
    queryFn: () => get<WithdrawPreview>(`/discovery/places/${place ?? ''}/withdraw`),
    enabled: place !== null,
  });
}

/** A change of discovery: everything of it is asked for again. */
export function useDiscoveryChange<Input, Answer = void>(send: (input: Input) => Promise<Answer>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: send,
    onSettled: () => {
      void queries.invalidateQueries({ queryKey: [KEYS.discovery] });
      void queries.invalidateQueries({ queryKey: [KEYS.overview] });
    },
  });
}

type Saved = { readonly id: string };

export const useSavePlace = () =>
  useDiscoveryChange(({ id, request }: { readonly id: string | null; readonly request: PlaceRequest }) =>
    id === null
      ? change<Saved>('POST', '/discovery/places', request)
      : change<Saved>('PUT', `/discovery/places/${id}`, request),
  );

export const useRemovePlace = () =>
  useDiscoveryChange((id: string) => change<void>('DELETE', `/discovery/places/${id}`));

export const useCheckPlace = () =>
  useDiscoveryChange((id: string) => change<void>('POST', `/discovery/places/${id}/check`));

/** What a label would end at a place; null is no label. */
export function usePlaceLabelPreview(id: string, label: string | null) {
  return useQuery({
    queryKey: [KEYS.discovery, 'label-preview', id, label],
    queryFn: () => get<PlaceLabelPreview>(`/discovery/places/${id}/label-preview/${label ?? 'none'}`),
  });
}

/** What groups of machines watch. */
export function useWatching() {
  return useQuery({
    queryKey: [KEYS.discovery, 'watching'],
    queryFn: () => get<WatchGroupView[]>('/discovery/watching'),
  });
}

const ofGroup = (group: string): string => `/discovery/watching/${encodeURIComponent(group)}`;

export const useSaveGroupDraft = () =>
  useDiscoveryChange(({ group, request }: { readonly group: string; readonly request: WatchRequest }) =>
    change<Saved>('PUT', `${ofGroup(group)}/draft`, request),
  );

export const useDiscardGroupDraft = () =>
  useDiscoveryChange(({ group, draft }: { readonly group: string; readonly draft: string }) =>
    change<void>('DELETE', `${ofGroup(group)}/draft/${draft}`),
  );

export const usePutGroupInForce = () =>
  useDiscoveryChange(({ group, draft }: { readonly group: string; readonly draft: string }) =>
    change<void>('POST', `${ofGroup(group)}/settings`, { draft }),
  );

export const useLabelPlace = () =>
  useDiscoveryChange(({ id, label }: { readonly id: string; readonly label: string | null }) =>
    change<void>('PUT', `/discovery/places/${id}/label`, { label }),
  );

export const useWithdraw = () =>
  useDiscoveryChange((id: string) => change<void>('POST', `/discovery/places/${id}/withdraw`));

export const useSaveJob = () =>
  useDiscoveryChange(({ id, request }: { readonly id: string | null; readonly request: JobRequest }) =>
    id === null
      ? change<Saved>('POST', '/discovery/jobs', request)
      : change<Saved>('PUT', `/discovery/jobs/${id}`, request),
  );

export const useRemoveJob = () =>
  useDiscoveryChange((id: string) => change<void>('DELETE', `/discovery/jobs/${id}`));

export const useStartRun = () =>
  useDiscoveryChange((job: string) => change<Saved>('POST', `/discovery/jobs/${job}/runs`));

export const useRunStep = () =>
  useDiscoveryChange(({ id, step }: { readonly id: string; readonly step: 'pause' | 'resume' | 'stop' }) =>
    change<void>('POST', `/discovery/runs/${id}/${step}`),
  );

export const useReaderCode = () =>
  useDiscoveryChange((group: string) => change<ReaderCode>('POST', '/discovery/readers/codes', { group }));

export const useReaderCost = () =>
  useDiscoveryChange(({ id, cost }: { readonly id: string; readonly cost: ReaderCost }) =>
    change<void>('PUT', `/discovery/readers/${id}/cost`, cost),
  );

export const useCostOfGroup = () =>
  useDiscoveryChange((id: string) => change<void>('DELETE', `/discovery/readers/${id}/cost`));

export const useOwnRecords = () =>
  useDiscoveryChange(({ id, allowed }: { readonly id: string; readonly allowed: boolean }) =>
    change<void>('PUT', `/discovery/readers/${id}/own-records`, { allowed }),
  );

export const useWithdrawReader = () =>
  useDiscoveryChange((id: string) => change<void>('DELETE', `/discovery/readers/${id}`));

export const useAct = () =>
  useDiscoveryChange((request: ItemActRequest) => change<ItemActView>('POST', '/discovery/acts', request));
