import { useMutation, useQueryClient } from '@tanstack/react-query';
import { change } from './client';

/**
 * What people do about a movement of theirs: reply, ask for an override, report a false finding. `path` leads to the
 * movement, `keys` to what is read again, and `beside` goes with each request.
 */
export function useToldActs(path: (id: string) => string, keys: readonly unknown[], beside: object = {}) {
  const queries = useQueryClient();
  const onSettled = () => void queries.invalidateQueries({ queryKey: keys });
  const send = (act: string, id: string, body: object) =>
    change<void>('POST', `${path(id)}/${act}`, { ...beside, ...body });
  return {
    reply: useMutation({
      mutationFn: ({ id, ...reply }: { id: string; leads: 'goes-on' | 'stays'; words: string }) =>
        send('reply', id, reply),
      onSettled,
    }),
    override: useMutation({
      mutationFn: ({ id, words }: { id: string; words: string }) => send('override', id, { words }),
      onSettled,
    }),
    report: useMutation({
      mutationFn: ({ id, words }: { id: string; words: string }) => send('report', id, { words }),
      onSettled,
    }),
  };
}
