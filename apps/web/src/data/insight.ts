import type { PatternDetail } from '@lantern/contracts';
import type {
  ChangesView,
  CutField,
  GuardView,
  ImprovementsView,
  MostView,
  PreventionView,
  PreventView,
  ReasonView,
  ReportRunDetail,
  ReportSummary,
  RuleCostView,
  ScheduledReportRequest,
  ScheduleRequest,
  ScheduleView,
  WeightsLearnedView,
  WhyView,
} from '@lantern/contracts/insight';
import type { Listed } from '@lantern/core/incidents';
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { change, get } from './client';
import { KEYS } from './keys';

/** A period by the reader's clock, and the filter over it. */
export interface PeriodAsked {
  readonly from: string;
  readonly to: string;
  readonly zone: string;
  readonly filter: string;
}

const query = (fields: Readonly<Record<string, string | undefined>>): string =>
  new URLSearchParams(
    Object.entries(fields).filter((entry): entry is [string, string] => Boolean(entry[1])),
  ).toString();

function usePeriod<View>(path: string, asked: Readonly<Record<string, string | undefined>>, enabled = true) {
  return useQuery({
    queryKey: [KEYS.insight, path, query(asked)],
    queryFn: () => get<View>(`/insight/${path}?${query(asked)}`),
    placeholderData: keepPreviousData,
    enabled,
  });
}

export const useChanges = (period: PeriodAsked, listed: Listed, by: CutField | undefined) =>
  usePeriod<ChangesView>('changes', { ...period, listed, by });

export const useWhy = (period: PeriodAsked, listed: Listed) =>
  usePeriod<WhyView>('why', { ...period, listed });

export const useRuleCosts = (period: PeriodAsked) => usePeriod<RuleCostView[]>('rules', { ...period });

export const useRuleReasons = (period: PeriodAsked, rule: string) =>
  usePeriod<ReasonView[]>('rules/reasons', { ...period, rule });

export const useGuard = (period: PeriodAsked) => usePeriod<GuardView>('guard', { ...period });

export const useMost = (period: PeriodAsked, listed: Listed) =>
  usePeriod<MostView>('most', { ...period, listed });

export function useImprovements() {
  return useQuery({
    queryKey: [KEYS.insight, 'improve'],
    queryFn: () => get<ImprovementsView>('/insight/improve'),
  });
}

export interface PreventAsked {
  readonly incident?: number;
  readonly filter?: string;
}

/** Changes that would have prevented false positives: computed once, and again only when somebody asks. */
export function usePrevent(asked: PreventAsked) {
  return useQuery({
    queryKey: [KEYS.prevent, asked.incident ?? 0, asked.filter ?? ''],
    queryFn: () => change<PreventView>('POST', '/insight/prevent', asked),
    staleTime: Infinity,
    retry: false,
  });
}

export function useTakeChange(rule: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (request: { readonly computed: string; readonly option: number }) =>
      change<PreventionView[]>('POST', '/insight/prevent/take', request),
    onSuccess: (views) => queries.setQueryData([KEYS.insight, 'preventions', rule], views),
  });
}

export function usePreventions(rule: string) {
  return useQuery({
    queryKey: [KEYS.insight, 'preventions', rule],
    queryFn: () => get<PreventionView[]>(`/insight/prevent/rules/${encodeURIComponent(rule)}`),
  });
}

export function useReports() {
  return useQuery({ queryKey: [KEYS.reports], queryFn: () => get<ReportSummary[]>('/insight/reports') });
}

export function useReportRun(id: string | null) {
  return useQuery({
    queryKey: [KEYS.reports, 'run', id],
    queryFn: () => get<ReportRunDetail>(`/insight/reports/runs/${id}`),
    enabled: id !== null,
  });
}

/** When a schedule would run next; an error says why it cannot be read. */
export function useScheduleRuns(schedule: ScheduleRequest, enabled: boolean) {
  return useQuery({
    queryKey: [KEYS.reports, 'schedule', schedule.rule, schedule.time, schedule.zone],
    queryFn: () => change<ScheduleView>('POST', '/insight/reports/schedule', schedule),
    retry: false,
    enabled,
  });
}

function useReportChange<Request>(send: (request: Request) => Promise<ReportSummary[]>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: send,
    onSuccess: (reports) => queries.setQueryData([KEYS.reports], reports),
  });
}

export const useSaveReport = () =>
  useReportChange(
    ({
      id,
      request,
    }: {
      readonly id: string | null;
      readonly request: ScheduledReportRequest & { version?: number };
    }) =>
      id === null
        ? change<ReportSummary[]>('POST', '/insight/reports', request)
        : change<ReportSummary[]>('PUT', `/insight/reports/${id}`, request),
  );

export const useRemoveReport = () =>
  useReportChange((id: string) => change<ReportSummary[]>('DELETE', `/insight/reports/${id}`));

export function useRunReport() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (id: string) => change<ReportRunDetail>('POST', `/insight/reports/${id}/runs`),
    onSuccess: () => void queries.invalidateQueries({ queryKey: [KEYS.reports] }),
  });
}

export function useLearnedWeights(pattern: string) {
  return useQuery({
    queryKey: [KEYS.prevent, 'weights', pattern],
    queryFn: () => change<WeightsLearnedView>('POST', `/insight/weights/of/${encodeURIComponent(pattern)}`),
    staleTime: Infinity,
    retry: false,
  });
}

export const useTakeWeights = () =>
  useMutation({
    mutationFn: (computed: string) => change<PatternDetail>('POST', '/insight/weights/take', { computed }),
  });
