import type { DocumentDetail, DocumentSummary } from '@lantern/contracts';
import type { Effect } from '@lantern/core/labels';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { change, get, getFile } from './client';
import { saveFile } from './save-file';
import { KEYS } from './keys';
import { useToldActs } from './told-acts';

export function useDocuments(person: string) {
  return useQuery({
    queryKey: [KEYS.desk, person],
    queryFn: () => get<DocumentSummary[]>(`/stand-ins/documents/${person}`),
  });
}

export function useDocument(person: string, id: string | null) {
  return useQuery({
    queryKey: [KEYS.desk, person, 'document', id],
    queryFn: () => get<DocumentDetail>(`/stand-ins/documents/${person}/${id ?? ''}`),
    enabled: id !== null,
  });
}

export interface DocumentSave {
  readonly id: string | null;
  readonly name: string;
  readonly paragraphs: readonly string[];
  readonly label: string | null;
  readonly reason: string;
  readonly named: Readonly<Partial<Record<Effect, readonly string[]>>>;
  readonly sharedWith: readonly string[];
  readonly version: number | null;
}

export function useSaveDocument(person: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ id, version, reason, ...rest }: DocumentSave) =>
      change<DocumentDetail>(
        id === null ? 'POST' : 'PUT',
        `/stand-ins/documents${id === null ? '' : `/${id}`}`,
        {
          person,
          ...rest,
          ...(reason.trim() === '' ? {} : { reason }),
          ...(version === null ? {} : { version }),
        },
      ),
    onSuccess: () => void queries.invalidateQueries({ queryKey: [KEYS.desk] }),
  });
}

export function useTakeFile(person: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (file: File) => {
      const form = new FormData();
      form.append('file', file);
      return change<DocumentDetail>('POST', `/stand-ins/documents/${person}/files`, form);
    },
    onSuccess: () => void queries.invalidateQueries({ queryKey: [KEYS.desk] }),
  });
}

/** Fetches the real file and hands it to the person; a refusal is thrown with its reason. */
export async function downloadDocument(
  person: string,
  { id, name }: { readonly id: string; readonly name: string },
): Promise<void> {
  const file = await getFile(`/stand-ins/documents/${person}/${id}/file`);
  saveFile(file, /\.docx$/i.test(name) ? name : `${name}.docx`);
}

export function useDownload(person: string) {
  return useMutation({
    mutationFn: (file: { readonly id: string; readonly name: string }) => downloadDocument(person, file),
  });
}

export function useAttempt(person: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ id, effect, to }: { id: string; effect: Effect; to?: string }) =>
      change<DocumentDetail>('POST', `/stand-ins/documents/${id}/attempts`, {
        person,
        effect,
        ...(to ? { to } : {}),
      }),
    onSuccess: () => void queries.invalidateQueries({ queryKey: [KEYS.desk] }),
  });
}

export function useDecideLowering(person: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ id, agrees }: { id: string; agrees: boolean }) =>
      change<DocumentDetail>('POST', `/stand-ins/documents/${id}/lowering`, { person, agrees }),
    onSuccess: () => void queries.invalidateQueries({ queryKey: [KEYS.desk] }),
  });
}

/** What somebody does about a share of theirs that waits or was refused. */
export const useShareActs = (person: string) =>
  useToldActs((id) => `/stand-ins/documents/shares/${id}`, [KEYS.desk], { person });
