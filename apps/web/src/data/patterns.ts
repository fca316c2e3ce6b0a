import type {
  LanternFileResult,
  LanternSet,
  PatternDetail,
  PatternSummary,
  SavedWordList,
} from '@lantern/contracts';
import type { ExpressionPattern } from '@lantern/core/detection';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { change, get } from './client';
import { KEYS } from './keys';

export interface WordListFields {
  readonly name: string;
  readonly about: string;
  readonly words: string;
  readonly threshold: number | null;
  readonly inside: boolean;
}

export function usePatterns() {
  return useQuery({ queryKey: [KEYS.patterns], queryFn: () => get<PatternSummary[]>('/patterns') });
}

/** Names of patterns by id, for sentences. */
export function usePatternNames(): ReadonlyMap<string, string> {
  const { data } = usePatterns();
  return new Map((data ?? []).map((pattern) => [pattern.id, pattern.name]));
}

export function usePattern(id: string) {
  return useQuery({
    queryKey: [KEYS.patterns, id],
    queryFn: () => get<PatternDetail>(`/patterns/${encodeURIComponent(id)}`),
  });
}

/** Creates a list, or saves one when `existing` says which version was edited. */
export function useSaveWordList(existing?: { id: string; version: number }) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (fields: WordListFields) =>
      existing
        ? change<SavedWordList>('PUT', `/patterns/${existing.id}`, { ...fields, version: existing.version })
        : change<SavedWordList>('POST', '/patterns', fields),
    onSuccess: (saved) => {
      queries.setQueryData([KEYS.patterns, saved.pattern.id], saved.pattern);
      void queries.invalidateQueries({ queryKey: [KEYS.patterns], exact: true });
    },
  });
}

export type ExpressionFieldsRequest = Omit<ExpressionPattern, 'origin' | 'id' | 'kind'>;

/** Creates an expression, or saves one when `existing` says which version was edited. */
export function useSaveExpression(existing?: { id: string; version: number }) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (fields: ExpressionFieldsRequest) =>
      existing
        ? change<PatternDetail>('PUT', `/patterns/${existing.id}/expression`, {
            ...fields,
            version: existing.version,
          })
        : change<PatternDetail>('POST', '/patterns/expressions', fields),
    onSuccess: (saved) => {
      queries.setQueryData([KEYS.patterns, saved.id], saved);
      void queries.invalidateQueries({ queryKey: [KEYS.patterns], exact: true });
      void queries.invalidateQueries({ queryKey: [KEYS.lanternSet] });
    },
  });
}

/** Saves weights of a ready pattern in the draft. */
export function useSaveWeights(id: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (request: { weights: Record<string, number>; version: number }) =>
      change<PatternDetail>('PUT', `/patterns/${encodeURIComponent(id)}/weights`, request),
    onSuccess: (saved) => {
      queries.setQueryData([KEYS.patterns, id], saved);
      void queries.invalidateQueries({ queryKey: [KEYS.patterns], exact: true });
      void queries.invalidateQueries({ queryKey: [KEYS.lanternSet] });
    },
  });
}

export function useRemovePattern() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (id: string) => change<void>('DELETE', `/patterns/${id}`),
    onSuccess: () => void queries.invalidateQueries({ queryKey: [KEYS.patterns], exact: true }),
  });
}

export function useLanternSet() {
  return useQuery({ queryKey: [KEYS.lanternSet], queryFn: () => get<LanternSet>('/lantern/set') });
}

/** Has the server read a file; it keeps nothing of it. */
export function inspectFile(file: File): Promise<LanternFileResult> {
  const form = new FormData();
  form.append('file', file, file.name);
  return change<LanternFileResult>('POST', '/lantern/files', form);
}
