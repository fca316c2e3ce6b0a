import type {
  CommonValue,
  FieldValue,
  GroupPage,
  IncidentRow,
  ListCounts,
  ListOrder,
  ListPage,
  MatchRow,
  MovementRow,
} from '@lantern/contracts';
import type { FieldName, Listed } from '@lantern/core/incidents';
import {
  type InfiniteData,
  keepPreviousData,
  type QueryClient,
  useInfiniteQuery,
  useQuery,
} from '@tanstack/react-query';
import { get } from './client';
import { KEYS } from './keys';

export type ListedRow = IncidentRow | MatchRow | MovementRow;

/** Rows fetched at once: three screens. */
const PAGE = 100;
const PAGES = 'pages';

const query = (fields: Readonly<Record<string, string>>): string => new URLSearchParams(fields).toString();

/** Pages of a list, fetched as they come into sight. */
export function useListPages(listed: Listed, filter: string, order: ListOrder, enabled = true) {
  return useInfiniteQuery({
    queryKey: [KEYS.incidents, PAGES, listed, filter, order],
    queryFn: ({ pageParam }) =>
      get<ListPage<ListedRow>>(
        `/${listed}?${query({ filter, order, limit: String(PAGE), ...(pageParam ? { after: pageParam } : {}) })}`,
      ),
    initialPageParam: '',
    getNextPageParam: ({ next }) => next,
    placeholderData: keepPreviousData,
    enabled,
  });
}

export function useListCounts(filter: string) {
  return useQuery({
    queryKey: [KEYS.incidents, 'counts', filter],
    queryFn: () => get<ListCounts>(`/incidents/counts?${query({ filter })}`),
    placeholderData: keepPreviousData,
  });
}

export function useFieldValues(
  {
    listed,
    filter,
    field,
  }: { readonly listed: Listed; readonly filter: string; readonly field: FieldName | null },
  search: string,
) {
  return useQuery({
    queryKey: [KEYS.incidents, 'values', listed, filter, field, search],
    queryFn: () =>
      get<FieldValue[]>(
        `/incidents/values?${query({ listed, filter, field: field ?? '', ...(search ? { search } : {}) })}`,
      ),
    enabled: field !== null,
    placeholderData: keepPreviousData,
  });
}

export function useGroups(filter: string, by: readonly FieldName[]) {
  return useQuery({
    queryKey: [KEYS.incidents, 'groups', filter, by.join()],
    queryFn: () => get<GroupPage>(`/incidents/groups?${query({ filter, by: by.join() })}`),
    enabled: by.length > 0,
    placeholderData: keepPreviousData,
  });
}

export function useCommon(filter: string, enabled: boolean) {
  return useQuery({
    queryKey: [KEYS.incidents, 'common', filter],
    queryFn: () => get<CommonValue[]>(`/incidents/common?${query({ filter })}`),
    enabled,
  });
}

/** Shows one changed incident in every list that is loaded, where it stands: the queue never loses its place. */
export async function patchIncident(queries: QueryClient, number: number): Promise<void> {
  const { rows } = await get<ListPage<IncidentRow>>(
    `/incidents?${query({ filter: `number eq ${number}`, limit: '1' })}`,
  );
  const [row] = rows;
  if (!row) return;
  queries.setQueriesData<InfiniteData<ListPage<ListedRow>>>(
    { queryKey: [KEYS.incidents, PAGES, 'incidents'] },
    (data) =>
      data && { ...data, pages: data.pages.map((page) => ({ ...page, rows: page.rows.map(patched) })) },
  );
  function patched(known: ListedRow): ListedRow {
    return row && 'number' in known && known.number === row.number ? row : known;
  }
}
