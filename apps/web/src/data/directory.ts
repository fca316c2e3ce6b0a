import type {
  DirectoryChangeView,
  DirectoryComparison,
  ComparisonRequest,
  DirectoryNames,
  DirectoryPage,
  DirectoryPartner,
  DirectoryPerson,
  DirectoryServerRequest,
  DirectoryServerView,
  ScimView,
  DirectoryUpload,
  DirectoryUse,
  GroupRequest,
  GroupTrial,
  GroupView,
  OrganisationRequest,
  OrganisationView,
  PartnerRequest,
  PersonRequest,
} from '@lantern/contracts/directory';
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { change, get } from './client';
import { KEYS } from './keys';

/** Everything that the directory shows is asked again after a change of it. */
function useDirectoryChange<Input, Answer>(mutationFn: (input: Input) => Promise<Answer>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn,
    onSuccess: () => void queries.invalidateQueries({ queryKey: [KEYS.directory] }),
  });
}

export function useDirectoryPeople(typed: string, page: number) {
  return useQuery({
    queryKey: [KEYS.directory, 'people', typed, page],
    queryFn: () =>
      get<DirectoryPage>(
        `/directory/people?${new URLSearchParams({ typed, page: String(page) }).toString()}`,
      ),
    placeholderData: keepPreviousData,
  });
}

export function useDirectoryNames() {
  return useQuery({
    queryKey: [KEYS.directory, 'names'],
    queryFn: () => get<DirectoryNames>('/directory/names'),
  });
}

export type UseKind = 'person' | 'group' | 'department' | 'office' | 'domain';

export function useDirectoryUses(kind: UseKind, name: string) {
  return useQuery({
    queryKey: [KEYS.directory, 'uses', kind, name],
    queryFn: () => get<DirectoryUse[]>(`/directory/uses?${new URLSearchParams({ kind, name }).toString()}`),
    enabled: name !== '',
  });
}

export function useSavePerson(id: string | null) {
  return useDirectoryChange((request: PersonRequest) =>
    id === null
      ? change<DirectoryPerson>('POST', '/directory/people', request)
      : change<DirectoryPerson>('PUT', `/directory/people/${id}`, request),
  );
}

export function useRemovePerson() {
  return useDirectoryChange((id: string) => change<void>('DELETE', `/directory/people/${id}`));
}

export function useGroups() {
  return useQuery({
    queryKey: [KEYS.directory, 'groups'],
    queryFn: () => get<GroupView[]>('/directory/groups'),
  });
}

/** Who would be in a group as it is written. */
export function useTryGroup() {
  return useMutation({
    mutationFn: ({ request, of }: { readonly request: GroupRequest; readonly of: string | null }) =>
      change<GroupTrial>('POST', `/directory/groups/trials${of ? `?of=${of}` : ''}`, request),
  });
}

export function useSaveGroup(id: string | null) {
  return useDirectoryChange((request: GroupRequest) =>
    id === null
      ? change<GroupView>('POST', '/directory/groups', request)
      : change<GroupView>('PUT', `/directory/groups/${id}`, request),
  );
}

export function useRemoveGroup() {
  return useDirectoryChange((id: string) => change<void>('DELETE', `/directory/groups/${id}`));
}

export function useOrganisation() {
  return useQuery({
    queryKey: [KEYS.directory, 'organisation'],
    queryFn: () => get<OrganisationView>('/directory/organisation'),
  });
}

export function useSaveOrganisation() {
  return useDirectoryChange((request: OrganisationRequest) =>
    change<OrganisationView>('PUT', '/directory/organisation', request),
  );
}

export function usePartners() {
  return useQuery({
    queryKey: [KEYS.directory, 'partners'],
    queryFn: () => get<DirectoryPartner[]>('/directory/partners'),
  });
}

export function useSavePartner() {
  return useDirectoryChange((request: PartnerRequest) =>
    change<DirectoryPartner>('PUT', '/directory/partners', request),
  );
}

export function useRemovePartner() {
  return useDirectoryChange((address: string) =>
    change<void>('DELETE', `/directory/partners/${encodeURIComponent(address)}`),
  );
}

/** Hands a file of people over and says what it holds; nothing is compared yet. */
export function useUploadPeople() {
  return useMutation({
    mutationFn: (file: File) => {
      const form = new FormData();
      form.append('file', file, file.name);
      return change<DirectoryUpload>('POST', '/directory/uploads', form);
    },
  });
}

export function useCompare() {
  return useMutation({
    mutationFn: (request: ComparisonRequest) =>
      change<DirectoryComparison>('POST', '/directory/comparisons', request),
  });
}

/** A comparison that was made in the last hour, also after the page was loaded anew. */
export function useComparison(id: string | null) {
  return useQuery({
    queryKey: [KEYS.directory, 'look', id],
    queryFn: () => get<DirectoryComparison>(`/directory/comparisons/${id ?? ''}`),
    enabled: id !== null,
    retry: false,
    staleTime: Infinity,
  });
}

export function useTakeOver() {
  return useDirectoryChange(
    ({ id, leavingPercent }: { readonly id: string; readonly leavingPercent: number }) =>
      change<DirectoryChangeView>('POST', `/directory/comparisons/${id}/apply`, { leavingPercent }),
  );
}

export function useDirectoryHistory() {
  return useQuery({
    queryKey: [KEYS.directory, 'changes'],
    queryFn: () => get<DirectoryChangeView[]>('/directory/changes'),
  });
}

export function useDirectoryServer() {
  return useQuery({
    queryKey: [KEYS.directory, 'server'],
    queryFn: async () => (await get<DirectoryServerView[]>('/directory/server'))[0] ?? null,
  });
}

export function useSaveServer() {
  return useDirectoryChange((request: DirectoryServerRequest) =>
    change<DirectoryServerView>('PUT', '/directory/server', request),
  );
}

export function useRemoveServer() {
  return useDirectoryChange((_unused: undefined) => change<void>('DELETE', '/directory/server'));
}

/** What a provider sends comes without a notice here. */
const SCIM_EVERY_MS = 5_000;

export function useScim() {
  return useQuery({
    queryKey: [KEYS.directory, 'scim'],
    queryFn: () => get<ScimView>('/directory/scim'),
    refetchInterval: SCIM_EVERY_MS,
  });
}

export function useSetScim() {
  return useDirectoryChange((reviewed: boolean) => change<ScimView>('PUT', '/directory/scim', { reviewed }));
}

export function useCompareScim() {
  return useMutation({
    mutationFn: () => change<DirectoryComparison>('POST', '/directory/scim/comparisons', {}),
  });
}
