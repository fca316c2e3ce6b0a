import type { DocumentsJob, SampleSide } from '@lantern/contracts';
import { useMutation, useQuery } from '@tanstack/react-query';
import { change, get } from './client';
import { KEYS } from './keys';

export interface DocumentsFields {
  readonly name: string;
  readonly about: string;
  readonly learns: 'likeness' | 'category';
  readonly leastShare: number;
  readonly version: number;
  readonly drop: readonly string[];
  readonly files: Readonly<Record<SampleSide, readonly File[]>>;
}

/** Begins to learn: a new pattern, or that of `id` again. */
export function useLearnDocuments(id?: string) {
  return useMutation({
    mutationFn: ({ files, drop, ...fields }: DocumentsFields) => {
      const form = new FormData();
      for (const [name, value] of Object.entries(fields)) form.append(name, String(value));
      form.append('drop', drop.join(','));
      for (const side of ['like', 'unlike'] as const)
        for (const file of files[side]) form.append(side, file, file.name);
      return id === undefined
        ? change<DocumentsJob>('POST', '/document-patterns', form)
        : change<DocumentsJob>('PUT', `/document-patterns/${id}`, form);
    },
  });
}

/** Asked this often while something is learnt. */
const EVERY_MS = 400;

export function useDocumentsJob(id: string | null) {
  return useQuery({
    queryKey: [KEYS.documentsJob, id],
    queryFn: () => get<DocumentsJob>(`/document-patterns/jobs/${id ?? ''}`),
    enabled: id !== null,
    refetchInterval: ({ state }) => (state.data && state.data.status !== 'running' ? false : EVERY_MS),
  });
}
