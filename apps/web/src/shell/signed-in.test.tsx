import { jest } from '@jest/globals';
import type { SessionView } from '@lantern/contracts';
import type { PasskeysView } from '@lantern/contracts/passkeys';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { MemoryRouter, Route, Routes } from 'react-router';
import { SignedIn } from './signed-in';

const account = { id: 'a', name: 'Nell', email: 'nell@a.example', permissions: [] };

/** A server that has one account, whose second factor is turned on by any code. */
function serve(factorDemanded: boolean) {
  const state = { codes: false, limited: false, secondFactor: false, factorDemanded };
  globalThis.fetch = jest.fn<typeof fetch>((input, init) => {
    const path = input instanceof Request ? input.url : String(input);
    const answer = (body: unknown) => Promise.resolve(new Response(JSON.stringify(body), { status: 200 }));
    if (path.endsWith('/session'))
      return answer({ account: { ...account, ...state }, csrfToken: 't' } satisfies SessionView);
    if (path.endsWith('/own-account/factor') && init?.method === 'POST')
      return answer({ secret: 'JBSWY3DPEHPK3PXP', uri: 'otpauth://totp/x?secret=JBSWY3DPEHPK3PXP' });
    if (path.endsWith('/own-account/passkeys'))
      return answer({ passkeys: [], address: 'http://localhost' } satisfies PasskeysView);
    state.codes = true;
    state.secondFactor = true;
    state.factorDemanded = false;
    return answer({ codes: ['aaaa-bbbb', 'cccc-dddd'] });
  });
}

function show() {
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  render(
    <QueryClientProvider client={queries}>
      <MemoryRouter>
        <Routes>
          <Route element={<SignedIn />}>
            <Route path="/" element={<p>The desk</p>} />
          </Route>
        </Routes>
      </MemoryRouter>
    </QueryClientProvider>,
  );
}

it('shows what is behind the door to who is signed in', async () => {
  serve(false);
  show();
  await screen.findByText('The desk');
});

it('asks for a second factor first where the role needs one, and goes on once its codes were seen', async () => {
  serve(true);
  show();
  await screen.findByText('Set up a second factor first');
  expect(screen.queryByText('The desk')).toBeNull();
  expect(screen.getByRole('button', { name: 'Continue' }).getAttribute('aria-disabled')).toBe('true');
  await userEvent.click(screen.getByRole('button', { name: 'Set up second factor' }));
  await userEvent.type(await screen.findByLabelText(/Code|code/), '123456');
  await userEvent.click(screen.getByRole('button', { name: 'Turn on second factor' }));
  // The account may go on now, and its recovery codes are still there to be read.
  await screen.findByText('Your second factor is on');
  await screen.findByText(/aaaa-bbbb/);
  expect(screen.queryByText('The desk')).toBeNull();
  await userEvent.click(screen.getByRole('button', { name: 'Continue' }));
  await waitFor(() => expect(screen.queryByText('The desk')).not.toBeNull());
});
