import { jest } from '@jest/globals';
import type { PolicyView } from '@lantern/contracts';
import { policyOf } from '@lantern/testkit';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, renderHook } from '@testing-library/react';
import type { ReactNode } from 'react';
import { useDraftPolicy } from './use-draft-policy';
import { useGoesUntouched } from './use-goes-untouched';

interface Sent {
  readonly method: string;
  readonly path: string;
  readonly name: string;
  readonly version: number;
}

const viewOf = (over: object = {}, version = 1): PolicyView =>
  ({ policy: policyOf('p1', [], over), version, problems: [], updatedBy: 'Ines' }) as unknown as PolicyView;

/** A server that answers as told; what it was asked stands in `sent`. */
function serverThat(answer: (count: number) => { status: number; body: object }): Sent[] {
  const sent: Sent[] = [];
  Object.assign(globalThis, {
    fetch: (path: string, { method = 'GET', body = '{}' }: { method?: string; body?: string } = {}) => {
      const { policy, version } = JSON.parse(body) as { policy?: { name: string }; version?: number };
      sent.push({ method, path, name: policy?.name ?? '', version: version ?? 0 });
      const { status, body: told } = answer(sent.length);
      return Promise.resolve(new Response(JSON.stringify(told), { status }));
    },
  });
  return sent;
}

const saved = (count: number) => ({ status: 200, body: viewOf({}, count + 1) });

const wrapper = ({ children }: { readonly children: ReactNode }) => (
  <QueryClientProvider client={new QueryClient()}>{children}</QueryClientProvider>
);

beforeEach(() => {
  jest.useFakeTimers();
  sessionStorage.clear();
  localStorage.clear();
});
afterEach(() => jest.useRealTimers());
const pass = (milliseconds: number) => act(() => jest.advanceTimersByTimeAsync(milliseconds));

describe('a policy that is being edited', () => {
  const edited = (view = viewOf({ name: 'Cards' })) => renderHook(() => useDraftPolicy(view), { wrapper });

  it('is saved once typing pauses, the newest version only', async () => {
    const sent = serverThat(saved);
    const { result } = edited();
    for (const name of ['Cards o', 'Cards ou', 'Cards out'])
      act(() => result.current.change({ ...result.current.policy, name }));
    expect(sent).toEqual([]);
    expect(result.current.state.status).toBe('saving');
    await pass(600);
    expect(sent.map(({ name, version }) => [name, version])).toEqual([['Cards out', 1]]);
    expect(result.current.state.status).toBe('saved');
  });

  it('keeps the text and tries again when the server cannot be reached', async () => {
    const sent = serverThat((count) =>
      count === 1 ? { status: 503, body: { code: 'busy' } } : saved(count),
    );
    const { result } = edited();
    act(() => result.current.change({ ...result.current.policy, name: 'Kept' }));
    await pass(600);
    expect(result.current.state.status).toBe('failed');
    expect(result.current.policy.name).toBe('Kept');
    await pass(4_100);
    expect(sent.map(({ name }) => name)).toEqual(['Kept', 'Kept']);
    expect(result.current.state.status).toBe('saved');
  });

  it('does not save over somebody else', async () => {
    const sent = serverThat(() => ({
      status: 409,
      body: { code: 'changed-meanwhile', message: 'Tobias changed it', details: { by: 'Tobias' } },
    }));
    const { result } = edited();
    act(() => result.current.change({ ...result.current.policy, name: 'Mine' }));
    await pass(20_000);
    expect(sent).toHaveLength(1);
    expect(result.current.policy.name).toBe('Mine');
    expect(result.current.state.status).toBe('failed');
  });

  it('is saved when its page is left before the pause is over', async () => {
    const sent = serverThat(saved);
    const { result, unmount } = edited();
    act(() => result.current.change({ ...result.current.policy, name: 'Left' }));
    unmount();
    await pass(0);
    expect(sent.map(({ name }) => name)).toEqual(['Left']);
  });

  it('goes back step by step', async () => {
    serverThat(saved);
    const { result } = edited();
    for (const name of ['One', 'Two']) act(() => result.current.change({ ...result.current.policy, name }));
    act(() => result.current.undo());
    expect(result.current.policy.name).toBe('One');
    act(() => result.current.undo());
    expect([result.current.policy.name, result.current.canUndo]).toEqual(['Cards', false]);
    await pass(600);
  });
});

describe('a new policy', () => {
  const empty = viewOf({ name: '', purpose: '' });
  it.each([
    ['is removed when its page is left untouched', empty, false, 1],
    ['stays when something was changed', empty, true, 0],
    ['stays when it has a name', viewOf({ name: 'Cards', purpose: '' }), false, 0],
    ['stays when it was saved before', viewOf({ name: '', purpose: '' }, 2), false, 0],
  ])('%s', async (_what, view, touched, removals) => {
    const sent = serverThat(() => ({ status: 200, body: {} }));
    const { unmount } = renderHook(() => useGoesUntouched(view, touched), { wrapper });
    unmount();
    await pass(400);
    expect(sent.filter(({ method }) => method === 'DELETE')).toHaveLength(removals);
  });

  it('stays when its page is drawn again at once', async () => {
    const sent = serverThat(() => ({ status: 200, body: {} }));
    const first = renderHook(() => useGoesUntouched(empty, false), { wrapper });
    first.unmount();
    const second = renderHook(() => useGoesUntouched(empty, false), { wrapper });
    await pass(400);
    expect(sent).toEqual([]);
    second.unmount();
    await pass(400);
  });
});
