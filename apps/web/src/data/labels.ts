import type {
  ImportLabelsResult,
  LabelChangePage,
  LabelHistoryEntry,
  LabelReview,
  LabelRunExpectation,
  LabelRunPage,
  LabelRunView,
  LabelSetText,
  LabelsView,
  PlaceView,
  SignOffView,
} from '@lantern/contracts';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { change, get } from './client';
import { KEYS } from './keys';

export type LabelKind = 'labels' | 'offers' | 'automatic';
const FIELD = { labels: 'label', offers: 'offer', automatic: 'automatic' } as const;

export function useLabels() {
  return useQuery({ queryKey: [KEYS.labels], queryFn: () => get<LabelsView>('/labels') });
}

export function useLabelReview() {
  return useQuery({ queryKey: [KEYS.labels, 'review'], queryFn: () => get<LabelReview>('/labels/review') });
}

export function useLabelText() {
  return useQuery({ queryKey: [KEYS.labels, 'text'], queryFn: () => get<LabelSetText>('/labels/text') });
}

export function useLabelHistory(id: string) {
  return useQuery({
    queryKey: [KEYS.labels, 'history', id],
    queryFn: () => get<LabelHistoryEntry[]>(`/labels/history/${id}`),
  });
}

export interface LabelSave {
  /** Null for a new one. */
  readonly id: string | null;
  readonly value: { readonly id?: unknown; readonly name: string };
  readonly version: number;
  readonly note: string;
}

export function useSaveLabel(kind: LabelKind) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ id, value, version, note }: LabelSave) => {
      const { id: _id, ...fields } = value;
      return id === null
        ? change<{ id: string }>('POST', `/labels/${kind}`, { [FIELD[kind]]: fields, note })
        : change<undefined>('PUT', `/labels/${kind}/${id}`, { [FIELD[kind]]: fields, version, note });
    },
    onSuccess: () => void queries.invalidateQueries({ queryKey: [KEYS.labels] }),
  });
}

export function useRemoveLabel(kind: LabelKind) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (id: string) => change<void>('DELETE', `/labels/${kind}/${id}`),
    onSuccess: () => void queries.invalidateQueries({ queryKey: [KEYS.labels] }),
  });
}

export function useSignOff() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (request: { agrees: boolean; words: string; fingerprint: string }) =>
      change<SignOffView[]>('POST', '/labels/sign-offs', request),
    onSuccess: () => void queries.invalidateQueries({ queryKey: [KEYS.labels] }),
  });
}

export function useImportLabels() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (request: { text: string; onlyLook: boolean }) =>
      change<ImportLabelsResult>('POST', '/labels/text', request),
    onSuccess: () => void queries.invalidateQueries({ queryKey: [KEYS.labels] }),
  });
}

export function useLabelChanges(query: string) {
  return useQuery({
    queryKey: [KEYS.labels, 'changes', query],
    queryFn: () => get<LabelChangePage>(`/labels/changes?${query}`),
  });
}

export function usePlaces() {
  return useQuery({ queryKey: [KEYS.places], queryFn: () => get<PlaceView[]>('/places') });
}

export function useLabelRuns() {
  return useQuery({ queryKey: [KEYS.labelRuns], queryFn: () => get<LabelRunView[]>('/label-runs') });
}

export function useExpectation(places: readonly string[]) {
  return useQuery({
    queryKey: [KEYS.labelRuns, 'expectation', places.join()],
    queryFn: () => get<LabelRunExpectation>(`/label-runs/expectation?places=${places.join()}`),
  });
}

export function useRunItems(id: string, query: string) {
  return useQuery({
    queryKey: [KEYS.labelRuns, id, 'items', query],
    queryFn: () => get<LabelRunPage>(`/label-runs/${id}/items?${query}`),
  });
}

export function useStartRun() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (request: {
      does: 'look' | 'label';
      look?: string;
      places: string[];
      rules: string[];
      pace?: number;
    }) => change<LabelRunView>('POST', '/label-runs', request),
    onSuccess: () => void queries.invalidateQueries({ queryKey: [KEYS.labelRuns] }),
  });
}

export function useRunAct() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ id, act }: { id: string; act: 'stop' | 'resume' | 'undo' }) =>
      change<unknown>('POST', `/label-runs/${id}/${act}`),
    onSuccess: () => void queries.invalidateQueries({ queryKey: [KEYS.labelRuns] }),
  });
}
