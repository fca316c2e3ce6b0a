import type { ActRequest, EvidencePart, IncidentDetail, PicturesView } from '@lantern/contracts';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { change, get, makeFile } from './client';
import { KEYS } from './keys';
import { patchIncident } from './queue';

export function useIncident(number: number | null) {
  return useQuery({
    queryKey: [KEYS.incident, number],
    queryFn: () => get<IncidentDetail>(`/incidents/${number ?? 0}`),
    enabled: number !== null,
  });
}

function useChange<Request>(number: number, path: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (request: Request) => change<IncidentDetail>('POST', `/incidents/${number}/${path}`, request),
    onSuccess: (incident) => {
      queries.setQueryData([KEYS.incident, number], incident);
      void patchIncident(queries, number).catch(() => undefined);
      void queries.invalidateQueries({ queryKey: [KEYS.incidents, 'counts'] });
      void queries.invalidateQueries({ queryKey: [KEYS.overview] });
    },
    // Somebody else was quicker: show what they did.
    onError: () => void queries.invalidateQueries({ queryKey: [KEYS.incident, number] }),
  });
}

export const useAct = (number: number) => useChange<ActRequest>(number, 'acts');
export const useNote = (number: number) => useChange<{ text: string }>(number, 'notes');

/** The content as it was, as an archive. */
export function useOriginal(number: number) {
  return useMutation({
    mutationFn: (reason: string) => makeFile(`/incidents/${number}/original`, { reason }),
  });
}

/** What stands around every finding, masked; asked for by whoever wants more than the first. */
export function useAllFindings(number: number) {
  return useMutation({ mutationFn: () => get<EvidencePart[]>(`/incidents/${number}/findings`) });
}

/** Pictures of the screen; they are not kept in the cache. */
export function usePictures(number: number) {
  return useMutation({
    mutationFn: (reason: string) => change<PicturesView>('POST', `/incidents/${number}/pictures`, { reason }),
  });
}

/** Values come back whole once and are not kept in the cache of masked incidents. */
export function useUnmask(number: number) {
  return useMutation({
    mutationFn: (reason: string) =>
      change<IncidentDetail>('POST', `/incidents/${number}/unmaskings`, { reason }),
  });
}
