/** Passkeys (WebAuthn Level 3): adding, signing in, and everything that a device or whoever sits between may get wrong. */
import { randomUUID } from 'node:crypto';
import { type ErrorBody, PERMISSIONS, type SessionView, type TrailPage } from '@lantern/contracts';
import type { PasskeyAddedView, PasskeyOptionsView, PasskeysView } from '@lantern/contracts/passkeys';
import { Authenticator, type Flaws } from '@lantern/testkit';
import { AccountEntity } from '../src/accounts/account.entity.js';
import { UsedChallengeEntity } from '../src/platform/passkeys/used-challenge.entity.js';
import { relyingParty } from '../src/platform/passkeys/relying-party.js';
import { hashPassword } from '../src/accounts/password.js';
import { type Client, PASSWORD, type Running, start } from './harness.js';

let running: Running;
let origin: string;
let party: string;

beforeAll(async () => {
  running = await start();
  ({ origin, id: party } = relyingParty(running.config));
});
afterAll(() => running.stop());

async function holder(): Promise<{ email: string; id: string; client: Client }> {
  const email = `${randomUUID()}@merrowstrait.example`;
  const id = randomUUID();
  await running.database.getRepository(AccountEntity).insert({
    ...{
      id,
      name: 'Holder',
      email,
      passwordHash: await hashPassword(PASSWORD),
      permissions: [...PERMISSIONS],
    },
    roles: [],
  });
  return { email, id, client: await running.client(email) };
}

const challengeOf = ({ body }: { readonly body: PasskeyOptionsView }) => ({
  challenge: String(body.options['challenge']),
});

async function added(client: Client, device = new Authenticator(origin, party)) {
  const begun = await client.send<PasskeyOptionsView>('POST', '/own-account/passkeys/challenge', {
    password: PASSWORD,
  });
  const request = { ...device.register(challengeOf(begun)), name: 'Laptop' };
  const answer = await client.send<PasskeyAddedView>('POST', '/own-account/passkeys', request);
  return { device, answer, request };
}

async function open<Answer>(path: string, body: unknown) {
  const answer = await fetch(`${running.address}/api${path}`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
  });
  return {
    status: answer.status,
    body: (await answer.json()) as Answer,
    cookie: answer.headers.get('set-cookie'),
  };
}
const challenge = async () => challengeOf(await open<PasskeyOptionsView>('/session/passkey/challenge', {}));

describe('a passkey', () => {
  it('signs its holder in, counts as second factor, and comes with recovery codes once', async () => {
    const { client, email } = await holder();
    const { device, answer } = await added(client);
    expect(answer.body).toMatchObject({ passkeys: [{ name: 'Laptop', lastUsed: null }] });
    expect(answer.body.codes.length).toBeGreaterThan(5);
    const signed = await open<SessionView>('/session/passkey', device.signIn(await challenge()));
    expect(signed.body.account).toMatchObject({ email, secondFactor: true, codes: false });
    expect(signed.cookie).toMatch(/HttpOnly/iu);

    // The password alone no longer does; with a recovery code, once.
    const alone = await open<ErrorBody>('/session', { email, password: PASSWORD });
    expect(alone.body).toMatchObject({ code: 'second-factor-needed', details: { with: 'passkey' } });
    const coded = { email, password: PASSWORD, code: answer.body.codes[0] };
    expect((await open('/session', coded)).status).toBe(200);
    expect((await open<ErrorBody>('/session', coded)).body.code).toBe('wrong-code');

    const second = await added(client);
    expect(second.answer.body).toMatchObject({
      codes: [],
      passkeys: [{ name: 'Laptop' }, { name: 'Laptop' }],
    });
    const { entries } = (await (await running.client()).get<TrailPage>(`/trail?actor=${email}`)).body;
    expect(entries.some(({ facts }) => facts['with'] === 'passkey')).toBe(true);
  });

  it('is taken off; with the last one the password is enough again', async () => {
    const { client, email } = await holder();
    const { device, answer } = await added(client);
    const [passkey] = answer.body.passkeys;
    expect(
      (await client.send<PasskeysView>('DELETE', `/own-account/passkeys/${passkey?.id}`)).body.passkeys,
    ).toEqual([]);
    expect((await open('/session/passkey', device.signIn(await challenge()))).status).toBe(401);
    expect((await open('/session', { email, password: PASSWORD })).status).toBe(200);
    expect((await client.send('DELETE', `/own-account/passkeys/${passkey?.id}`)).status).toBe(404);
  });

  it('ends with the reset of the account, and opens nothing while it is disabled', async () => {
    const admin = await running.client();
    const { client, id } = await holder();
    const { device } = await added(client);
    const accounts = running.database.getRepository(AccountEntity);
    await accounts.update({ id }, { disabledAt: new Date() });
    expect((await open('/session/passkey', device.signIn(await challenge()))).status).toBe(401);
    await accounts.update({ id }, { disabledAt: null });
    expect((await open('/session/passkey', device.signIn(await challenge()))).status).toBe(200);
    expect((await admin.send('POST', `/accounts/${id}/reset`)).status).toBe(200);
    await accounts.update({ id }, { invitedAt: null });
    expect((await open('/session/passkey', device.signIn(await challenge()))).status).toBe(401);
  });
});

describe('signing in is refused', () => {
  let device: Authenticator;
  beforeAll(async () => {
    ({ device } = await added((await holder()).client));
  });

  it.each<[string, Flaws]>([
    ['from another origin', { origin: 'https://lantern.attacker.example' }],
    ['from another port', { origin: 'http://localhost:1' }],
    ['for another name', { party: 'attacker.example' }],
    ['without knowing who is there', { unverified: true }],
  ])('%s', async (_what, flaws) => {
    expect((await open('/session/passkey', device.signIn(await challenge(), flaws))).status).toBe(401);
    expect((await open('/session/passkey', device.signIn(await challenge()))).status).toBe(200);
  });

  it('with a count that went back, as a copied device would bring it', async () => {
    expect((await open('/session/passkey', device.signIn(await challenge(), { count: 50 }))).status).toBe(
      200,
    );
    expect((await open('/session/passkey', device.signIn(await challenge(), { count: 49 }))).status).toBe(
      401,
    );
    expect((await open('/session/passkey', device.signIn(await challenge(), { count: 51 }))).status).toBe(
      200,
    );
  });

  it('with an answer that was used, one after the other and at once', async () => {
    const answer = device.signIn(await challenge());
    expect((await open('/session/passkey', answer)).status).toBe(200);
    expect((await open('/session/passkey', answer)).status).toBe(401);
    const other = device.signIn(await challenge());
    const both = await Promise.all([1, 2, 3].map(() => open('/session/passkey', other)));
    expect(both.filter(({ status }) => status === 200)).toHaveLength(1);
  });

  it('with a challenge that is not ours, or for something else', async () => {
    const made = Buffer.alloc(56, 7).toString('base64url');
    expect((await open('/session/passkey', device.signIn({ challenge: made }))).status).toBe(401);
    const { client } = await holder();
    const begun = await client.send<PasskeyOptionsView>('POST', '/own-account/passkeys/challenge', {
      password: PASSWORD,
    });
    expect((await open('/session/passkey', device.signIn(challengeOf(begun)))).status).toBe(401);
  });

  it('with the answer of another device under this name, and with nonsense', async () => {
    const other = new Authenticator(origin, party).signIn(await challenge());
    const id = device.credentialId.toString('base64url');
    expect((await open('/session/passkey', { ...other, id, rawId: id })).status).toBe(401);
    expect((await open('/session/passkey', other)).status).toBe(401);
    for (const response of [
      {},
      { clientDataJSON: 'x' },
      { clientDataJSON: {}, authenticatorData: [], signature: 1 },
    ])
      expect((await open('/session/passkey', { ...other, id, rawId: id, response })).status).toBe(401);
    for (const body of [{}, { ...other, type: 'password' }, { ...other, id: 7 }, { ...other, response: 'x' }])
      expect((await open('/session/passkey', body)).status).toBe(400);
  });

  it('keeps no challenge that nobody answered', async () => {
    const used = running.database.getRepository(UsedChallengeEntity);
    const before = await used.count();
    for (let at = 0; at < 20; at += 1) await challenge();
    expect(await used.count()).toBe(before);
  });
});

describe('adding is refused', () => {
  it('without the password, and for a passkey that is known', async () => {
    const { client } = await holder();
    const wrong = await client.send('POST', '/own-account/passkeys/challenge', {
      password: 'something else',
    });
    expect(wrong.status).toBe(401);
    const { device } = await added(client);
    const again = await added((await holder()).client, device);
    expect((again.answer.body as unknown as ErrorBody).code).toBe('key-used');
  });

  it('with an answer to somebody else’s challenge, from another origin, or twice', async () => {
    const { client, id } = await holder();
    const other = (await holder()).client;
    const begin = async (from: Client) =>
      challengeOf(
        await from.send<PasskeyOptionsView>('POST', '/own-account/passkeys/challenge', {
          password: PASSWORD,
        }),
      );
    const add = (answer: object) => client.send('POST', '/own-account/passkeys', { ...answer, name: 'x' });
    const device = () => new Authenticator(origin, party);
    expect((await add(device().register(await begin(other)))).status).toBe(409);
    const elsewhere = { origin: 'https://attacker.example' };
    expect((await add(device().register(await begin(client), elsewhere))).status).toBe(409);
    expect((await add(device().register(await begin(client), { unverified: true }))).status).toBe(409);
    const once = await begin(client);
    expect((await add(device().register(once))).status).toBe(201);
    expect((await add(device().register(once))).status).toBe(401);
    const account = await running.database.getRepository(AccountEntity).findOneByOrFail({ id });
    expect(account.passkeys).toBe(1);
  });

  it.each([
    ['http://127.0.0.1:4600', 'localhost', 'http://localhost:4600'],
    ['https://lantern.merrow.example', 'lantern.merrow.example', 'https://lantern.merrow.example'],
  ])('passkeys of %s are bound to its name', (address, id, from) => {
    expect(relyingParty({ address })).toEqual({ id, origin: from });
  });
});
