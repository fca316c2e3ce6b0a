import type { JournalFigures, JudgedSpecimen, SpecimenView } from '@lantern/contracts';
import type { Expected } from '@lantern/core/detection';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { change, get } from './client';
import { KEYS } from './keys';

export interface SpecimenFields {
  readonly name: string;
  readonly text: string;
  readonly expected: readonly Expected[];
}

/** Specimens that say something about one pattern. */
export function useSpecimens(pattern: string) {
  return useQuery({
    queryKey: [KEYS.specimens, pattern],
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
    onSuccess: () => void queries.invalidateQueries({ queryKey: [KEYS.specimens] }),
  });
}

export function useRemoveSpecimen() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (id: string) => change<void>('DELETE', `/specimens/${id}`),
    onSuccess: () => void queries.invalidateQueries({ queryKey: [KEYS.specimens] }),
  });
}

/** How specimens come out with the drafts, where only the server can judge them. */
export function useJudgedSpecimens(pattern: string) {
  return useQuery({
    queryKey: [KEYS.specimens, pattern, 'judged'],
    queryFn: () => get<JudgedSpecimen[]>(`/specimens/judged?pattern=${encodeURIComponent(pattern)}`),
    enabled: pattern !== '',
  });
}

/** A pattern that is being written, over the newest kept movements. */
export function useJournalFigures(pattern: string, written: object | null) {
  return useQuery({
    queryKey: [KEYS.specimens, pattern, 'journal', JSON.stringify(written)],
    queryFn: () => change<JournalFigures>('POST', '/specimens/journal', { pattern, written }),
    enabled: written !== null,
    staleTime: 300_000,
    retry: 1,
    placeholderData: (before) => before,
  });
}
