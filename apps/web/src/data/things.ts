import type { Activity, PlayerView, RoomView, TargetView, ThingView } from '@lantern/contracts';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { change, get, tell } from './client';
import { KEYS } from './keys';
import { useToldActs } from './told-acts';

/** Everybody who can be played, people outside too. */
export function usePlayers() {
  return useQuery({
    queryKey: [KEYS.people, 'players'],
    queryFn: () => get<PlayerView[]>('/people/players'),
    staleTime: 300_000,
  });
}

export function useRooms(player: string) {
  return useQuery({
    queryKey: [KEYS.things, player, 'rooms'],
    queryFn: () => get<RoomView[]>(`/stand-ins/chat/${encodeURIComponent(player)}/rooms`),
  });
}

export function useOpenRoom(player: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (room: { readonly name: string; readonly members: readonly string[] }) =>
      change<RoomView>('POST', `/stand-ins/chat/${encodeURIComponent(player)}/rooms`, room),
    onSettled: () => void queries.invalidateQueries({ queryKey: [KEYS.things] }),
  });
}

export function useTakeOut(player: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ room, address }: { readonly room: string; readonly address: string }) =>
      change<RoomView>(
        'DELETE',
        `/stand-ins/chat/${encodeURIComponent(player)}/rooms/${room}/members/${encodeURIComponent(address)}`,
      ),
    onSettled: () => void queries.invalidateQueries({ queryKey: [KEYS.things] }),
  });
}

/** Where things of a stand-in are listed and put: a room, a site, a program, a device. */
export function roomPath(player: string, room: string): string {
  return `/stand-ins/chat/${encodeURIComponent(player)}/rooms/${room}/things`;
}
export function targetPath(agent: 'browser' | 'endpoint', person: string, target: string): string {
  return `/stand-ins/desk/${agent}/${person}/targets/${target}/things`;
}

export function useTargets(agent: 'browser' | 'endpoint', person: string) {
  return useQuery({
    queryKey: [KEYS.things, agent, 'targets'],
    queryFn: () => get<TargetView[]>(`/stand-ins/desk/${agent}/${person}/targets`),
  });
}

export function useThings(path: string) {
  return useQuery({
    queryKey: [KEYS.things, path],
    queryFn: () => get<ThingView[]>(path),
    refetchInterval: 15_000,
  });
}

export interface ThingToPut {
  readonly text: string;
  readonly files: readonly File[];
  readonly activity?: Activity;
  readonly takenFrom?: string;
  /** What the screen showed, as the agent of the machine hands it in. */
  readonly pictures?: readonly string[];
  /** Null for none, left out where nothing is offered. */
  readonly label?: string | null;
}

export function usePutThing(path: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ text, files, activity, takenFrom, label, pictures = [] }: ThingToPut) => {
      const form = new FormData();
      form.append('text', text);
      if (activity) form.append('activity', activity);
      if (label !== undefined) form.append('label', label ?? '');
      if (takenFrom) form.append('takenFrom', takenFrom);
      if (pictures.length > 0) form.append('pictures', JSON.stringify(pictures));
      for (const file of files) form.append('files', file, file.name);
      return change<ThingView>('POST', path, form);
    },
    onSettled: () => void queries.invalidateQueries({ queryKey: [KEYS.things] }),
  });
}

/** What a person does about something of theirs. */
export function useThingActs(player: string) {
  const queries = useQueryClient();
  const settled = { onSettled: () => void queries.invalidateQueries({ queryKey: [KEYS.things] }) };
  const path = (id: string): string => `/stand-ins/things/${encodeURIComponent(player)}/${id}`;
  return {
    ...useToldActs(path, [KEYS.things]),
    page: (id: string, open: boolean) => tell(`${path(id)}/page`, { open }),
    edit: useMutation({
      mutationFn: ({
        id,
        ...changed
      }: {
        id: string;
        text: string;
        label?: string | null;
        reason?: string;
      }) => change<ThingView>('PUT', path(id), changed),
      ...settled,
    }),
    withoutValues: useMutation({
      mutationFn: ({ id }: { id: string }) => change<ThingView>('POST', `${path(id)}/without-values`),
      ...settled,
    }),
    remove: useMutation({
      mutationFn: ({ id }: { id: string }) => change<void>('DELETE', path(id)),
      ...settled,
    }),
  };
}
