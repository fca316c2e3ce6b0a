/** Single sign-on by OpenID Connect, against a provider that we did not write, and everything that can go wrong. */
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { exportJWK, generateKeyPair, SignJWT } from 'jose';
import type { AccountView, ErrorBody, SessionView, TrailPage } from '@lantern/contracts';
import type { OwnRoleView } from '@lantern/contracts/access';
import type {
  SignOnOffer,
  SignOnRequest,
  SignOnStep,
  SignOnTrial,
  SignOnView,
} from '@lantern/contracts/sign-on';
import { AccountEntity } from '../src/accounts/account.entity.js';
import { InsideMail, type SystemMail } from '../src/platform/inside-mail.js';
import { type Client, PASSWORD, type Running, start } from './harness.js';
import { Browser, CLIENT, type RunningProvider, startProvider } from './identity-provider.js';

let running: Running;
let admin: Client;
let provider: RunningProvider;
let setting: SignOnRequest;
let view: SignOnView;

beforeAll(async () => {
  running = await start();
  admin = await running.client();
  view = (await admin.get<SignOnView>('/single-sign-on')).body;
  provider = await startProvider({ ...view, back: `${running.config.address}/` });
  setting = {
    ...{ enabled: true, issuer: provider.issuer, clientId: CLIENT.id, clientSecret: CLIENT.secret },
    ...{ groupsClaim: 'groups', onlyWay: false, emergency: null },
    groupRoles: [
      { group: 'dlp-desk', roles: ['first-line'] },
      { group: 'dlp-admins', roles: ['administrator'] },
    ],
  };
  await set({});
});
afterAll(async () => {
  await provider.stop();
  await running.stop();
});

async function set(over: Partial<SignOnRequest>): Promise<void> {
  const answer = await admin.send('PUT', '/single-sign-on', { ...setting, ...over });
  expect([answer.status, answer.body]).toEqual([200, expect.anything()]);
}

interface Way {
  /** What the browser brings back, changed. */
  readonly change?: (answer: URL) => void;
  readonly browser?: Browser;
  readonly withoutCookie?: boolean;
}

/** Goes the whole way as a browser; `location` is where it ends. */
async function walk(sub: string, { change, browser = new Browser(), withoutCookie = false }: Way = {}) {
  provider.signsIn(sub);
  const begun = await fetch(`${running.address}/api/session/sign-on`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: '{}',
  });
  const { url } = (await begun.json()) as SignOnStep;
  const [underway = ''] = (begun.headers.get('set-cookie') ?? '').split(';');
  const back = new URL(await browser.goTo(url ?? '', view.redirectUri));
  change?.(back);
  return brought(back, withoutCookie ? '' : underway);
}

async function brought(back: URL, cookie: string) {
  const answer = await fetch(`${running.address}${back.pathname}${back.search}`, {
    redirect: 'manual',
    headers: { cookie },
  });
  const session = answer.headers.getSetCookie().find((line) => line.startsWith('lantern_session='));
  return { location: answer.headers.get('location') ?? '', session: session?.split(';')[0], back, cookie };
}

async function sessionOf(cookie: string | undefined): Promise<SessionView | number> {
  const answer = await fetch(`${running.address}/api/session`, { headers: { cookie: cookie ?? '' } });
  return answer.status === 200 ? ((await answer.json()) as SessionView) : answer.status;
}

const accountOf = (email: string) => running.database.getRepository(AccountEntity).findOneBy({ email });

describe('signing in through the provider', () => {
  it('makes an account with the roles of the groups, and knows it again by its subject', async () => {
    provider.people.set('n1', {
      email: 'Nora@merrowstrait.example',
      name: 'Nora Vane',
      groups: ['staff', 'dlp-desk'],
    });
    const first = await walk('n1');
    expect(first.location).toBe('/');
    expect(await sessionOf(first.session)).toMatchObject({
      account: { name: 'Nora Vane', email: 'nora@merrowstrait.example', factorDemanded: false },
    });
    expect(await accountOf('nora@merrowstrait.example')).toMatchObject({ roles: ['first-line'] });

    // Married, moved to another group: the same account with what holds now; the older session is over.
    provider.people.set('n1', {
      email: 'nora.holm@merrowstrait.example',
      name: 'Nora Holm',
      groups: ['dlp-admins'],
    });
    const second = await walk('n1');
    expect(await accountOf('nora@merrowstrait.example')).toBeNull();
    expect(await accountOf('nora.holm@merrowstrait.example')).toMatchObject({ roles: ['administrator'] });
    expect(await sessionOf(first.session)).toBe(401);
    expect(await sessionOf(second.session)).toMatchObject({ account: { name: 'Nora Holm' } });
    const { body } = await admin.get<AccountView[]>('/accounts');
    expect(body.find(({ name }) => name === 'Nora Holm')).toMatchObject({ signOn: true, state: 'active' });
    const trail = (await admin.get<TrailPage>('/trail?actor=nora.holm@merrowstrait.example')).body;
    expect(trail.entries[0]?.facts).toMatchObject({ with: 'single sign-on' });
  });

  it.each([
    ['no group of ours', { groups: ['staff'] }, 'no-role'],
    ['no groups at all', {}, 'no-role'],
    ['no address', { groups: ['dlp-desk'], email: undefined as unknown as string }, 'no-address'],
    ['an address that is not theirs', { groups: ['dlp-desk'], verified: false }, 'no-address'],
  ])('lets nobody in with %s', async (_what, over, why) => {
    provider.people.set('x1', { email: 'x1@merrowstrait.example', name: 'X', ...over });
    expect(await walk('x1')).toMatchObject({ location: `/?sign-on=${why}`, session: undefined });
  });

  it('takes over an account of before only where the provider vouches for the address', async () => {
    const email = 'second@merrowstrait.example';
    provider.people.set('s1', { email, name: 'Second', verified: null, groups: ['dlp-desk'] });
    expect((await walk('s1')).location).toBe('/?sign-on=address-taken');
    provider.people.set('s1', { email, name: 'Second', groups: ['dlp-desk'] });
    expect((await walk('s1')).location).toBe('/');
    // Its password opens nothing any more, and somebody else with the address does not get it.
    expect((await admin.send('POST', '/session', { email, password: PASSWORD })).status).toBe(401);
    provider.people.set('s2', { email, name: 'Somebody else', groups: ['dlp-desk'] });
    expect((await walk('s2')).location).toBe('/?sign-on=address-taken');
  });

  it('keeps a disabled account out', async () => {
    provider.people.set('d1', { email: 'd1@merrowstrait.example', name: 'D', groups: ['dlp-desk'] });
    await walk('d1');
    await running.database
      .getRepository(AccountEntity)
      .update({ email: 'd1@merrowstrait.example' }, { disabledAt: new Date() });
    expect((await walk('d1')).location).toBe('/?sign-on=disabled');
  });

  it('finds groups that stand with the provider alone', async () => {
    const other = await startProvider(
      { ...view, back: `${running.config.address}/` },
      { groupsIn: 'userinfo' },
    );
    const before = provider;
    provider = other;
    await set({ issuer: other.issuer });
    other.people.set('u1', { email: 'u1@merrowstrait.example', name: 'U', groups: ['dlp-desk'] });
    expect((await walk('u1')).location).toBe('/');
    provider = before;
    await set({});
    await other.stop();
  });
});

describe('an answer is refused', () => {
  beforeAll(() => {
    provider.people.set('g1', { email: 'g1@merrowstrait.example', name: 'G', groups: ['dlp-desk'] });
  });

  it.each<[string, Way, string]>([
    ['of another browser', { withoutCookie: true }, 'too-late'],
    [
      'with another state',
      { change: (back) => back.searchParams.set('state', 'x'.repeat(43)) },
      'not-accepted',
    ],
    [
      'with a code made up',
      { change: (back) => back.searchParams.set('code', 'y'.repeat(43)) },
      'not-accepted',
    ],
    ['without a code', { change: (back) => back.searchParams.delete('code') }, 'not-accepted'],
    [
      'of another provider',
      { change: (back) => back.searchParams.set('iss', 'https://x.example') },
      'not-accepted',
    ],
    ['that is an error', { change: (back) => (back.search = '?error=access_denied') }, 'not-accepted'],
  ])('%s', async (_what, way, why) => {
    expect(await walk('g1', way)).toMatchObject({ location: `/?sign-on=${why}`, session: undefined });
  });

  it('that was used', async () => {
    const once = await walk('g1');
    expect(once.session).toBeDefined();
    expect(await brought(once.back, once.cookie)).toMatchObject({ session: undefined });
  });

  it('whose cookie was changed', async () => {
    const { back, cookie } = await walk('g1');
    expect((await brought(back, `${cookie.slice(0, -4)}AAAA`)).location).toBe('/?sign-on=too-late');
  });
});

describe('a provider', () => {
  let odd: Server;
  let base = '';
  let answers: (path: string) => { status?: number; body: string; wait?: boolean };
  beforeAll(async () => {
    odd = createServer((request, response) => {
      const { status = 200, body, wait } = answers(request.url ?? '');
      if (wait) return;
      response.writeHead(status, { 'content-type': 'application/json' }).end(body);
    });
    await new Promise<void>((resolve) => odd.listen(0, '127.0.0.1', resolve));
    base = `http://127.0.0.1:${(odd.address() as AddressInfo).port}`;
  });
  afterAll(async () => {
    await set({});
    odd.closeAllConnections();
    odd.close();
  });
  const begin = async () =>
    fetch(`${running.address}/api/session/sign-on`, {
      method: 'POST',
      body: '{}',
      headers: { 'content-type': 'application/json' },
    });

  it.each<[string, () => { status?: number; body: string; wait?: boolean }]>([
    ['that is broken', () => ({ status: 500, body: 'oops' })],
    ['that is something else', () => ({ body: '<html>hello</html>' })],
    ['that says it is another', () => ({ body: JSON.stringify({ issuer: 'https://other.example' }) })],
    ['that never answers', () => ({ body: '', wait: true })],
  ])(
    '%s leads to a sentence, and passwords still work',
    async (_what, answer) => {
      answers = answer;
      await set({ issuer: base });
      const refused = await begin();
      expect([refused.status, ((await refused.json()) as ErrorBody).code]).toEqual([
        502,
        'server-unreachable',
      ]);
      expect((await running.client()).session.account.email).toBe('analyst@merrowstrait.example');
      const trial = await admin.send<SignOnTrial>('POST', '/single-sign-on/trials', {
        ...setting,
        issuer: base,
      });
      expect(trial.body).toMatchObject({ reached: false, why: expect.stringContaining('cannot be reached') });
    },
    40_000,
  );

  it('that signs with a key nobody knows is not believed', async () => {
    // It passes everything on from the real one, but its keys.
    const { publicKey } = await generateKeyPair('RS256', { extractable: true });
    const keys = JSON.stringify({ keys: [{ ...(await exportJWK(publicKey)), use: 'sig', alg: 'RS256' }] });
    const metadata = (await (
      await fetch(`${provider.issuer}/.well-known/openid-configuration`)
    ).json()) as object;
    answers = (path) =>
      path.includes('well-known')
        ? { body: JSON.stringify({ ...metadata, issuer: base, jwks_uri: `${base}/keys` }) }
        : { body: keys };
    await set({ issuer: base });
    provider.people.set('k1', { email: 'k1@merrowstrait.example', name: 'K', groups: ['dlp-desk'] });
    expect((await walk('k1')).location).toBe('/?sign-on=not-accepted');
    expect(await accountOf('k1@merrowstrait.example')).toBeNull();
  });
});

describe('signing out', () => {
  it('leads to the provider, and only those who came from there', async () => {
    provider.people.set('o1', { email: 'o1@merrowstrait.example', name: 'O', groups: ['dlp-desk'] });
    const { session = '' } = await walk('o1');
    const answer = await fetch(`${running.address}/api/session/sign-on/end`, {
      headers: { cookie: session },
    });
    const { url } = (await answer.json()) as SignOnStep;
    expect(url).toContain(`${provider.issuer}/session/end?`);
    expect((await admin.get<SignOnStep>('/session/sign-on/end')).body).toEqual({ url: null });
  });

  const tell = (token: string) =>
    fetch(`${running.address}/api/session/sign-on/back-channel`, {
      method: 'POST',
      headers: { 'content-type': 'application/x-www-form-urlencoded' },
      body: new URLSearchParams({ logout_token: token }),
    });

  it('at the provider ends the session here, by the provider’s own word', async () => {
    provider.people.set('b1', { email: 'b1@merrowstrait.example', name: 'B', groups: ['dlp-desk'] });
    const { session } = await walk('b1');
    const other = await walk('b1');
    expect(await sessionOf(session)).toMatchObject({ account: { name: 'B' } });
    const client = (await provider.provider.Client.find(CLIENT.id)) as
      { backchannelLogout(sub: string, sid: string): Promise<void> } | undefined;
    // The provider's own implementation makes the token; the address of the test's server is another than configured.
    const sent: string[] = [];
    const catcher = createServer((request, response) => {
      request.on('data', (chunk: Buffer) => sent.push(chunk.toString()));
      request.on('end', () => response.end());
    });
    await new Promise<void>((resolve) => catcher.listen(0, '127.0.0.1', resolve));
    const { port } = catcher.address() as AddressInfo;
    Object.assign(client ?? {}, {
      backchannelLogoutUri: `http://127.0.0.1:${port}/`,
      backchannelLogoutSessionRequired: false,
    });
    await client?.backchannelLogout('b1', 'no-such-session');
    catcher.close();
    const token = new URLSearchParams(sent.join('')).get('logout_token') ?? '';
    expect((await tell(token)).status).toBe(200);
    expect(await sessionOf(session)).toBe(401);
    expect(await sessionOf(other.session)).toBe(401);
  });

  it.each([
    ['made up', 'x.y.z'],
    ['empty', ''],
  ])('is not believed by a token that is %s', async (_what, token) => {
    expect((await tell(token)).status).toBeGreaterThanOrEqual(400);
  });

  it('is not believed by somebody else’s signature', async () => {
    const { session } = await walk('g1');
    const { privateKey } = await generateKeyPair('RS256');
    const token = await new SignJWT({
      events: { 'http://schemas.openid.net/event/backchannel-logout': {} },
      sub: 'g1',
    })
      .setProtectedHeader({ alg: 'RS256' })
      .setIssuer(provider.issuer)
      .setAudience(CLIENT.id)
      .setIssuedAt()
      .sign(privateKey);
    expect((await tell(token)).status).toBe(403);
    expect(await sessionOf(session)).toMatchObject({ account: { name: 'G' } });
  });
});

describe('single sign-on alone', () => {
  it('needs an account for emergencies, which everybody hears of when it is used', async () => {
    const [analyst] = (await admin.get<AccountView[]>('/accounts')).body.filter(
      ({ email }) => email === 'analyst@merrowstrait.example',
    );
    const only = (emergency: string | null) =>
      admin.send<ErrorBody>('PUT', '/single-sign-on', { ...setting, onlyWay: true, emergency });
    expect((await only(null)).status).toBe(409);
    const [auditor] = (await admin.get<AccountView[]>('/accounts')).body.filter(({ email }) =>
      email.startsWith('auditor'),
    );
    expect((await only(auditor?.id ?? '')).status).toBe(409);
    expect((await only(analyst?.id ?? '')).status).toBe(200);
    expect((await admin.get<SignOnOffer>('/session/sign-on')).body).toMatchObject({ onlyWay: true });

    const refused = await admin.send<ErrorBody>('POST', '/session', {
      ...{ email: 'auditor@merrowstrait.example', password: PASSWORD },
    });
    expect([refused.status, refused.body.message]).toEqual([
      409,
      expect.stringContaining('through your organisation'),
    ]);

    const mails: SystemMail[] = [];
    running.application.get(InsideMail).deliveredBy((_manager, mail) => {
      mails.push(mail);
      return Promise.resolve(true);
    });
    provider.people.set('a1', {
      email: 'a1@merrowstrait.example',
      name: 'Admin of groups',
      groups: ['dlp-admins'],
    });
    await walk('a1');
    await running.client();
    expect(mails.map(({ to }) => to)).toContain('a1@merrowstrait.example');
    expect(mails.map(({ to }) => to)).not.toContain('analyst@merrowstrait.example');
    // Nobody takes it over by having its address at the provider.
    provider.people.set('e1', { email: 'analyst@merrowstrait.example', name: 'E', groups: ['dlp-desk'] });
    expect((await walk('e1')).location).toBe('/?sign-on=address-taken');
    await set({ onlyWay: false });
  });

  it.each([
    ['plain http to another machine', { issuer: 'http://id.merrow.example' }],
    ['no address', { issuer: 'merrow' }],
    ['a role that there is not', { groupRoles: [{ group: 'x', roles: ['owner'] }] }],
  ])('is not set with %s', async (_what, over) => {
    expect((await admin.send('PUT', '/single-sign-on', { ...setting, ...over })).status).toBe(400);
  });

  it('keeps a role that a group gives from being removed', async () => {
    const role = { name: 'By group', description: '', permissions: ['incidents.read'], limits: null };
    const made = await admin.send<OwnRoleView[]>('POST', '/roles', { ...role, needsFactor: false });
    const id = made.body.find(({ name }) => name === 'By group')?.id ?? '';
    await set({ groupRoles: [{ group: 'watchers', roles: [id] }] });
    const refused = await admin.send<ErrorBody>('DELETE', `/roles/${id}`);
    expect([refused.status, refused.body.message]).toEqual([409, expect.stringContaining('watchers')]);
    await set({});
    expect((await admin.send('DELETE', `/roles/${id}`)).status).toBe(200);
  });

  it('never shows its secret again, and keeps it when none is given', async () => {
    const { clientSecret: _secret, ...without } = setting;
    const saved = await admin.send<SignOnView>('PUT', '/single-sign-on', without);
    expect(saved.body.hasSecret).toBe(true);
    expect(JSON.stringify(saved.body)).not.toContain(CLIENT.secret);
    expect((await walk('g1')).location).toBe('/');
  });
});
