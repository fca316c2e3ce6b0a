import type { RecordJob, RecordPreview } from '@lantern/contracts';
import type { ColumnKind } from '@lantern/core/detection';
import { useMutation, useQuery } from '@tanstack/react-query';
import { change, get } from './client';
import { KEYS } from './keys';

export interface RecordsFields {
  readonly upload: string;
  readonly name: string;
  readonly about: string;
  readonly key: { readonly column: number; readonly kind: ColumnKind };
  readonly others: readonly { readonly column: number; readonly kind: ColumnKind }[];
  readonly needed: number;
  readonly window: number;
}

/** Hands a file of records over and says what it holds; nothing is imported yet. */
export function useUploadRecords() {
  return useMutation({
    mutationFn: (file: File) => {
      const form = new FormData();
      form.append('file', file, file.name);
      return change<RecordPreview>('POST', '/records/uploads', form);
    },
  });
}

/** Begins an import: of new records, or in place of those of `id`. */
export function useImportRecords(id?: string) {
  return useMutation({
    mutationFn: (fields: RecordsFields) =>
      id === undefined
        ? change<RecordJob>('POST', '/records', fields)
        : change<RecordJob>('PUT', `/records/${id}`, fields),
  });
}

/** Asked this often while an import runs. */
const EVERY_MS = 500;

export function useRecordJob(id: string | null) {
  return useQuery({
    queryKey: [KEYS.recordJob, id],
    queryFn: () => get<RecordJob>(`/records/jobs/${id ?? ''}`),
    enabled: id !== null,
    refetchInterval: ({ state }) => (state.data && state.data.status !== 'running' ? false : EVERY_MS),
  });
}
