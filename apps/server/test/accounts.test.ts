import type {
  AccountView,
  FactorRolesView,
  InvitationView,
  NewFactorView,
  OwnSessionView,
  RecoveryCodesView,
  SessionView,
  TrailCheck,
  TrailPage,
  WelcomeView,
} from '@lantern/contracts';
import { generate } from 'otplib';
import { AccountEntity } from '../src/accounts/account.entity.js';
import { Trail } from '../src/platform/trail/trail.service.js';
import { asKeeper, type Client, PASSWORD, type Running, start } from './harness.js';

const CHOSEN = 'the gull sat on crate 9';
let running: Running;
let admin: Client;
beforeAll(async () => {
  running = await start();
  admin = await running.client();
});
afterAll(() => running.stop());

const open = (method: string, path: string, body?: object) =>
  fetch(`${running.address}/api${path}`, {
    method,
    headers: { 'content-type': 'application/json' },
    ...(body ? { body: JSON.stringify(body) } : {}),
  });
const signIn = (email: string, password: string) => open('POST', '/session', { email, password });
const invite = (email: string, roles: string[] = ['first-line']) =>
  admin.send<InvitationView & { code?: string }>('POST', '/accounts', { name: 'Nell Harrow', email, roles });
const accountOf = async (email: string): Promise<AccountView> => {
  const { body } = await admin.get<AccountView[]>('/accounts');
  const found = body.find((each) => each.email === email);
  if (!found) throw new Error(`There is no account of ${email}`);
  return found;
};

describe('an invitation', () => {
  it('lets its holder choose a password once, and sign in with what the role allows', async () => {
    const { body, status } = await invite('nell@merrowstrait.example');
    expect(status).toBe(201);
    expect(body.account).toMatchObject({ state: 'invited', roles: ['first-line'], lastSignIn: null });
    const look = (await (await open('GET', body.path)).json()) as WelcomeView;
    expect(look).toMatchObject({ name: 'Nell Harrow', email: 'nell@merrowstrait.example' });
    expect((await open('POST', body.path, { password: 'password1234' })).status).toBe(422);
    expect((await open('POST', body.path, { password: CHOSEN })).status).toBe(204);
    expect((await open('POST', body.path, { password: CHOSEN })).status).toBe(410);
    const session = (await (await signIn('nell@merrowstrait.example', CHOSEN)).json()) as SessionView;
    expect(session.account.permissions).toContain('incidents.decide');
    expect(session.account.permissions).not.toContain('incidents.unmask');
    expect(await accountOf('nell@merrowstrait.example')).toMatchObject({ state: 'active', sessions: 1 });
  });

  it('is nothing to sign in with before, and nothing after a day', async () => {
    const { body } = await invite('olaf@merrowstrait.example');
    expect((await signIn('olaf@merrowstrait.example', CHOSEN)).status).toBe(401);
    await running.database.query(
      'UPDATE invitation SET expiresAt = NOW() - INTERVAL 1 MINUTE WHERE accountId = ?',
      [body.account.id],
    );
    expect((await open('GET', body.path)).status).toBe(410);
    expect((await open('POST', body.path, { password: CHOSEN })).status).toBe(410);
  });

  it.each([
    ['an address that has an account', { email: 'ANALYST@merrowstrait.example' }, 409],
    ['a role that is none', { email: 'x@merrowstrait.example', roles: ['king'] }, 400],
    ['no address', { email: 'nobody' }, 400],
  ])('is refused for %s', async (_why, over, status) => {
    const request = { name: 'Nell', roles: [], ...over };
    expect((await admin.send('POST', '/accounts', request)).status).toBe(status);
  });

  it.each(['/welcome/short', `/welcome/${'x'.repeat(43)}`, '/welcome/%2e%2e%2fsession'])(
    'opens nothing at %s',
    async (path) => expect([401, 404, 410]).toContain((await open('GET', path)).status),
  );
});

describe('an account', () => {
  it('is disabled at once, everywhere, and enabled again', async () => {
    const { body } = await invite('pia@merrowstrait.example');
    await open('POST', body.path, { password: CHOSEN });
    const pia = await signIn('pia@merrowstrait.example', CHOSEN);
    const cookie = pia.headers.get('set-cookie')?.split(';')[0] ?? '';
    const asked = () => fetch(`${running.address}/api/session`, { headers: { cookie } });
    expect((await asked()).status).toBe(200);
    const set = (disabled: boolean) =>
      admin.send<AccountView>('PUT', `/accounts/${body.account.id}`, {
        roles: ['auditor'],
        seesSilent: false,
        disabled,
      });
    expect((await set(true)).body).toMatchObject({ state: 'disabled', sessions: 0 });
    expect((await asked()).status).toBe(401);
    expect((await signIn('pia@merrowstrait.example', CHOSEN)).status).toBe(401);
    expect((await set(false)).body).toMatchObject({ state: 'active', roles: ['auditor'] });
    const again = (await (await signIn('pia@merrowstrait.example', CHOSEN)).json()) as SessionView;
    expect(again.account.permissions).toEqual(expect.arrayContaining(['trail.read']));
    expect(again.account.permissions).not.toContain('incidents.decide');
  });

  it('whose password is lost gets a link; the old password and its sessions end', async () => {
    const { body } = await invite('quin@merrowstrait.example');
    await open('POST', body.path, { password: CHOSEN });
    expect((await signIn('quin@merrowstrait.example', CHOSEN)).status).toBe(200);
    const reset = await admin.send<InvitationView>('POST', `/accounts/${body.account.id}/reset`);
    expect(reset.status).toBe(200);
    expect((await signIn('quin@merrowstrait.example', CHOSEN)).status).toBe(401);
    expect((await open('POST', reset.body.path, { password: 'Tide-turns-at-four' })).status).toBe(204);
    expect((await signIn('quin@merrowstrait.example', 'Tide-turns-at-four')).status).toBe(200);
  });

  it('is the last that manages accounts only until another one may; none disables itself', async () => {
    const own = await accountOf('analyst@merrowstrait.example');
    const second = await accountOf('second@merrowstrait.example');
    const demote = (id: string, over: object) =>
      admin.send<{ code?: string }>('PUT', `/accounts/${id}`, {
        roles: ['administrator'],
        seesSilent: true,
        disabled: false,
        ...over,
      });
    expect((await demote(own.id, { disabled: true })).body.code).toBe('act-refused');
    expect((await demote(second.id, { roles: ['auditor'] })).status).toBe(200);
    expect((await demote(own.id, { roles: ['auditor'] })).body.code).toBe('last-administrator');
    expect((await accountOf('analyst@merrowstrait.example')).permissions).toContain('accounts.manage');
    expect((await demote(second.id, {})).status).toBe(200);
  });

  it('is managed by nobody without the right to it', async () => {
    const auditor = await running.client('auditor@merrowstrait.example');
    const { id } = await accountOf('second@merrowstrait.example');
    expect((await auditor.get('/accounts')).status).toBe(403);
    expect(
      (await auditor.send('POST', '/accounts', { name: 'X', email: 'x@x.example', roles: [] })).status,
    ).toBe(403);
    expect(
      (await auditor.send('PUT', `/accounts/${id}`, { roles: [], seesSilent: true, disabled: true })).status,
    ).toBe(403);
    expect((await auditor.send('POST', `/accounts/${id}/reset`)).status).toBe(403);
    expect((await auditor.get('/trail')).status).toBe(403);
  });
});

describe('one’s own account', () => {
  it('lists where it is signed in, and ends one session or all others', async () => {
    const [here, there, elsewhere] = (await Promise.all(
      ['', '', ''].map(() => running.client('auditor@merrowstrait.example')),
    )) as [Client, Client, Client];
    const sessions = async () => (await here.get<OwnSessionView[]>('/own-account/sessions')).body;
    const own = (await sessions()).filter(({ isThis }) => isThis);
    expect(own).toHaveLength(1);
    const others = (await sessions()).filter(({ isThis }) => !isThis);
    expect(others.length).toBeGreaterThanOrEqual(2);
    expect((await here.send('DELETE', `/own-account/sessions/${others[0]?.id}`)).status).toBe(204);
    expect((await here.send('DELETE', `/own-account/sessions/${others[0]?.id}`)).status).toBe(404);
    // Somebody else's session is not found.
    expect((await admin.send('DELETE', `/own-account/sessions/${own[0]?.id}`)).status).toBe(404);
    expect((await here.send('DELETE', '/own-account/sessions')).status).toBe(204);
    expect((await sessions()).map(({ isThis }) => isThis)).toEqual([true]);
    expect([(await there.get('/session')).status, (await elsewhere.get('/session')).status]).toEqual([
      401, 401,
    ]);
  });

  it('changes its password with the present one, and every other session ends', async () => {
    const { body } = await invite('rolf@merrowstrait.example');
    await open('POST', body.path, { password: CHOSEN });
    const answers = await Promise.all([0, 1].map(() => signIn('rolf@merrowstrait.example', CHOSEN)));
    const [one, other] = (await Promise.all(
      answers.map(async (answer) => ({
        cookie: answer.headers.get('set-cookie')?.split(';')[0] ?? '',
        token: ((await answer.json()) as SessionView).csrfToken,
      })),
    )) as [{ cookie: string; token: string }, { cookie: string; token: string }];
    const change = (current: string, next: string) =>
      fetch(`${running.address}/api/own-account/password`, {
        method: 'PUT',
        headers: { cookie: one.cookie, 'x-csrf-token': one.token, 'content-type': 'application/json' },
        body: JSON.stringify({ current, next }),
      });
    expect((await change('not mine at all', 'Tide-turns-at-four')).status).toBe(401);
    expect((await change(CHOSEN, 'short')).status).toBe(400);
    expect((await change(CHOSEN, 'rolf12345678')).status).toBe(422);
    expect((await change(CHOSEN, 'Tide-turns-at-four')).status).toBe(204);
    const status = async (cookie: string) =>
      (await fetch(`${running.address}/api/session`, { headers: { cookie } })).status;
    expect([await status(one.cookie), await status(other.cookie)]).toEqual([200, 401]);
  });

  it('is signed out after hours without use', async () => {
    const idle = await running.client('auditor@merrowstrait.example');
    await running.database.query(
      'UPDATE session SET lastSeen = NOW() - INTERVAL 5 HOUR WHERE tokenHash IN (SELECT tokenHash FROM session s JOIN account a ON a.id = s.accountId WHERE a.email = ?)',
      ['auditor@merrowstrait.example'],
    );
    expect((await idle.get('/session')).status).toBe(401);
  });
});

describe('a second factor', () => {
  const email = 'tove@merrowstrait.example';
  const enter = (code?: string) =>
    open('POST', '/session', { email, password: CHOSEN, ...(code === undefined ? {} : { code }) });
  const codeOf = async (answer: Response) => ((await answer.json()) as { code?: string }).code;
  const later = async (secret: string, steps: number) =>
    generate({ secret, epoch: Math.floor(Date.now() / 1000) + steps * 30 });
  let secret = '';
  let codes: readonly string[] = [];
  let session = { cookie: '', token: '' };
  const own = (method: string, path: string, body?: object) =>
    fetch(`${running.address}/api/own-account/${path}`, {
      method,
      headers: { cookie: session.cookie, 'x-csrf-token': session.token, 'content-type': 'application/json' },
      ...(body ? { body: JSON.stringify(body) } : {}),
    });

  beforeAll(async () => {
    const { body } = await invite(email);
    await open('POST', body.path, { password: CHOSEN });
    const answer = await enter();
    session = {
      cookie: answer.headers.get('set-cookie')?.split(';')[0] ?? '',
      token: ((await answer.json()) as SessionView).csrfToken,
    };
  });

  it('is asked for only after a right code was shown', async () => {
    secret = ((await (await own('POST', 'factor')).json()) as NewFactorView).secret;
    expect((await enter()).status).toBe(200);
    expect(await codeOf(await own('PUT', 'factor', { code: '000000' }))).toBe('wrong-code');
    const shown = await own('PUT', 'factor', { code: await later(secret, -1) });
    codes = ((await shown.json()) as RecoveryCodesView).codes;
    expect(codes).toHaveLength(10);
    expect((await own('POST', 'factor')).status).toBe(409);
    expect(await codeOf(await enter())).toBe('second-factor-needed');
    expect((await accountOf(email)).secondFactor).toBe(true);
  });

  it('takes a code once, also when it comes twice at the same time', async () => {
    const code = await later(secret, 0);
    const both = await Promise.all([enter(code), enter(code)]);
    expect(both.map(({ status }) => status).sort()).toEqual([200, 401]);
    expect(await codeOf(await enter(code))).toBe('wrong-code');
    expect(await codeOf(await enter(await later(secret, -1)))).toBe('wrong-code');
  });

  it('takes each recovery code once', async () => {
    expect((await enter(codes[0]?.toUpperCase())).status).toBe(200);
    expect(await codeOf(await enter(codes[0]))).toBe('wrong-code');
  });

  it('says nothing of itself to who has not the password', async () => {
    const answer = await open('POST', '/session', { email, password: 'a wrong password' });
    expect(await codeOf(answer)).toBe('wrong-credentials');
  });

  it('is not guessed with a session that somebody left open', async () => {
    const thief = await running.client('auditor@merrowstrait.example');
    const codes: number[] = [];
    for (let count = 0; count < 12; count += 1)
      codes.push(
        (await thief.send('PUT', '/own-account/password', { current: `guess ${count}`, next: CHOSEN }))
          .status,
      );
    expect(codes.slice(0, 10)).not.toContain(429);
    expect(codes.slice(10)).toEqual([429, 429]);
    expect((await thief.get('/own-account/sessions')).status).toBe(200);
  });

  it('is kept sealed, taken off with a code, and by an administrator who resets the account', async () => {
    const [row] = await running.database.query<{ factorSecret: Buffer }[]>(
      'SELECT factorSecret FROM account WHERE email = ?',
      [email],
    );
    expect(row?.factorSecret.toString('latin1')).not.toContain(secret);
    expect((await own('POST', 'factor/removal', { code: '000000' })).status).toBe(401);
    expect((await own('POST', 'factor/removal', { code: codes[1] })).status).toBe(204);
    expect((await enter()).status).toBe(200);
    const again = ((await (await own('POST', 'factor')).json()) as NewFactorView).secret;
    expect((await own('PUT', 'factor', { code: await later(again, 0) })).status).toBe(200);
    const { id } = await accountOf(email);
    const reset = await admin.send<InvitationView>('POST', `/accounts/${id}/reset`);
    await open('POST', reset.body.path, { password: CHOSEN });
    expect((await enter()).status).toBe(200);
  });

  it('is demanded by role: until it is on, its holder may do nothing else', async () => {
    const before = await enter();
    session = {
      cookie: before.headers.get('set-cookie')?.split(';')[0] ?? '',
      token: ((await before.json()) as SessionView).csrfToken,
    };
    const get = (path: string) =>
      fetch(`${running.address}/api/${path}`, { headers: { cookie: session.cookie } });
    expect((await get('incidents')).status).toBe(200);
    const set = await admin.send<FactorRolesView>('PUT', '/accounts/factor-roles', { roles: ['first-line'] });
    expect(set.body.roles).toEqual(['first-line']);
    expect(set.body.without).toBeGreaterThan(0);
    // It holds for sessions that are open already.
    expect((await get('incidents')).status).toBe(403);
    const { account } = (await (await get('session')).json()) as SessionView;
    expect(account).toMatchObject({ factorDemanded: true, permissions: [] });
    const made = ((await (await own('POST', 'factor')).json()) as NewFactorView).secret;
    expect((await own('PUT', 'factor', { code: await later(made, 0) })).status).toBe(200);
    expect((await get('incidents')).status).toBe(200);
    const kept = await own('POST', 'factor/removal', { code: await later(made, 1) });
    expect(await codeOf(kept)).toBe('act-refused');
    expect((await admin.send('PUT', '/accounts/factor-roles', { roles: ['captain'] })).status).toBe(400);
    await admin.send('PUT', '/accounts/factor-roles', { roles: [] });
  });
});

describe('the audit trail', () => {
  const page = async (query = '') => (await admin.get<TrailPage>(`/trail${query}`)).body;
  const check = async () => (await admin.get<TrailCheck>('/trail/check')).body;

  it('holds sign-ins, failures and changes, with who and what, and never a password', async () => {
    await signIn('nobody@merrowstrait.example', 'a wrong password');
    await signIn('analyst@merrowstrait.example', PASSWORD);
    const { body } = await invite('sten@merrowstrait.example');
    await admin.send('PUT', `/accounts/${body.account.id}`, {
      roles: ['auditor'],
      seesSilent: false,
      disabled: false,
    });
    const { entries } = await page('?most=500');
    const acts = entries.map(({ actor, action, target }) => `${actor} ${action} ${target}`.trim());
    expect(acts).toEqual(
      expect.arrayContaining([
        'nobody@merrowstrait.example sign-in-failed',
        'analyst@merrowstrait.example signed-in',
        'analyst@merrowstrait.example POST /accounts',
        `analyst@merrowstrait.example PUT /accounts/:id ${body.account.id}`,
      ]),
    );
    expect(JSON.stringify(entries)).not.toMatch(/wrong password|gull|Tide-turns/);
  });

  it('narrows by who and what, and gives pages without a gap', async () => {
    const { total } = await page();
    const numbers: number[] = [];
    for (let before: number | null = total + 1; before !== null;) {
      const next: TrailPage = await page(`?most=7&before=${before}`);
      numbers.push(...next.entries.map(({ number }) => number));
      before = next.before;
    }
    expect(numbers).toEqual(Array.from({ length: total }, (_unused, index) => total - index));
    const failed = await page('?action=sign-in-failed');
    expect(new Set(failed.entries.map(({ action }) => action))).toEqual(new Set(['sign-in-failed']));
  });

  it('keeps its order when many things happen at once', async () => {
    const trail = running.application.get(Trail);
    await Promise.all(
      Array.from({ length: 40 }, (_unused, index) => trail.add({ actor: 'x', action: `at once ${index}` })),
    );
    expect(await check()).toMatchObject({ whole: true, brokenAt: null });
  });

  it('is exported as JSON Lines, which is an entry too', async () => {
    const answer = await fetch(`${running.address}/api/trail/export?action=sign-in-failed`, {
      headers: { cookie: admin.cookie },
    });
    const lines = (await answer.text())
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line) as { action: string });
    expect(lines.length).toBeGreaterThan(0);
    expect(lines.every(({ action }) => action === 'sign-in-failed')).toBe(true);
    expect((await page()).entries[0]?.action).toBe('trail-exported');
  });

  it('shows where somebody changed a row, took one out, or cut off its end', async () => {
    const { total } = await page();
    const sql = (statement: string) =>
      statement.replace('trail_entry', `trail_of_${running.config.database.database}.trail_entry`);
    const query = (statement: string) =>
      asKeeper(running.config, (connection) => connection.query(sql(statement)));
    // The server's own account can do none of it, by the view and by the table.
    for (const statement of [
      "UPDATE trail_entry SET actor = 'other' WHERE number = 3",
      'DELETE FROM trail_entry WHERE number = 2',
      'DROP TABLE trail_entry',
    ])
      for (const either of [statement, sql(statement)])
        await expect(running.database.query(either)).rejects.toThrow();
    expect(await check()).toMatchObject({ whole: true });
    await query("UPDATE trail_entry SET actor = 'other' WHERE number = 3");
    expect(await check()).toMatchObject({ whole: false, brokenAt: 3, why: 'changed' });
    await query('DELETE FROM trail_entry WHERE number = 2');
    expect(await check()).toMatchObject({ whole: false, brokenAt: 2, why: 'missing' });
    await query('DELETE FROM trail_entry WHERE number <= 3');
    expect(await check()).toMatchObject({ whole: false, brokenAt: 1 });
    await query('DELETE FROM trail_entry');
    expect(await check()).toMatchObject({ whole: false, entries: 0, brokenAt: 1, why: 'cut-off' });
    expect(total).toBeGreaterThan(40);
  });
});

it('keeps accounts of earlier versions with what they may', async () => {
  const account = await running.database
    .getRepository(AccountEntity)
    .findOneByOrFail({ email: 'auditor@merrowstrait.example' });
  expect(account).toMatchObject({ roles: null, disabledAt: null });
  expect((await accountOf('auditor@merrowstrait.example')).roles).toEqual([]);
});
