import type {
  MachineComparison,
  MachineGroupRequest,
  MachineGroupTrial,
  MachineGroupView,
  MachineListPage,
  PlaceComparison,
  PlaceListView,
} from '@lantern/contracts/machines';
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { change, get } from './client';
import { KEYS } from './keys';

export function useMachineList(typed: string) {
  return useQuery({
    queryKey: [KEYS.directory, 'machines', typed],
    queryFn: () => get<MachineListPage>(`/directory/machines?typed=${encodeURIComponent(typed)}`),
    placeholderData: keepPreviousData,
  });
}

export function useMachineGroups() {
  return useQuery({
    queryKey: [KEYS.directory, 'machine-groups'],
    queryFn: () => get<MachineGroupView[]>('/directory/machine-groups'),
  });
}

export interface MachineFile {
  readonly file: File;
  readonly whole: boolean;
}

/** Compares an inventory with the machines; nothing is changed. */
export function useCompareMachines() {
  return useMutation({
    mutationFn: ({ file, whole }: MachineFile) => {
      const form = new FormData();
      form.append('file', file, file.name);
      return change<MachineComparison>('POST', `/directory/machines/comparisons?whole=${whole}`, form);
    },
  });
}

function useMachineChange<Input, Answer>(mutationFn: (input: Input) => Promise<Answer>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn,
    onSuccess: () => void queries.invalidateQueries({ queryKey: [KEYS.directory] }),
  });
}

export function useApplyMachines() {
  return useMachineChange(
    ({ id, leavingPercent }: { readonly id: string; readonly leavingPercent: number }) =>
      change<MachineListPage>('POST', `/directory/machines/comparisons/${id}/apply`, { leavingPercent }),
  );
}

export function usePlaceList() {
  return useQuery({
    queryKey: [KEYS.directory, 'places'],
    queryFn: () => get<PlaceListView[]>('/directory/places'),
  });
}

/** Compares a list of places with those that there are; nothing is changed. */
export function useComparePlaces() {
  return useMutation({
    mutationFn: (file: File) => {
      const form = new FormData();
      form.append('file', file, file.name);
      return change<PlaceComparison>('POST', '/directory/places/comparisons', form);
    },
  });
}

export function useApplyPlaces() {
  return useMachineChange((id: string) =>
    change<PlaceListView[]>('POST', `/directory/places/comparisons/${id}/apply`, {}),
  );
}

export function useTryMachineGroup() {
  return useMutation({
    mutationFn: ({ request, of }: { readonly request: MachineGroupRequest; readonly of: string | null }) =>
      change<MachineGroupTrial>(
        'POST',
        `/directory/machine-groups/trials${of === null ? '' : `?of=${of}`}`,
        request,
      ),
  });
}

/** Changes a group, or adds one where no id is given. */
export function useSaveMachineGroup(id: string | null) {
  return useMachineChange((request: MachineGroupRequest) =>
    id === null
      ? change<MachineGroupView[]>('POST', '/directory/machine-groups', request)
      : change<MachineGroupView[]>('PUT', `/directory/machine-groups/${id}`, request),
  );
}

export function useRemoveMachineGroup() {
  return useMachineChange((id: string) =>
    change<MachineGroupView[]>('DELETE', `/directory/machine-groups/${id}`),
  );
}
