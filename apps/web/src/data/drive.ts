import type {
  DriveFileDetail,
  DriveFileSummary,
  DriveFolderView,
  DrivePlaceView,
  OpenedView,
} from '@lantern/contracts';
import type { LinkKind } from '@lantern/core/movement';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useSearchParams } from 'react-router';
import { change, changeForFile, get } from './client';
import { saveFile } from './save-file';
import { KEYS } from './keys';
import { useToldActs } from './told-acts';

/** Where the drive stands for somebody, with the machine and network they use and whether they signed in. */
type DrivePath = (rest: string) => string;

function useDrivePath(player: string): DrivePath {
  const [search] = useSearchParams();
  const query = new URLSearchParams();
  if (search.get('on') === 'own') query.set('on', 'own');
  if (search.get('net') === 'foreign') query.set('net', 'foreign');
  if (search.get('signed') === 'yes') query.set('signed', 'yes');
  const asked = query.toString();
  return (rest) => {
    const path = `/stand-ins/drive/${encodeURIComponent(player)}/${rest}`;
    return asked === '' ? path : `${path}${path.includes('?') ? '&' : '?'}${asked}`;
  };
}

function useDriveQuery<Answer>(player: string, rest: string | null) {
  const path = useDrivePath(player)(rest ?? '');
  return useQuery({
    queryKey: [KEYS.things, 'drive', path],
    queryFn: () => get<Answer>(path),
    enabled: rest !== null,
    refetchInterval: 15_000,
    retry: false,
  });
}

export const useDriveFiles = (player: string) => useDriveQuery<DriveFileSummary[]>(player, 'files');

export const useOpened = (player: string, id: string | null) =>
  useDriveQuery<OpenedView>(player, id === null ? null : `files/${id}`);

export const useOpenedLink = (player: string, token: string) =>
  useDriveQuery<OpenedView>(player, `links/${encodeURIComponent(token)}`);

export const useDrivePlaces = (player: string) => useDriveQuery<DrivePlaceView[]>(player, 'places');

export const useDriveFolder = (player: string, place: string, path: string) =>
  useDriveQuery<DriveFolderView>(player, `places/${place}/folder?path=${encodeURIComponent(path)}`);

/** Where the bytes of a file are, by its id or by a link. */
export function useContentPath(
  player: string,
  { id, token }: { readonly id?: string | null; readonly token?: string },
): string {
  const path = useDrivePath(player);
  return `/api${path(token === undefined ? `files/${id ?? ''}/content` : `links/${encodeURIComponent(token)}/content`)}`;
}

/** What somebody does in a place. */
export function usePlaceActs(player: string, place: string) {
  const queries = useQueryClient();
  const path = useDrivePath(player);
  const settled = { onSettled: () => void queries.invalidateQueries({ queryKey: [KEYS.things] }) };
  const at = (rest: string): string => path(`places/${place}/${rest}`);
  return {
    open: useMutation({
      mutationFn: (file: string) => change<OpenedView>('POST', at('open'), { path: file }),
    }),
    add: useMutation({
      mutationFn: ({ file, folder }: { file: File; folder: string }) =>
        change<DriveFileDetail>('POST', at('files'), formOf(file, folder)),
      ...settled,
    }),
    rename: useMutation({
      mutationFn: (request: { path: string; name: string }) =>
        change<DriveFileDetail>('POST', at('rename'), request),
      ...settled,
    }),
    take: useMutation({
      mutationFn: async (paths: readonly string[]) =>
        saveFile(await changeForFile('POST', at('take'), { paths }), 'files.zip'),
    }),
    join: useMutation({ mutationFn: () => change<void>('POST', at('join')), ...settled }),
    letIn: useMutation({
      mutationFn: (address: string) => change<void>('POST', at('people'), { address }),
      ...settled,
    }),
    letOut: useMutation({
      mutationFn: (address: string) => change<void>('DELETE', at(`people/${encodeURIComponent(address)}`)),
      ...settled,
    }),
  };
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
  const path = useDrivePath(player);
  const share = (id: string): string => path(`shares/${id}`);
  return {
    ...useToldActs(share, [KEYS.things]),
    end: useMutation({
      mutationFn: ({ id }: { id: string }) => change<void>('DELETE', share(id)),
      ...settled,
    }),
  };
}

/** What the owner of a file does with it. */
export function useDriveActs(player: string) {
  const queries = useQueryClient();
  const settled = { onSettled: () => void queries.invalidateQueries({ queryKey: [KEYS.things] }) };
  const path = useDrivePath(player);
  const file = (id: string, act = ''): string => path(`files/${id}${act}`);
  return {
    add: useMutation({
      mutationFn: ({ file: given, folder }: { file: File; folder: string }) =>
        change<DriveFileDetail>('POST', path('files'), formOf(given, folder)),
      ...settled,
    }),
    replace: useMutation({
      mutationFn: ({ id, file: given }: { id: string; file: File }) =>
        change<DriveFileDetail>('PUT', file(id, '/content'), formOf(given)),
      ...settled,
    }),
    write: useMutation({
      mutationFn: ({ id, ...written }: { id: string; text: string; version: number }) =>
        change<DriveFileDetail>('PUT', file(id, '/text'), written),
      ...settled,
    }),
    label: useMutation({
      mutationFn: ({ id, ...wish }: { id: string; label: string | null; reason?: string }) =>
        change<DriveFileDetail>('PUT', file(id, '/label'), wish),
      ...settled,
    }),
    decide: useMutation({
      mutationFn: ({ id, agrees }: { id: string; agrees: boolean }) =>
        change<OpenedView>('POST', file(id, '/lowering'), { agrees }),
      ...settled,
    }),
    withoutValues: useMutation({
      mutationFn: ({ id }: { id: string }) => change<DriveFileDetail>('POST', file(id, '/without-values')),
      ...settled,
    }),
    remove: useMutation({
      mutationFn: ({ id }: { id: string }) => change<void>('DELETE', file(id)),
      ...settled,
    }),
    share: useMutation({
      mutationFn: ({ id, ...request }: { id: string; address?: string; link?: LinkKind }) =>
        change<DriveFileDetail>('POST', file(id, '/shares'), request),
      ...settled,
    }),
    ...useShareActs(player),
  };
}
