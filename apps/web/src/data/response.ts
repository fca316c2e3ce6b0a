import type {
  DeliveryView,
  HookRequest,
  HookView,
  QuestionView,
  ResponsePreview,
  ResponseRequest,
  ResponseResult,
  ResponseTemplate,
  RoutingRuleRequest,
  RoutingRuleView,
} from '@lantern/contracts';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { change, get } from './client';
import { KEYS } from './keys';

export function useResponseTexts(number: number, enabled: boolean) {
  return useQuery({
    queryKey: [KEYS.incident, number, 'response-texts'],
    queryFn: () => get<ResponseTemplate[]>(`/incidents/${number}/response-texts`),
    enabled,
  });
}

export function usePreview() {
  return useMutation({
    mutationFn: (request: ResponseRequest) => change<ResponsePreview>('POST', '/responses/preview', request),
  });
}

export function useRespond() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (request: ResponseRequest) => change<ResponseResult[]>('POST', '/responses', request),
    onSuccess: () => void queries.invalidateQueries({ queryKey: [KEYS.incident] }),
  });
}

export function useHooks(enabled = true) {
  return useQuery({ queryKey: [KEYS.hooks], queryFn: () => get<HookView[]>('/hooks'), enabled });
}

export function useDeliveries(id: string | null) {
  return useQuery({
    queryKey: [KEYS.hooks, id, 'deliveries'],
    queryFn: () => get<DeliveryView[]>(`/hooks/${id ?? ''}/deliveries`),
    enabled: id !== null,
  });
}

function useHookChange<Request, Answer>(send: (request: Request) => Promise<Answer>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: send,
    onSuccess: () => void queries.invalidateQueries({ queryKey: [KEYS.hooks] }),
  });
}

export const useAddHook = () =>
  useHookChange((request: HookRequest) => change<HookView>('POST', '/hooks', request));
export const useRemoveHook = () => useHookChange((id: string) => change<void>('DELETE', `/hooks/${id}`));
export const useSendAgain = () =>
  useHookChange((id: string) => change<void>('POST', `/hook-deliveries/${id}/send-again`));

export function useRoutingRules() {
  return useQuery({ queryKey: [KEYS.routing], queryFn: () => get<RoutingRuleView[]>('/routing-rules') });
}

function useRuleChange<Request>(send: (request: Request) => Promise<RoutingRuleView[]>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: send,
    onSuccess: (rules) => queries.setQueryData([KEYS.routing], rules),
  });
}

export const useSaveRule = () =>
  useRuleChange(({ id, ...request }: RoutingRuleRequest & { readonly id: string | null }) =>
    id === null
      ? change<RoutingRuleView[]>('POST', '/routing-rules', request)
      : change<RoutingRuleView[]>('PUT', `/routing-rules/${id}`, request),
  );
export const useRemoveRule = () =>
  useRuleChange((id: string) => change<RoutingRuleView[]>('DELETE', `/routing-rules/${id}`));
export const useOrderRules = () =>
  useRuleChange((ids: readonly string[]) =>
    change<RoutingRuleView[]>('PUT', '/routing-rules/order', { ids }),
  );

export function useQuestion(token: string) {
  return useQuery({
    queryKey: [KEYS.question, token],
    queryFn: () => get<QuestionView>(`/questions/${token}`),
    retry: false,
  });
}

export function useAnswerQuestion(token: string) {
  return useMutation({ mutationFn: (text: string) => change<void>('POST', `/questions/${token}`, { text }) });
}
