import type { DriveFileDetail, DriveFileSummary, OpenedView } from '@lantern/contracts';
import type { LinkKind } from '@lantern/core/movement';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { change, get } from './client';
import { KEYS } from './keys';

const base = (player: string): string => `/stand-ins/drive/${encodeURIComponent(player)}`;

export function useDriveFiles(player: string) {
  return useQuery({
    queryKey: [KEYS.things, 'drive', player],
    queryFn: () => get<DriveFileSummary[]>(`${base(player)}/files`),
    refetchInterval: 15_000,
  });
}

export function useOpened(player: string, id: string | null) {
  return useQuery({
    queryKey: [KEYS.things, 'drive', player, id],
    queryFn: () => get<OpenedView>(`${base(player)}/files/${id ?? ''}`),
    enabled: id !== null,
    refetchInterval: 15_000,
  });
}

export function useOpenedLink(player: string, token: string) {
  return useQuery({
    queryKey: [KEYS.things, 'drive', player, 'link', token],
    queryFn: () => get<OpenedView>(`${base(player)}/links/${encodeURIComponent(token)}`),
    refetchInterval: 15_000,
  });
}

/** Where the bytes of a file are, by its id or by a link. */
export function contentPath(
  player: string,
  place: { readonly id?: string; readonly token?: string },
): string {
  return place.token === undefined
    ? `/api${base(player)}/files/${place.id ?? ''}/content`
    : `/api${base(player)}/links/${encodeURIComponent(place.token)}/content`;
}

function formOf(file: File, folder?: string): FormData {
  const form = new FormData();
  if (folder !== undefined) form.append('folder', folder);
  form.append('file', file, file.name);
  return form;
}

/** What the owner of a file does about something that opens it. */
function useShareActs(player: string) {
  const queries = useQueryClient();
  const settled = { onSettled: () => void queries.invalidateQueries({ queryKey: [KEYS.things] }) };
  const share = (id: string): string => `${base(player)}/shares/${id}`;
  return {
    end: useMutation({
      mutationFn: ({ id }: { id: string }) => change<void>('DELETE', share(id)),
      ...settled,
    }),
    reply: useMutation({
      mutationFn: ({ id, ...reply }: { id: string; leads: 'goes-on' | 'stays'; words: string }) =>
        change<void>('POST', `${share(id)}/reply`, reply),
      ...settled,
    }),
    override: useMutation({
      mutationFn: ({ id, words }: { id: string; words: string }) =>
        change<void>('POST', `${share(id)}/override`, { words }),
      ...settled,
    }),
    report: useMutation({
      mutationFn: ({ id, words }: { id: string; words: string }) =>
        change<void>('POST', `${share(id)}/report`, { words }),
      ...settled,
    }),
  };
}

/** What the owner of a file does with it. */
export function useDriveActs(player: string) {
  const queries = useQueryClient();
  const settled = { onSettled: () => void queries.invalidateQueries({ queryKey: [KEYS.things] }) };
  const file = (id: string): string => `${base(player)}/files/${id}`;
  return {
    add: useMutation({
      mutationFn: ({ file: given, folder }: { file: File; folder: string }) =>
        change<DriveFileDetail>('POST', `${base(player)}/files`, formOf(given, folder)),
      ...settled,
    }),
    replace: useMutation({
      mutationFn: ({ id, file: given }: { id: string; file: File }) =>
        change<DriveFileDetail>('PUT', `${file(id)}/content`, formOf(given)),
      ...settled,
    }),
    write: useMutation({
      mutationFn: ({ id, ...written }: { id: string; text: string; version: number }) =>
        change<DriveFileDetail>('PUT', `${file(id)}/text`, written),
      ...settled,
    }),
    label: useMutation({
      mutationFn: ({ id, ...wish }: { id: string; label: string | null; reason?: string }) =>
        change<DriveFileDetail>('PUT', `${file(id)}/label`, wish),
      ...settled,
    }),
    decide: useMutation({
      mutationFn: ({ id, agrees }: { id: string; agrees: boolean }) =>
        change<OpenedView>('POST', `${file(id)}/lowering`, { agrees }),
      ...settled,
    }),
    withoutValues: useMutation({
      mutationFn: ({ id }: { id: string }) => change<DriveFileDetail>('POST', `${file(id)}/without-values`),
      ...settled,
    }),
    remove: useMutation({
      mutationFn: ({ id }: { id: string }) => change<void>('DELETE', file(id)),
      ...settled,
    }),
    share: useMutation({
      mutationFn: ({ id, ...request }: { id: string; address?: string; link?: LinkKind }) =>
        change<DriveFileDetail>('POST', `${file(id)}/shares`, request),
      ...settled,
    }),
    ...useShareActs(player),
  };
}
