import type { ProofNotice } from '@lantern/contracts';
import { jest } from '@jest/globals';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { PlayedContext } from './played';
import { Proof } from './proof';

const PROOF: ProofNotice = {
  until: new Date(Date.now() + 600_000).toISOString(),
  triesLeft: 3,
  minutes: 15,
  trusts: 'same-application',
  isDone: false,
};

interface Sent {
  readonly path: string;
  readonly code: string;
}

/** A server that answers each code as told. */
function serverThat(status: number, body: object = {}): Sent[] {
  const sent: Sent[] = [];
  Object.assign(globalThis, {
    fetch: (path: string, { body: given = '{}' }: { body?: string } = {}) => {
      sent.push({ path, code: (JSON.parse(given) as { code: string }).code });
      return Promise.resolve(new Response(status === 204 ? null : JSON.stringify(body), { status }));
    },
  });
  return sent;
}

function shown(over: Partial<ProofNotice> = {}, onGiveUp?: () => void, language: 'en' | 'de' = 'en') {
  render(
    <QueryClientProvider client={new QueryClient()}>
      <PlayedContext value="p1">
        <Proof proof={{ ...PROOF, ...over }} incident={42} language={language} onGiveUp={onGiveUp} />
      </PlayedContext>
    </QueryClientProvider>,
  );
}
const field = () => screen.getByLabelText('Code from your phone');
const confirm = () => screen.getByRole('button', { name: 'Confirm identity' });

describe('the code of a second factor', () => {
  it('is handed in as six digits, however it was typed, for the incident and whoever plays', async () => {
    const sent = serverThat(204);
    shown();
    expect(confirm()).toHaveProperty('disabled', true);
    await userEvent.type(field(), '123 45');
    expect(confirm()).toHaveProperty('disabled', true);
    await userEvent.type(field(), '6{Enter}');
    await waitFor(() =>
      expect(sent).toEqual([{ path: '/api/stand-ins/phone/p1/incidents/42/proof', code: '123456' }]),
    );
    // A code is taken once: it does not stay in the field.
    await waitFor(() => expect(field()).toHaveProperty('value', ''));
  });

  it('says what was wrong, and how many tries are left', async () => {
    serverThat(422, { code: 'wrong-code', message: 'The code is wrong or was already used. 2 tries left.' });
    shown({ triesLeft: 2 });
    await userEvent.type(field(), '000000{Enter}');
    expect((await screen.findByRole('alert')).textContent).not.toBe('');
    expect(screen.getByText(/^2 tries, until /)).toBeTruthy();
  });

  it('says for how long there is no new request', () => {
    shown();
    expect(screen.getByText(/No new request for 15 minutes/)).toBeTruthy();
  });

  it('is one try in words, and without a promise where there is none', () => {
    shown({ triesLeft: 1, minutes: 0 });
    expect(screen.getByText(/^One try, until [^.]*\.$/)).toBeTruthy();
  });

  it('can be given up where nothing else is asked', async () => {
    const onGiveUp = jest.fn();
    shown({}, onGiveUp);
    await userEvent.click(screen.getByRole('button', { name: 'Cancel' }));
    expect(onGiveUp).toHaveBeenCalledTimes(1);
  });

  it('speaks the language of the person', () => {
    shown({}, undefined, 'de');
    expect(screen.getByRole('button', { name: 'Bestätigen' })).toBeTruthy();
  });
});
