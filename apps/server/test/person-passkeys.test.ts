/** People at work who prove with a passkey who they are, in the place of a code. */
import { randomUUID } from 'node:crypto';
import type { IntakeAnswer, IntakeVerdict, NewAgent, PhoneView } from '@lantern/contracts';
import type { PasskeyOptionsView } from '@lantern/contracts/passkeys';
import { Authenticator } from '@lantern/testkit';
import { relyingParty } from '../src/platform/passkeys/relying-party.js';
import { type Client, publish, ruleOf, type Running, start, TEXT_ID } from './harness.js';

let running: Running;
let client: Client;
let agent: NewAgent;
let orla: string;
let phone: string;
let device: Authenticator;
let stranger: Authenticator;

beforeAll(async () => {
  running = await start();
  client = await running.client();
  agent = (await client.send<NewAgent>('POST', '/agents', { name: 'The real ledger' })).body;
  orla = (await running.person('Orla Fenwick')).id;
  phone = `/stand-ins/phone/${orla}`;
  const treatments = [{ kind: 'ask-who', minutes: 0, trusts: 'same-application' }];
  await publish(
    client,
    'Exports',
    [
      ruleOf({
        when: { kind: 'rows', atLeast: 1_000 },
        bands: [{ answer: 'note', severity: 'low', text: TEXT_ID, treatments }],
      }),
    ],
    { channels: ['business'] },
  );
  const { origin, id } = relyingParty(running.config);
  [device, stranger] = [new Authenticator(origin, id), new Authenticator(origin, id)];
});
afterAll(() => running.stop());

const call = async <Answer>(path: string, body: unknown) => {
  const response = await fetch(`${running.address}/api/intake/${path}`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', authorization: `Bearer ${agent.key}` },
    body: JSON.stringify(body),
  });
  return {
    status: response.status,
    body: (await response.json()) as Answer & { code?: string; message?: string },
  };
};
const waiting = async (person = 'orla.fenwick') => {
  const movement = {
    ...{ key: randomUUID(), channel: 'business', activity: 'export' },
    person: `${person}@merrowstrait.example`,
    use: { deed: 'export', by: 'screen', objects: ['customers'], rows: 2_000 },
  };
  const [result] = (await call<IntakeAnswer>('movements', { movements: [movement] })).body.results;
  expect(result).toMatchObject({ status: 'judged', state: 'waiting' });
  return result as IntakeVerdict & { status: 'judged' };
};
const challengeOf = ({ body }: { body: PasskeyOptionsView }) =>
  body.options as unknown as { challenge: string };
const toProve = (id: string) => call<PasskeyOptionsView>(`movements/${id}/proof/challenge`, {});
const prove = (id: string, passkey: object) => call<IntakeVerdict>(`movements/${id}/proof`, { passkey });
const begin = () => client.send<PasskeyOptionsView>('POST', `${phone}/passkeys/challenge`, {});
const add = (answer: object) => client.send<{ code: string }>('POST', `${phone}/passkeys`, answer);
const passkeys = async () => (await client.get<PhoneView>(phone)).body.passkeys;

it('is added once, by an answer that was not used before', async () => {
  const { id } = await waiting();
  expect((await toProve(id)).body.message).toContain('has no passkey');
  const answer = device.register(challengeOf(await begin()));
  expect((await add(answer)).status).toBe(204);
  expect((await add(answer)).status).toBe(409);
  expect((await add(device.register(challengeOf(await begin())))).body.code).toBe('key-used');
  expect(await passkeys()).toHaveLength(1);
});

it('lets the same movement go on, and answers one movement alone', async () => {
  const [first, second] = [await waiting(), await waiting()];
  const answer = device.signIn(challengeOf(await toProve(first.id)));
  expect((await prove(second.id, answer)).body).toMatchObject({ code: 'wrong-code', details: { left: 2 } });
  expect((await prove(first.id, answer)).body).toMatchObject({
    state: 'went-on',
    notice: { proof: { isDone: true } },
  });
  // It is over, and the answer was used.
  expect((await prove(first.id, answer)).body.code).toBe('act-refused');
  const again = device.signIn(challengeOf(await toProve(second.id)));
  expect((await prove(second.id, again)).body.state).toBe('went-on');
});

it.each([
  ['a device that nobody added', () => stranger, {}],
  ['an answer of another site', () => device, { origin: 'https://elsewhere.example' }],
  ['an answer for another name', () => device, { party: 'elsewhere.example' }],
  ['a device that did not see who is there', () => device, { unverified: true }],
])('refuses %s, and ends it at the third', async (_what, by, flaws) => {
  const { id } = await waiting();
  for (const left of [2, 1, 0]) {
    const answer = by().signIn(challengeOf(await toProve(id)), flaws);
    expect((await prove(id, answer)).body).toMatchObject({ code: 'wrong-code', details: { left } });
  }
  expect((await toProve(id)).body.code).toBe('act-refused');
});

it('counts wrong codes and wrong passkeys together, and needs one of them', async () => {
  const { id } = await waiting();
  const { code } = (await client.get<PhoneView>(phone)).body;
  const wrong = String((Number(code) + 7) % 1_000_000).padStart(6, '0');
  expect((await call(`movements/${id}/proof`, { code: wrong })).body).toMatchObject({ details: { left: 2 } });
  const answer = stranger.signIn(challengeOf(await toProve(id)));
  expect((await prove(id, answer)).body).toMatchObject({ details: { left: 1 } });
  expect((await call(`movements/${id}/proof`, {})).status).toBe(400);
  expect((await call(`movements/${id}/proof`, { code })).body).toMatchObject({ state: 'went-on' });
});

it('is no proof any more once it is removed, and proves nobody else', async () => {
  const other = await waiting('bea.lindqvist');
  expect((await toProve(other.id)).body.message).toContain('has no passkey');
  const { id } = await waiting();
  const answer = device.signIn(challengeOf(await toProve(id)));
  const [passkey] = await passkeys();
  expect((await client.send('DELETE', `${phone}/passkeys/${passkey?.id ?? ''}`)).status).toBe(204);
  expect((await client.send('DELETE', `${phone}/passkeys/${passkey?.id ?? ''}`)).status).toBe(404);
  expect((await prove(id, answer)).body).toMatchObject({ code: 'wrong-code' });
});
