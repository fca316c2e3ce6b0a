import type { ChangesView, CutField, MostView, ReasonView, RuleCostView, WhyView } from '@lantern/contracts';
import type { Listed } from '@lantern/core/incidents';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { get } from './client';
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

export const useMost = (period: PeriodAsked, listed: Listed) =>
  usePeriod<MostView>('most', { ...period, listed });
