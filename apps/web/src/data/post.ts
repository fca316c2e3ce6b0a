import type { PostView } from '@lantern/contracts';
import { useQuery } from '@tanstack/react-query';
import { get } from './client';
import { KEYS } from './keys';

/** What arrived at the stand-in post office, and what is under way. */
export function usePost() {
  return useQuery({
    queryKey: [KEYS.things, 'post'],
    queryFn: () => get<PostView>('/stand-ins/post'),
    refetchInterval: 5_000,
  });
}
