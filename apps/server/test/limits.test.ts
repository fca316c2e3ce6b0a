/** Roles of the organisation's own: what their limits show and hide, deputies, and programs with keys. */
import { randomUUID } from 'node:crypto';
import { jest } from '@jest/globals';
import type {
  BulkView,
  ErrorBody,
  IncidentDetail,
  IncidentPage,
  IncidentRow,
  ListCounts,
  Permission,
  SendMailResult,
  TrailPage,
  WaitingView,
} from '@lantern/contracts';
import type {
  DeputyView,
  NewServiceKeyView,
  OwnRoleView,
  RoleLimits,
  ServiceKeyView,
} from '@lantern/contracts/access';
import { cardNumber, chance, grouped } from '@lantern/testkit';
import { Access } from '../src/accounts/access/access.service.js';
import { DeputyEntity, ServiceKeyEntity } from '../src/accounts/access/access.entity.js';
import { AccountEntity } from '../src/accounts/account.entity.js';
import { hashPassword } from '../src/accounts/password.js';
import { PersonEntity } from '../src/directory/person.entity.js';
import { BulkDecisions } from '../src/incidents/bulk/bulk.service.js';
import { IncidentsService } from '../src/incidents/incidents.service.js';
import { InsideMail } from '../src/platform/inside-mail.js';
import { Alerts } from '../src/response/routing/alerts.service.js';
import { AlertEntity } from '../src/response/routing/routing.entity.js';
import { declaredRoutes } from '../src/platform/auth/route-audit.js';
import { type Client, mailForm, OUTSIDE, PASSWORD, publish, ruleOf, type Running, start } from './harness.js';

const ALL: RoleLimits = { departments: [], policies: [], channels: [], severities: [], ownTeam: false };
const DESK: readonly Permission[] = [
  ...(['incidents.read', 'incidents.decide', 'incidents.unmask', 'incidents.respond'] as const),
  ...(['overrides.decide', 'policies.read'] as const),
];
const random = chance(77);

let running: Running;
let client: Client;
let orla: PersonEntity;
let bea: PersonEntity;
let ours: number;
let theirs: number;
let passwordHash: string;
const policies: Record<string, string> = {};

beforeAll(async () => {
  running = await start();
  client = await running.client();
  passwordHash = await hashPassword(PASSWORD);
  orla = await running.person('Orla Fenwick');
  const people = await running.database.getRepository(PersonEntity).find({ order: { name: 'ASC' } });
  const other = people.find(
    ({ department, manager }) => department !== orla.department && manager && manager !== orla.manager,
  );
  if (!other) throw new Error('The demo has one department only');
  bea = other;
  const held = (severity: string) =>
    ruleOf({
      answer: 'hold',
      severity,
      when: {
        kind: 'all',
        of: [
          { kind: 'findings', pattern: 'payment-card', atLeast: 1, distinct: true, certainty: 60 },
          { kind: 'recipient', quantity: 'any', side: 'outside' },
        ],
      },
    });
  for (const [word, severity, { department }] of [
    ['harbour', 'high', orla],
    ['galley', 'medium', bea],
  ] as const) {
    const people = { with: [{ kind: 'department', department }], without: [] };
    policies[word] = (await publish(client, `Cards of the ${word}`, [held(severity)], { people })).policy.id;
  }
  ours = await send(orla, 'harbour');
  theirs = await send(bea, 'galley');
}, 120_000);
afterAll(() => running.stop());

async function send(person: PersonEntity, word: string): Promise<number> {
  const body = `The ${word} office has the card ${grouped(cardNumber(random))} of this guest.`;
  const form = mailForm({
    person: person.id,
    to: [OUTSIDE],
    subject: `About the ${word} ${person.name}`,
    body,
  });
  expect((await client.send<SendMailResult>('POST', '/stand-ins/mail/messages', form)).body.status).toBe(
    'waiting',
  );
  const { rows } = (await client.get<IncidentPage>('/incidents?order=-number&limit=1')).body;
  return rows[0]?.number ?? 0;
}

async function role(
  limits: Partial<RoleLimits> | null,
  permissions = DESK,
  needsFactor = false,
): Promise<string> {
  const name = `Role ${randomUUID().slice(0, 8)}`;
  const request = {
    name,
    description: '',
    permissions,
    needsFactor,
    limits: limits && { ...ALL, ...limits },
  };
  const made = await client.send<OwnRoleView[]>('POST', '/roles', request);
  expect(made.status).toBe(201);
  return made.body.find((one) => one.name === name)?.id ?? '';
}

async function accountWith(roles: readonly string[], email = `${randomUUID()}@merrowstrait.example`) {
  const permissions = await running.application.get(Access).permissionsOf(roles, false);
  const account = { id: randomUUID(), name: email.split('@')[0] ?? '', email };
  await running.database
    .getRepository(AccountEntity)
    .insert({ ...account, passwordHash, permissions, roles: [...roles] });
  return { ...account, client: await running.client(email) };
}

const incidents = async (from: Client): Promise<readonly IncidentRow[]> =>
  (await from.get<IncidentPage>('/incidents?limit=200')).body.rows;

describe('a role that is limited to one department', () => {
  let desk: Client;
  beforeAll(async () => {
    desk = (await accountWith([await role({ departments: [orla.department] })])).client;
  });

  it('lists, counts and exports what lies within, and nothing of others', async () => {
    expect((await incidents(desk)).map(({ number }) => number)).toEqual([ours]);
    expect((await desk.get<ListCounts>('/incidents/counts')).body).toMatchObject({
      ...{ incidents: 1, matches: 1, movements: 1 },
    });
    expect((await incidents(client)).map(({ number }) => number).sort()).toEqual([ours, theirs].sort());
  });

  it('reads no word of another department by any route', async () => {
    const from = '2026-01-01T00:00:00Z';
    const to = new Date(Date.now() + 3_600_000).toISOString();
    const period = `from=${from}&to=${to}&zone=UTC&listed=incidents`;
    const asked: Record<string, string> = {
      '/incidents/values': '?field=person',
      '/incidents/groups': '?by=person',
      '/incidents/around': `?about=rule&incident=${ours}&from=${from.replace('01-01', '06-01')}&to=${to}`,
      '/incidents/export': '?listed=movements&format=csv&columns=time,person',
      '/insight/changes': `?${period}`,
      '/insight/most': `?${period}`,
      '/insight/why': `?${period}`,
      '/insight/rules': `?${period}`,
    };
    const routes = declaredRoutes(running.application).filter(
      ({ method, isNarrowed, path }) => method === 'GET' && isNarrowed && !path.includes(':id'),
    );
    let read = 0;
    for (const { path } of routes) {
      const address = `${path.replace(':number', String(ours))}${asked[path] ?? ''}`;
      const answer = await fetch(`${running.address}/api${address}`, { headers: { cookie: desk.cookie } });
      const text = await answer.text();
      if (answer.status === 200) read += 1;
      expect(`${path} ${text}`).not.toContain(bea.address);
      expect(`${path} ${text}`).not.toContain(bea.name);
      expect(`${path} ${text}`).not.toMatch(/about the galley/iu);
    }
    expect(read).toBeGreaterThan(14);
    // The same routes do name her to those who may see her.
    const { body } = await client.get<object>(`/incidents/values?field=person`);
    expect(JSON.stringify(body)).toContain(bea.address);
  });

  it('finds no incident beyond them by its number, whatever is asked of it', async () => {
    const routes = declaredRoutes(running.application).filter(({ path }) =>
      path.includes('/incidents/:number'),
    );
    const bodies: Record<string, object> = {
      acts: { act: 'take', version: 1 },
      notes: { text: 'A note' },
      unmaskings: { reason: 'Curious about it' },
      original: { reason: 'Curious about it' },
      pictures: { reason: 'Curious about it' },
    };
    expect(routes.length).toBeGreaterThan(9);
    for (const { method, path } of routes) {
      const body = bodies[path.split('/').at(-1) ?? ''] ?? {};
      const address = path.replace(':number', String(theirs));
      const answer =
        method === 'GET'
          ? await desk.get<ErrorBody>(address)
          : await desk.send<ErrorBody>(method, address, body);
      expect([`${method} ${path}`, answer.status]).toEqual([`${method} ${path}`, 404]);
    }
    const response = { kind: 'tell-person', numbers: [theirs], subject: 'Hello', text: 'Hello there' };
    expect((await desk.send('POST', '/responses', response)).body).toMatchObject([
      { number: theirs, state: 'refused', reason: 'not-found' },
    ]);
    expect(
      (await client.get<IncidentDetail>(`/incidents/${theirs}`)).body.history.map(({ kind }) => kind),
    ).toEqual(['recorded']);
  });

  it('decides many at once within them only, and knows no decision of others', async () => {
    const request = { act: 'take', numbers: [ours, theirs], expected: 2, reason: 'All' };
    const begun = (await desk.send<BulkView>('POST', '/bulk-decisions', request)).body;
    await running.application.get(BulkDecisions).settled();
    expect((await desk.get<BulkView>(`/bulk-decisions/${begun.id}`)).body).toMatchObject({ total: 1 });
    const other = (await client.send<BulkView>('POST', '/bulk-decisions', { ...request, numbers: [theirs] }))
      .body;
    await running.application.get(BulkDecisions).settled();
    expect((await desk.get(`/bulk-decisions/${other.id}`)).status).toBe(404);
    expect((await desk.send('POST', `/bulk-decisions/${other.id}/undo`)).status).toBe(404);
    expect((await client.send('POST', `/bulk-decisions/${other.id}/undo`)).status).toBe(200);
    await running.application.get(BulkDecisions).settled();
  });

  it('hears live of its own incidents only, and learns nothing of deleted ones', async () => {
    const limits = [{ ...ALL, departments: [orla.department], holder: '' }];
    const shown = (number: number, sight: { silent: boolean; limits: typeof limits | null }) =>
      running.application.get(IncidentsService).isShown(number, sight);
    expect(await shown(ours, { silent: false, limits })).toBe(true);
    expect(await shown(theirs, { silent: false, limits })).toBe(false);
    expect(await shown(999_999, { silent: true, limits })).toBe(false);
    expect(await shown(theirs, { silent: false, limits: null })).toBe(true);
  });
});

describe('each kind of limit', () => {
  it.each<[string, () => Partial<RoleLimits>, () => number[]]>([
    ['a policy', () => ({ policies: [policies['galley'] ?? ''] }), () => [theirs]],
    ['a severity', () => ({ severities: ['high'] }), () => [ours]],
    ['a channel', () => ({ channels: ['mail'] }), () => [ours, theirs]],
    ['a channel without any', () => ({ channels: ['chat'] }), () => []],
    [
      'two that must both hold',
      () => ({ departments: [orla.department], policies: [policies['galley'] ?? ''] }),
      () => [],
    ],
    [
      'departments, any of them',
      () => ({ departments: [orla.department, bea.department] }),
      () => [ours, theirs],
    ],
  ])('%s', async (_what, limits, expected) => {
    const desk = (await accountWith([await role(limits())])).client;
    expect((await incidents(desk)).map(({ number }) => number).sort()).toEqual(expected().sort());
  });

  it('one’s own team: whose manager the holder is', async () => {
    expect(orla.manager).toBeTruthy();
    const lead = await accountWith([await role({ ownTeam: true })], orla.manager ?? '');
    expect((await incidents(lead.client)).map(({ number }) => number)).toEqual([ours]);
    const other = await accountWith([await role({ ownTeam: true })]);
    expect(await incidents(other.client)).toEqual([]);
  });

  it('of two roles together: whatever one of them covers', async () => {
    const one = await role({ departments: [orla.department] });
    const two = await role({ policies: [policies['galley'] ?? ''] });
    const both = (await accountWith([one, two])).client;
    expect((await incidents(both)).map(({ number }) => number).sort()).toEqual([ours, theirs].sort());
  });

  it('of reading wide and deciding narrow: the act is held to the role that allows it', async () => {
    const narrow = await role({ departments: [orla.department] }, ['incidents.read', 'incidents.decide']);
    const { client: desk } = await accountWith(['auditor', narrow]);
    const { version } = (await desk.get<IncidentDetail>(`/incidents/${theirs}`)).body;
    const act = { act: 'take', version };
    expect((await desk.send('POST', `/incidents/${theirs}/acts`, act)).status).toBe(404);
    const own = (await desk.get<IncidentDetail>(`/incidents/${ours}`)).body;
    const taken = await desk.send('POST', `/incidents/${ours}/acts`, { act: 'wait', version: own.version });
    expect(taken.status).toBe(200);
  });
});

describe('what waits for a decision', () => {
  it('shows and lets decide within the limits, and never about one’s own', async () => {
    const narrow = await role({ departments: [orla.department] }, ['overrides.decide', 'incidents.read']);
    const { client: lead } = await accountWith(['auditor', narrow]);
    const waiting = (await lead.get<WaitingView[]>('/waiting')).body;
    const of = (number: number) => waiting.find(({ incident }) => incident === number);
    expect([of(ours)?.refusal, of(theirs)?.refusal]).toEqual([null, 'not-permitted']);
    const decide = (id: string | undefined) =>
      lead.send('POST', `/waiting/${id}/decision`, { goesOn: true, words: 'Fine' });
    expect((await decide(of(theirs)?.id)).status).toBe(403);
    expect((await decide(of(ours)?.id)).status).toBe(204);

    const { client: only } = await accountWith([narrow]);
    expect((await only.get<WaitingView[]>('/waiting')).body.map(({ incident }) => incident)).toEqual([ours]);
    const hidden = await only.send('POST', `/waiting/${of(theirs)?.id}/decision`, {
      goesOn: true,
      words: 'Fine',
    });
    expect(hidden.status).toBe(404);
  });
});

describe('roles', () => {
  const request = {
    name: 'Too wide',
    description: '',
    permissions: [...DESK],
    limits: null,
    needsFactor: false,
  };

  it.each([
    [
      'limits that cannot narrow a permission',
      { permissions: ['incidents.read', 'trail.read'], limits: { ...ALL, ownTeam: true } },
      400,
    ],
    ['no permission', { permissions: [] }, 400],
    ['a permission that there is not', { permissions: ['everything'] }, 400],
    ['the right to silent rules alone, which accounts have', { permissions: ['policies.silent'] }, 400],
  ])('are refused with %s', async (_what, over, status) => {
    const answer = await client.send<ErrorBody>('POST', '/roles', { ...request, ...over });
    expect(answer.status).toBe(status);
  });

  it('change for everybody who has them, end their sessions, and go only when nobody has them', async () => {
    const id = await role(null, ['incidents.read', 'trail.read']);
    const holder = await accountWith([id]);
    expect((await holder.client.get('/trail')).status).toBe(200);
    const changed = { ...request, name: `Changed ${id}`.slice(0, 60), permissions: ['incidents.read'] };
    expect((await client.send('PUT', `/roles/${id}`, changed)).status).toBe(200);
    expect((await holder.client.get('/trail')).status).toBe(401);
    expect((await (await running.client(holder.email)).get('/trail')).status).toBe(403);
    const used = await client.send<ErrorBody>('DELETE', `/roles/${id}`);
    expect([used.status, used.body.message]).toEqual([409, expect.stringContaining(holder.name)]);
    await running.database.getRepository(AccountEntity).delete({ id: holder.id });
    expect((await client.send('DELETE', `/roles/${id}`)).status).toBe(200);
  });

  it('cannot take the last administrator', async () => {
    const id = await role(null, ['accounts.manage']);
    const admin = await accountWith([id]);
    const accounts = running.database.getRepository(AccountEntity);
    const others = (await accounts.find()).filter((one) => one.id !== admin.id && !one.disabledAt);
    for (const one of others) await accounts.update({ id: one.id }, { disabledAt: new Date() });
    const change = { ...request, name: `Was admin ${id}`.slice(0, 60), permissions: ['incidents.read'] };
    const refused = await admin.client.send<ErrorBody>('PUT', `/roles/${id}`, change);
    expect(refused.body.code).toBe('last-administrator');
    expect((await admin.client.get<OwnRoleView[]>('/roles')).body.find((one) => one.id === id)).toMatchObject(
      {
        permissions: ['accounts.manage'],
      },
    );
    for (const one of others) await accounts.update({ id: one.id }, { disabledAt: null });
  });
});

describe('a deputy', () => {
  const days = (count: number) => new Date(Date.now() + count * 86_400_000).toISOString();

  it('has the roles of the absent account meanwhile, is named with it in the trail, and no more afterwards', async () => {
    const absent = await accountWith([await role({ departments: [orla.department] })], orla.address);
    const deputy = await accountWith(['business']);
    expect((await deputy.client.get('/incidents')).status).toBe(403);
    const asked = { deputy: deputy.email, from: days(-1), until: days(7) };
    const named = await absent.client.send<DeputyView[]>('POST', '/own-account/deputies', asked);
    expect(named.body).toMatchObject([{ state: 'now', deputy: { email: deputy.email } }]);
    expect((await incidents(deputy.client)).map(({ number }) => number)).toEqual([ours]);

    const { version } = (await deputy.client.get<IncidentDetail>(`/incidents/${ours}`)).body;
    await deputy.client.send('POST', `/incidents/${ours}/notes`, { text: 'Seen' });
    const { entries } = (await client.get<TrailPage>(`/trail?actor=${deputy.email}`)).body;
    expect(entries.find(({ action }) => action.includes('notes'))?.facts).toMatchObject({
      inPlaceOf: orla.address,
    });
    // What somebody does by their own roles names nobody else.
    const own = (await client.get<TrailPage>('/trail?actor=analyst@merrowstrait.example')).body.entries;
    expect(own.filter(({ facts }) => 'inPlaceOf' in facts)).toEqual([]);
    // Orla moved it: neither she nor whoever stands in for her decides about it.
    const answer = { act: 'answer-looked-for', yes: false, version };
    expect((await deputy.client.send<ErrorBody>('POST', `/incidents/${ours}/acts`, answer)).status).toBe(409);

    const ended = await absent.client.send('DELETE', `/own-account/deputies/${named.body[0]?.id}`);
    expect(ended.status).toBe(200);
    expect((await deputy.client.get('/incidents')).status).toBe(403);
  });

  it.each([
    ['oneself', () => ({ deputy: 'analyst@merrowstrait.example', from: days(0), until: days(1) }), 409],
    ['nobody known', () => ({ deputy: 'nobody@merrowstrait.example', from: days(0), until: days(1) }), 404],
    [
      'a time that is over',
      () => ({ deputy: 'second@merrowstrait.example', from: days(-3), until: days(-1) }),
      400,
    ],
    ['half a year', () => ({ deputy: 'second@merrowstrait.example', from: days(0), until: days(180) }), 400],
    ['no time', () => ({ deputy: 'second@merrowstrait.example', from: 'soon', until: 'later' }), 400],
  ])('is not %s', async (_what, request, status) => {
    expect((await client.send('POST', '/own-account/deputies', request())).status).toBe(status);
  });

  it('needs the second factor that the role of the absent account demands', async () => {
    const absent = await accountWith([await role(null, ['incidents.read', 'trail.read'], true)]);
    const deputy = await accountWith(['business']);
    const { id } = absent;
    const deputies = running.database.getRepository(DeputyEntity);
    const span = { since: new Date(Date.now() - 1_000), until: new Date(Date.now() + 3_600_000) };
    await deputies.insert({ id: randomUUID(), absentId: id, deputyId: deputy.id, ...span });
    expect((await deputy.client.get('/trail')).status).toBe(403);
    const factorSince = new Date();
    await running.database.getRepository(AccountEntity).update({ id: deputy.id }, { factorSince });
    expect((await deputy.client.get('/trail')).status).toBe(200);
  });

  it('cannot manage accounts in the place of an administrator', async () => {
    const admin = await accountWith(['administrator']);
    const deputy = await accountWith(['business']);
    const asked = { deputy: deputy.email, from: days(-1), until: days(1) };
    await admin.client.send('POST', '/own-account/deputies', asked);
    expect((await deputy.client.get('/trail')).status).toBe(200);
    expect((await deputy.client.get('/accounts')).status).toBe(403);
  });
});

describe('a service account', () => {
  const later = () => new Date(Date.now() + 3_600_000).toISOString();
  const call = (key: string, path: string, init: RequestInit = {}) =>
    fetch(`${running.address}/api${path}`, {
      ...init,
      headers: { authorization: `Bearer ${key}`, 'content-type': 'application/json' },
    });
  async function made(
    roles: readonly string[],
  ): Promise<{ id: string; email: string; key: NewServiceKeyView }> {
    const name = `Bridge ${randomUUID().slice(0, 8)}`;
    expect((await client.send('POST', '/service-accounts', { name, roles })).status).toBe(204);
    const account = await running.database.getRepository(AccountEntity).findOneByOrFail({ name });
    const path = `/service-accounts/${account.id}/keys`;
    const key = (await client.send<NewServiceKeyView>('POST', path, { expiresAt: later() })).body;
    return { id: account.id, email: account.email, key };
  }

  it('reads and changes what its roles cover, in its own name, and nothing that is for people', async () => {
    const { email, key } = await made([await role({ departments: [bea.department] })]);
    const answer = await call(key.secret, '/incidents');
    expect(((await answer.json()) as IncidentPage).rows.map(({ number }) => number)).toEqual([theirs]);
    const note = { method: 'POST', body: JSON.stringify({ text: 'Ticket 17' }) };
    expect((await call(key.secret, `/incidents/${theirs}/notes`, note)).status).toBe(200);
    expect((await call(key.secret, `/incidents/${ours}/notes`, note)).status).toBe(404);
    expect((await call(key.secret, '/own-account/sessions')).status).toBe(403);
    expect((await call(key.secret, '/accounts')).status).toBe(403);
    expect((await client.get<TrailPage>(`/trail?actor=${email}`)).body.total).toBeGreaterThan(0);
    const keys = (await client.get<ServiceKeyView[]>('/service-accounts/keys')).body;
    expect(keys.find(({ id }) => id === key.key.id)).toMatchObject({
      state: 'valid',
      lastUsed: expect.any(String),
    });
    expect(JSON.stringify(keys)).not.toContain(key.secret);
  });

  it('is refused with a key that is withdrawn, too old or made up, and cannot sign in', async () => {
    const { id, email, key } = await made(['auditor']);
    const keys = running.database.getRepository(ServiceKeyEntity);
    await keys.update({ id: key.key.id }, { expiresAt: new Date(Date.now() - 1_000) });
    expect((await call(key.secret, '/incidents')).status).toBe(401);
    await keys.update({ id: key.key.id }, { expiresAt: new Date(Date.now() + 60_000) });
    expect((await call(key.secret, '/incidents')).status).toBe(200);
    expect((await client.send('DELETE', `/service-accounts/keys/${key.key.id}`)).status).toBe(204);
    expect((await call(key.secret, '/incidents')).status).toBe(401);
    expect((await call(`lantern-key-${'x'.repeat(43)}`, '/incidents')).status).toBe(401);
    for (const password of ['!', 'x'])
      expect((await client.send('POST', '/session', { email, password })).status).toBe(401);
    expect((await client.send('POST', `/accounts/${id}/reset`)).status).toBe(409);
  });

  it('cannot have a role that manages accounts, now or later', async () => {
    const admin = { name: 'Key maker', roles: ['administrator'] };
    expect((await client.send('POST', '/service-accounts', admin)).status).toBe(409);
    const { id } = await made(['auditor']);
    const change = { roles: ['administrator'], seesSilent: false, disabled: false };
    expect((await client.send('PUT', `/accounts/${id}`, change)).status).toBe(409);
  });
});

describe('a role that hides names', () => {
  it('shows codes in the place of people in every list, and finds by them', async () => {
    const { client: viewer } = await accountWith([await role({ hidesNames: true })]);
    const all = (await client.get<IncidentPage>('/incidents')).body.rows;
    const { body } = await viewer.get<IncidentPage>('/incidents');
    expect(body.rows.map(({ number }) => number)).toEqual(all.map(({ number }) => number));
    const [row] = body.rows;
    const real = all[0]?.person;
    expect(row?.person.name).toMatch(/^Person [A-Z2-9]{4}-[A-Z2-9]{4}$/u);
    expect(row?.person.department).toBe(real?.department);
    // Nothing of any answer names anybody of the organisation.
    const number = row?.number ?? 0;
    for (const path of [
      '/incidents',
      '/movements',
      '/matches',
      '/incidents/values?field=person&filter=',
      '/incidents/values?field=name&filter=',
      '/incidents/common?filter=',
      `/incidents/${number}`,
      `/incidents/${number}/alike`,
      '/incidents/groups?by=person&filter=',
      '/waiting',
    ]) {
      const text = JSON.stringify((await viewer.get(path)).body);
      expect([path, /@merrowstrait\.example/u.exec(text)?.[0]]).toEqual([path, undefined]);
      for (const { person } of all) expect([path, text.includes(person.name)]).toEqual([path, false]);
    }
    const filter = (value: string) => `/incidents?filter=${encodeURIComponent(`person eq "${value}"`)}`;
    const same = (await viewer.get<IncidentPage>(filter(row?.person.address ?? ''))).body.rows;
    expect(same.length).toBe(all.filter(({ person }) => person.address === real?.address).length);
    // Nobody is found out by being asked for.
    expect((await viewer.get<IncidentPage>(filter(real?.address ?? ''))).body.rows).toEqual([]);
    for (const line of ['person sw "o"', 'name co "a"', 'not (person co "orla")'])
      expect((await viewer.get(`/incidents?filter=${encodeURIComponent(line)}`)).status).toBe(403);
    expect((await viewer.get('/incidents?order=person')).status).toBe(403);
    expect((await viewer.get('/incidents/values?field=person&search=orla')).status).toBe(403);
    expect((await viewer.get('/people?typed=orla')).status).toBe(403);
    const first = real?.name.split(' ')[0] ?? '';
    const any = await viewer.get<IncidentPage>(
      `/incidents?filter=${encodeURIComponent(`any co "${first}"`)}`,
    );
    expect(any.body.rows).toEqual([]);
    expect((await viewer.get('/incidents/export?format=csv&listed=incidents')).status).toBe(403);
  });

  it('shows who it was once somebody says why', async () => {
    const { client: viewer } = await accountWith([
      await role({ hidesNames: true }, [...DESK, 'incidents.unmask']),
    ]);
    const [row] = (await viewer.get<IncidentPage>('/incidents')).body.rows;
    const path = `/incidents/${row?.number ?? 0}/unmaskings`;
    const { body } = await viewer.send<IncidentDetail>('POST', path, { reason: 'The booking is disputed' });
    expect(body.person.address).toMatch(/@merrowstrait\.example$/u);
    expect(body.history.at(-1)).toMatchObject({ kind: 'unmasked', text: 'The booking is disputed' });
    expect((await viewer.get<IncidentDetail>(`/incidents/${row?.number ?? 0}`)).body.person.name).toMatch(
      /^Person /u,
    );
  });

  it('names nobody in mails about incidents either', async () => {
    const { email } = await accountWith([await role({ hidesNames: true })]);
    const alert = { reason: 'Cards', incidentNumber: ours, at: new Date(), sentAt: null };
    const alerts = running.database.getRepository(AlertEntity);
    await alerts.insert([email, 'desk@merrowstrait.example'].map((address) => ({ ...alert, address })));
    const texts = new Map<string, string>();
    const sent = jest
      .spyOn(running.application.get(InsideMail), 'send')
      .mockImplementation((_manager, mail) => Promise.resolve(texts.set(mail.to, mail.text).size > 0));
    await running.application.get(Alerts).send(new Date());
    sent.mockRestore();
    const { person } = (await client.get<IncidentDetail>(`/incidents/${ours}`)).body;
    expect(texts.get(email)).toContain(`Incident ${ours}`);
    expect(texts.get(email)).not.toContain(person.name);
    expect(texts.get('desk@merrowstrait.example')).toContain(person.name);
  });

  it('hides nothing from somebody who has another role that shows names', async () => {
    const { client: viewer } = await accountWith([await role({ hidesNames: true }), await role(null)]);
    expect((await viewer.get<IncidentPage>('/incidents')).body.rows[0]?.person.name).not.toMatch(/^Person /u);
  });
});
