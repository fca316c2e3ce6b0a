import type { SpecimenView } from '@lantern/contracts';
import type { Expected } from '@lantern/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { change, get } from './client';

export interface SpecimenFields {
  readonly name: string;
  readonly text: string;
  readonly expected: readonly Expected[];
}

/** Specimens that say something about one pattern. */
export function useSpecimens(pattern: string) {
  return useQuery({
    queryKey: ['specimens', pattern],
    queryFn: () => get<SpecimenView[]>(`/specimens?pattern=${encodeURIComponent(pattern)}`),
    enabled: pattern !== '',
  });
}

/** Keeps a new specimen, or changes one. */
export function useSaveSpecimen() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ id, ...fields }: SpecimenFields & { readonly id?: string | undefined }) =>
      id === undefined
        ? change<SpecimenView>('POST', '/specimens', fields)
        : change<SpecimenView>('PUT', `/specimens/${id}`, fields),
    onSuccess: () => void queries.invalidateQueries({ queryKey: ['specimens'] }),
  });
}

export function useRemoveSpecimen() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (id: string) => change<void>('DELETE', `/specimens/${id}`),
    onSuccess: () => void queries.invalidateQueries({ queryKey: ['specimens'] }),
  });
}
