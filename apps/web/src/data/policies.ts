import type {
  PublishRequest,
  CeilingRecord,
  Comparison,
  CoverageView,
  DraftView,
  ExchangeView,
  PolicyView,
  RevisionView,
  MachineView,
  SpotGroupView,
  TextView,
} from '@lantern/contracts';
import type { AnswerText, Exchange, Policy, SpotGroup } from '@lantern/core/policy';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { change, get } from './client';
import { useLabels } from './labels';
import { usePatternNames } from './patterns';
import { KEYS } from './keys';

export type PolicyFields = Omit<Policy, 'id'>;

/** A policy without what the address carries. */
function fieldsOf(policy: PolicyFields & { readonly id?: unknown }): PolicyFields {
  const { id: _id, ...fields } = policy;
  return fields;
}

export function usePolicies() {
  return useQuery({ queryKey: [KEYS.policies], queryFn: () => get<PolicyView[]>('/policies') });
}

export function usePolicy(id: string) {
  return useQuery({ queryKey: [KEYS.policies, id], queryFn: () => get<PolicyView>(`/policies/${id}`) });
}

export function savePolicy(id: string, policy: PolicyFields, version: number): Promise<PolicyView> {
  return change<PolicyView>('PUT', `/policies/${id}`, { policy: fieldsOf(policy), version });
}

export function useCreatePolicy() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (policy: PolicyFields) =>
      change<PolicyView>('POST', '/policies', { policy: fieldsOf(policy) }),
    onSuccess: () => void queries.invalidateQueries({ queryKey: [KEYS.policies] }),
  });
}

export function useRemovePolicy() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (id: string) => change<void>('DELETE', `/policies/${id}`),
    onSuccess: () => void queries.invalidateQueries({ queryKey: [KEYS.policies] }),
  });
}

export function useOrderPolicies() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (policies: readonly string[]) => change<PolicyView[]>('PUT', '/policies/order', { policies }),
    onSettled: () => void queries.invalidateQueries({ queryKey: [KEYS.policies] }),
  });
}

export function useTexts() {
  return useQuery({ queryKey: [KEYS.texts], queryFn: () => get<TextView[]>('/texts') });
}

export function useExchanges() {
  return useQuery({ queryKey: [KEYS.exchanges], queryFn: () => get<ExchangeView[]>('/exchanges') });
}

export function useSpotGroups() {
  return useQuery({ queryKey: [KEYS.spots], queryFn: () => get<SpotGroupView[]>('/spots') });
}

/** Machines of the directory. */
export function useMachines() {
  return useQuery({
    queryKey: [KEYS.people, 'machines'],
    queryFn: () => get<MachineView[]>('/people/machines'),
  });
}

/** Paths of places that rules can name. */
export function usePlacePaths() {
  return useQuery({ queryKey: [KEYS.people, 'places'], queryFn: () => get<string[]>('/people/places') });
}

/** Names of patterns, texts, exchanges and groups of spots, by id, for sentences. */
export function useNames(): ReadonlyMap<string, string> {
  const patterns = usePatternNames();
  const texts = useTexts();
  const exchanges = useExchanges();
  const groups = useSpotGroups();
  const labels = useLabels();
  return new Map([
    ...patterns,
    ...(labels.data?.labels ?? []).map(({ label }) => [String(label.id), label.name] as const),
    ...(groups.data ?? []).map(({ spots }) => [String(spots.id), spots.name] as const),
    ...(texts.data ?? []).map(({ text }) => [String(text.id), text.name] as const),
    ...(exchanges.data ?? []).map(({ exchange }) => [String(exchange.id), exchange.name] as const),
  ]);
}

interface ToSave<Thing> {
  /** Null for a new one. */
  readonly id: string | null;
  readonly value: Thing;
  readonly version: number;
}

type Part = 'texts' | 'exchanges' | 'spots';

function usePartSave<Thing>(path: Part, field: 'text' | 'exchange' | 'spots') {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ id, value, version }: ToSave<Thing>) =>
      id === null
        ? change<unknown>('POST', `/${path}`, { [field]: value })
        : change<unknown>('PUT', `/${path}/${id}`, { [field]: value, version }),
    onSuccess: () => void queries.invalidateQueries({ queryKey: [path] }),
  });
}

export const useSaveText = () => usePartSave<Omit<AnswerText, 'id'>>('texts', 'text');
export const useSaveExchange = () => usePartSave<Omit<Exchange, 'id'>>('exchanges', 'exchange');

export const useSaveSpotGroup = () => usePartSave<Omit<SpotGroup, 'id'>>('spots', 'spots');

export function useRemovePart(path: Part) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (id: string) => change<void>('DELETE', `/${path}/${id}`),
    onSuccess: () => void queries.invalidateQueries({ queryKey: [path] }),
  });
}

export function useDraft() {
  return useQuery({ queryKey: [KEYS.draft], queryFn: () => get<DraftView>('/revisions/draft') });
}

export function useRevisions() {
  return useQuery({ queryKey: [KEYS.revisions], queryFn: () => get<RevisionView[]>('/revisions') });
}

/** What differs between a revision and another, or the drafts for null. */
export function useComparison(from: number | null, to: number | null) {
  return useQuery({
    queryKey: [KEYS.draft, 'comparison', from, to],
    queryFn: () => get<Comparison>(`/revisions/${from ?? 0}/changes${to === null ? '' : `?to=${to}`}`),
    enabled: from !== null,
  });
}

export function usePublish() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (request: PublishRequest) => change<RevisionView>('POST', '/revisions', request),
    onSuccess: () => void queries.invalidateQueries(),
    // The first of two people leaves a word on the drafts.
    onError: () => void queries.invalidateQueries({ queryKey: [KEYS.draft] }),
  });
}

export function useRollBack() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ number, reason }: { number: number; reason: string }) =>
      change<RevisionView>('POST', `/revisions/${number}/again`, { reason }),
    onSuccess: () => void queries.invalidateQueries(),
  });
}

export function useCoverage(of: 'published' | 'drafts') {
  return useQuery({
    queryKey: [KEYS.draft, 'coverage', of],
    queryFn: () => get<CoverageView>(`/coverage?of=${of}`),
  });
}

export function useCeilingRecord(policy: string) {
  return useQuery({
    queryKey: [KEYS.incidents, 'ceiling', policy],
    queryFn: () => get<CeilingRecord>(`/coverage/ceilings/${policy}`),
  });
}
