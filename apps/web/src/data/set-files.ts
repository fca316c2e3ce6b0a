import type { JsonSchema, PolicyTextResult, SetFile, SetImportResult } from '@lantern/contracts';
import type { Policy } from '@lantern/core/policy';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { change, get } from './client';
import { KEYS } from './keys';

export function useSchema() {
  return useQuery({
    queryKey: [KEYS.schema, 'policy'],
    queryFn: () => get<JsonSchema>('/set/schema/policy'),
    staleTime: Infinity,
  });
}

export async function policyToText({ id: _id, ...policy }: Policy): Promise<string> {
  return (await change<{ text: string }>('POST', '/set/policy-text', { policy })).text;
}

export function policyFromText(id: string, text: string): Promise<PolicyTextResult> {
  return change<PolicyTextResult>('POST', `/set/policies/${id}/text`, { text });
}

export function fetchSet(): Promise<SetFile[]> {
  return get<SetFile[]>('/set');
}

/** Looks what a folder would change, or brings it in. */
export function useBringIn() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ files, onlyLook }: { files: readonly SetFile[]; onlyLook: boolean }) =>
      change<SetImportResult>('POST', '/set', { files, onlyLook }),
    onSuccess: (_result, { onlyLook }) => {
      if (!onlyLook) void queries.invalidateQueries();
    },
  });
}
