import type {
  CleanUpPreview,
  CleanUpRequest,
  CleanUpView,
  FetchedView,
  FetchView,
  ItemActView,
  ItemGroups,
  ItemIncidentRequest,
  ItemQueryRequest,
  ItemQueryView,
  PlaceMovePreview,
  PlaceMoveRequest,
} from '@lantern/contracts/discovery';
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { change, get, makeFile } from './client';
import { useDiscoveryChange } from './discovery';
import { KEYS } from './keys';

export const useFetchItem = (item: string) =>
  useDiscoveryChange((reason: string) =>
    change<FetchView>('POST', `/discovery/items/${item}/fetches`, { reason }),
  );

/** A fetched item with its values: held by the screen that shows it, never by the cache. */
export function useOpenFetched() {
  return useMutation({
    gcTime: 0,
    mutationFn: (id: string) => change<FetchedView>('POST', `/discovery/fetches/${id}/opening`),
  });
}

export function useFetchedOriginal() {
  return useMutation({ mutationFn: (id: string) => makeFile(`/discovery/fetches/${id}/original`, {}) });
}

export const useItemIncident = (item: string) =>
  useDiscoveryChange((request: ItemIncidentRequest) =>
    change<{ readonly incident: number }>('POST', `/discovery/items/${item}/incident`, request),
  );

export function useCleanUpPreview(place: string | null) {
  return useQuery({
    queryKey: [KEYS.discovery, 'clean-up', place],
    queryFn: () => get<CleanUpPreview>(`/discovery/places/${place ?? ''}/clean-up`),
    enabled: place !== null,
  });
}

export const useAskCleanUp = (place: string) =>
  useDiscoveryChange((request: CleanUpRequest) =>
    change<CleanUpView>('POST', `/discovery/places/${place}/clean-ups`, request),
  );

export const useEndCleanUp = () =>
  useDiscoveryChange((id: string) => change<void>('POST', `/discovery/clean-ups/${id}/end`));

export function useMovePreview(from: string, to: string) {
  return useQuery({
    queryKey: [KEYS.discovery, 'move', from, to],
    queryFn: () => get<PlaceMovePreview>(`/discovery/places/${from}/move/${to}`),
    enabled: to !== '',
  });
}

export const useMovePlace = (from: string) =>
  useDiscoveryChange((request: PlaceMoveRequest) =>
    change<ItemActView>('POST', `/discovery/places/${from}/move`, request),
  );

export function useItemGroups(filter: string, by: string) {
  return useQuery({
    queryKey: [KEYS.discovery, 'groups', filter, by],
    queryFn: () => get<ItemGroups>(`/discovery/groups?${new URLSearchParams({ filter, by })}`),
    enabled: by !== '',
    placeholderData: keepPreviousData,
  });
}

export function useItemQueries() {
  return useQuery({
    queryKey: [KEYS.discovery, 'queries'],
    queryFn: () => get<ItemQueryView[]>('/discovery/queries'),
  });
}

/** A change of the saved queries answers with all of them. */
function useQueriesChange<Input>(send: (input: Input) => Promise<ItemQueryView[]>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: send,
    onSuccess: (all) => queries.setQueryData([KEYS.discovery, 'queries'], all),
  });
}

export const useSaveItemQuery = () =>
  useQueriesChange((request: ItemQueryRequest) =>
    change<ItemQueryView[]>('POST', '/discovery/queries', request),
  );

export const useRemoveItemQuery = () =>
  useQueriesChange((id: string) => change<ItemQueryView[]>('DELETE', `/discovery/queries/${id}`));
