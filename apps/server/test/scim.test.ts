/** An identity provider tells of people and groups over SCIM 2.0; the directory follows, and stops where too many would leave. */
import { execFile } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { promisify } from 'node:util';
import type { NewServiceKeyView, OwnRoleView } from '@lantern/contracts/access';
import type { DirectoryComparison, DirectoryPage, ScimView } from '@lantern/contracts/directory';
import { AccountEntity } from '../src/accounts/account.entity.js';
import { TrailEntity } from '../src/platform/trail/trail.entity.js';
import { type Client, type Running, start } from './harness.js';

const USER = 'urn:ietf:params:scim:schemas:core:2.0:User';
const GROUP = 'urn:ietf:params:scim:schemas:core:2.0:Group';
const EMPLOYEE = 'urn:ietf:params:scim:schemas:extension:enterprise:2.0:User';
const PATCH = 'urn:ietf:params:scim:api:messages:2.0:PatchOp';
const ERROR = 'urn:ietf:params:scim:api:messages:2.0:Error';

interface Resource {
  readonly id: string;
  readonly schemas: readonly string[];
  readonly meta: { readonly location: string; readonly version: string };
  readonly [name: string]: unknown;
}
interface List {
  readonly totalResults: number;
  readonly startIndex: number;
  readonly itemsPerPage: number;
  readonly Resources: readonly Resource[];
}
interface Refusal {
  readonly schemas: readonly string[];
  readonly status: string;
  readonly scimType?: string;
  readonly detail: string;
}

let running: Running;
let client: Client;
let secret: string;

async function scim<Answer = Resource & Refusal & List>(
  method: string,
  path: string,
  body?: unknown,
  headers: Record<string, string> = {},
): Promise<{ status: number; body: Answer; type: string }> {
  const response = await fetch(`${running.address}/api/scim/v2${path}`, {
    method,
    headers: { authorization: `Bearer ${secret}`, 'content-type': 'application/scim+json', ...headers },
    ...(body === undefined ? {} : { body: typeof body === 'string' ? body : JSON.stringify(body) }),
  });
  const text = await response.text();
  return {
    status: response.status,
    body: (text ? JSON.parse(text) : undefined) as Answer,
    type: response.headers.get('content-type') ?? '',
  };
}
const user = (userName: string, over: object = {}) => ({ schemas: [USER], userName, ...over });
const create = async (userName: string, over: object = {}) =>
  (await scim('POST', '/Users', user(userName, over))).body;
const patch = (path: string, ...Operations: readonly object[]) =>
  scim('PATCH', path, { schemas: [PATCH], Operations });
const find = async (search: string) =>
  (await client.get<DirectoryPage>(`/directory/people?typed=${encodeURIComponent(search)}`)).body.people;
const view = async () => (await client.get<ScimView>('/directory/scim')).body;

/** Waits until the directory followed what was told. */
async function followed(is: (view: ScimView) => boolean = () => true): Promise<ScimView> {
  const before = (await view()).lastAt;
  for (;;) {
    const now = await view();
    if (now.lastAt !== before && is(now)) return now;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
}

beforeAll(async () => {
  running = await start();
  client = await running.client();
  // Nothing but what it needs.
  const role = {
    name: 'Directory feed',
    description: '',
    permissions: ['people.manage'],
    needsFactor: false,
  };
  const { body: roles } = await client.send<OwnRoleView[]>('POST', '/roles', { ...role, limits: null });
  const feed = { name: 'Identity provider', roles: roles.map((each) => each.id) };
  expect((await client.send('POST', '/service-accounts', feed)).status).toBe(204);
  const accounts = running.database.getRepository(AccountEntity);
  const { id } = await accounts.findOneByOrFail({ name: 'Identity provider' });
  const issued = await client.send<NewServiceKeyView>('POST', `/service-accounts/${id}/keys`, {
    expiresAt: new Date(Date.now() + 86_400_000).toISOString(),
  });
  ({ secret } = issued.body);
});
afterAll(() => running.stop());

it('is for keys with the permission, and says in the standard’s words what it can do', async () => {
  const { body, type } = await scim('GET', '/ServiceProviderConfig');
  expect(type).toMatch('application/scim+json');
  expect(body).toMatchObject({
    patch: { supported: true },
    bulk: { supported: false },
    filter: { maxResults: 200 },
  });
  const types = (await scim('GET', '/ResourceTypes')).body.Resources;
  expect(types.map(({ endpoint }) => endpoint)).toEqual(['/Users', '/Groups']);
  const schemas = (await scim('GET', '/Schemas')).body.Resources.map(({ id }) => id);
  expect(schemas).toEqual([USER, EMPLOYEE, GROUP]);
  expect((await scim('GET', `/Schemas/${EMPLOYEE}`)).body['name']).toBe('EnterpriseUser');
  const key = secret;
  secret = `${key.slice(0, -2)}xx`;
  expect((await scim('GET', '/Users')).status).toBe(401);
  secret = key;
  expect((await scim('GET', '/Things')).body).toMatchObject({ schemas: [ERROR], status: '404' });
});

it('makes people of users, changes them by their parts, and lets them leave', async () => {
  const boss = await create('mona.reyes@merrowstrait.example', {
    displayName: 'Mona Reyes',
    externalId: 'E1',
  });
  const made = await scim('POST', '/Users', {
    ...user('TEO.LUND@merrowstrait.example', { externalId: 'E2', active: true, password: 'never kept' }),
    schemas: [USER, EMPLOYEE],
    name: { givenName: 'Teo', familyName: 'Lund' },
    emails: [{ value: 'teo.lund@merrowstrait.example', type: 'work', primary: true }],
    [EMPLOYEE]: { department: 'Deck', manager: { value: boss.id } },
  });
  expect(made.status).toBe(201);
  expect(made.body.meta).toMatchObject({ version: 'W/"1"' });
  expect(JSON.stringify(made.body)).not.toContain('never kept');
  await followed(({ lastOutcome }) => lastOutcome?.startsWith('2 added') === true);
  const [teo] = await find('teo.lund@');
  expect(teo).toMatchObject({
    ...{ name: 'Teo Lund', department: 'Deck', manager: 'mona.reyes@merrowstrait.example', source: 'scim' },
  });

  // The operations of RFC 7644, 3.5.2: by a path, by a filter in a path, without a path.
  const path = `/Users/${made.body.id}`;
  const changed = await patch(
    path,
    { op: 'replace', path: `${EMPLOYEE}:department`, value: 'Bridge' },
    { op: 'replace', path: 'emails[type eq "work"].value', value: 'teo@merrowstrait.example' },
    { op: 'Add', value: { title: 'Mate' } },
  );
  expect(changed.body).toMatchObject({ title: 'Mate', [EMPLOYEE]: { department: 'Bridge' } });
  await followed();
  // A new address is a change of the same person.
  expect(await find('teo@')).toMatchObject([{ id: teo?.id, department: 'Bridge', title: 'Mate' }]);

  // Some clients write truth as a text.
  expect((await patch(path, { op: 'replace', path: 'active', value: 'False' })).body['active']).toBe(false);
  await followed();
  expect(await find('teo@')).toEqual([]);
  expect(
    (await scim('PUT', path, user('teo@merrowstrait.example', { active: true }))).body['title'],
  ).toBeUndefined();
  await followed();
  expect(await find('teo@')).toMatchObject([{ id: teo?.id }]);
  expect((await scim('DELETE', path)).status).toBe(204);
  expect((await scim('GET', path)).status).toBe(404);
  await followed();
  expect(await find('teo@')).toEqual([]);
  const trail = await running.database
    .getRepository(TrailEntity)
    .find({ order: { number: 'DESC' }, take: 3 });
  expect(trail.map(({ action }) => action)).toContain('DELETE /scim/v2/:endpoint/:id');
});

it('gives people the groups they are members of, and groups of groups', async () => {
  const [ada, ben] = [await create('ada.s@merrowstrait.example'), await create('ben.s@merrowstrait.example')];
  const crew = await scim('POST', '/Groups', {
    ...{ schemas: [GROUP], displayName: 'Scim crew', members: [{ value: ada.id }] },
  });
  await scim('POST', '/Groups', {
    ...{ schemas: [GROUP], displayName: 'Scim all', members: [{ value: crew.body.id }] },
  });
  await followed(({ lastOutcome }) => lastOutcome?.includes('2 added') === true);
  expect((await find('ada.s@'))[0]?.groups).toEqual(['Scim all', 'Scim crew']);
  expect((await scim('GET', `/Users/${ada.id}`)).body['groups']).toEqual([
    { value: crew.body.id, display: 'Scim crew' },
  ]);
  const path = `/Groups/${crew.body.id}`;
  await patch(path, { op: 'add', path: 'members', value: [{ value: ben.id }] });
  await patch(path, { op: 'remove', path: `members[value eq "${ada.id}"]` });
  await followed();
  expect((await find('ada.s@'))[0]?.groups).toEqual([]);
  expect((await find('ben.s@'))[0]?.groups).toEqual(['Scim all', 'Scim crew']);
  const lean = await scim('GET', `${path}?excludedAttributes=members`);
  expect(lean.body['members']).toBeUndefined();
  const unknown = await patch(path, {
    op: 'add',
    path: 'members',
    value: [{ value: randomUUID() }],
  });
  expect([unknown.status, unknown.body.scimType]).toEqual([400, 'invalidValue']);
  expect((await scim('GET', path)).body['members']).toEqual([{ value: ben.id }]);
  // Somebody who goes is in no group any more.
  await scim('DELETE', `/Users/${ben.id}`);
  expect((await scim('GET', path)).body['members']).toBeUndefined();
});

it('finds by filters, and page by page', async () => {
  for (let at = 0; at < 5; at += 1)
    await create(`list${at}@merrowstrait.example`, { externalId: `L${at}`, title: at < 2 ? 'Cook' : 'Mate' });
  const list = async (query: string) => (await scim('GET', `/Users?${query}`)).body;
  const by = async (filter: string) =>
    (await list(`filter=${encodeURIComponent(filter)}`)).Resources.map(({ userName }) => userName);
  expect(await by('userName eq "LIST3@merrowstrait.example"')).toEqual(['list3@merrowstrait.example']);
  expect(await by('externalId eq "L2"')).toEqual(['list2@merrowstrait.example']);
  expect(await by('userName sw "list" and not (title eq "mate")')).toHaveLength(2);
  expect(await by('userName eq "list0@merrowstrait.example" or title eq "mate"')).toHaveLength(4);
  expect(await by('userName eq "nobody"')).toEqual([]);
  const page = await list('startIndex=2&count=3');
  expect([page.startIndex, page.itemsPerPage, page.Resources.length]).toEqual([2, 3, 3]);
  expect(page.totalResults).toBeGreaterThan(5);
  expect((await list('count=0')).Resources).toEqual([]);
  const lean = await list('count=1&attributes=userName');
  expect(Object.keys(lean.Resources[0] ?? {}).sort()).toEqual(['id', 'schemas', 'userName']);
  const search = await scim('POST', '/Users/.search', {
    filter: 'title eq "cook"',
    count: 1,
    attributes: ['title'],
  });
  expect(search.body).toMatchObject({ totalResults: 2, itemsPerPage: 1, Resources: [{ title: 'Cook' }] });
});

it('stops where too many would leave, until somebody looked at it', async () => {
  await followed(({ lastOutcome }) => lastOutcome !== null && (lastOutcome.includes('added') || true));
  const { Resources } = (await scim('GET', '/Users')).body;
  for (const { id } of Resources) await patch(`/Users/${id}`, { op: 'replace', value: { active: false } });
  const stopped = await followed(({ lastOutcome }) => lastOutcome?.includes('would be removed') === true);
  expect(stopped.lastOutcome).toMatch(/percent, would be removed\. Nothing was changed/u);
  expect(stopped.waits).toBe(true);
  expect(await find('list3@')).toHaveLength(1);
  const look = await client.send<DirectoryComparison>('POST', '/directory/scim/comparisons');
  expect(look.body).toMatchObject({ source: 'scim', leavingPercent: 100 });
  const apply = `/directory/comparisons/${look.body.id}/apply`;
  expect((await client.send('POST', apply, { leavingPercent: 10 })).status).toBe(409);
  expect((await client.send('POST', apply, { leavingPercent: 100 })).status).toBe(200);
  expect(await find('list3@')).toEqual([]);
});

it('waits for somebody with every change where that is set', async () => {
  expect((await client.send<ScimView>('PUT', '/directory/scim', { reviewed: true })).body.reviewed).toBe(
    true,
  );
  await create('wait@merrowstrait.example');
  expect((await followed()).lastOutcome).toBe('1 to add, 0 to change, 0 to remove. Compare and confirm.');
  expect(await find('wait@')).toEqual([]);
  await client.send('PUT', '/directory/scim', { reviewed: false });
  await followed();
  expect(await find('wait@')).toHaveLength(1);
});

describe('nonsense', () => {
  it.each<[string, string, string, unknown, number, string | undefined]>([
    ['no user name', 'POST', '/Users', { schemas: [USER] }, 400, 'invalidValue'],
    [
      'another schema',
      'POST',
      '/Users',
      { schemas: ['urn:other'], userName: 'x@y.example' },
      400,
      'invalidValue',
    ],
    ['a number as a name', 'POST', '/Users', user('x', { displayName: 12 }), 400, 'invalidValue'],
    ['a list', 'POST', '/Users', [], 400, 'invalidSyntax'],
    ['a name that is taken', 'POST', '/Users', user('WAIT@merrowstrait.example'), 409, 'uniqueness'],
    ['a name without end', 'POST', '/Users', user('x'.repeat(300)), 400, 'invalidValue'],
    ['an id that is none', 'PUT', '/Users/none', user('x@y.example'), 404, undefined],
    [
      'operations that are none',
      'PATCH',
      '/Users/none',
      { schemas: [PATCH], Operations: 'x' },
      400,
      'invalidSyntax',
    ],
    ['a filter that is none', 'GET', '/Users?filter=userName%20eq', undefined, 400, 'invalidFilter'],
    [
      'a filter of signs',
      'GET',
      `/Users?filter=${encodeURIComponent(`userName eq "${'\\'.repeat(900)}`)}`,
      undefined,
      400,
      'invalidFilter',
    ],
    ['a filter without end', 'GET', `/Users?filter=${'('.repeat(1_100)}`, undefined, 400, 'invalidFilter'],
    ['a page that is none', 'GET', '/Users?startIndex=two', undefined, 400, 'invalidValue'],
  ])('%s is refused in the standard’s words', async (_what, method, path, body, status, scimType) => {
    const answer = await scim(method, path, body);
    expect([answer.status, answer.body.status, answer.body.scimType]).toEqual([
      status,
      String(status),
      scimType,
    ]);
    expect(answer.body.schemas).toEqual([ERROR]);
  });

  it('makes one user of two requests for the same name at the same time', async () => {
    const twice = Array.from({ length: 4 }, () => scim('POST', '/Users', user('twin@merrowstrait.example')));
    const statuses = (await Promise.all(twice)).map(({ status }) => status);
    expect(statuses.sort()).toEqual([201, 409, 409, 409]);
  });

  it('changes nothing by a change of which one part is wrong, and nothing that is not of the user', async () => {
    const { Resources } = (await scim('GET', '/Users?filter=userName%20sw%20"wait"')).body;
    const path = `/Users/${Resources[0]?.id ?? ''}`;
    const half = await patch(
      path,
      { op: 'replace', path: 'title', value: 'Half' },
      { op: 'replace', path: 'emails[type eq', value: 'x' },
    );
    expect(half.status).toBe(400);
    for (const name of ['__proto__.polluted', 'constructor.prototype.polluted'])
      expect((await patch(path, { op: 'add', path: name, value: 'x' })).status).toBe(400);
    const sly = await scim(
      'PATCH',
      path,
      `{"schemas":["${PATCH}"],"Operations":[{"op":"add","value":{"__proto__":{"polluted":"x"},"id":"y","meta":{}}}]}`,
    );
    expect(sly.status).toBeLessThan(500);
    expect(({} as { polluted?: string }).polluted).toBeUndefined();
    const after = (await scim('GET', path)).body;
    expect([after['title'], after.id]).toEqual([undefined, Resources[0]?.id]);
  });
});

it('is spoken by curl', async () => {
  const ask = async (...more: readonly string[]) => {
    const { stdout } = await promisify(execFile)('curl', [
      ...['-sS', '-H', `Authorization: Bearer ${secret}`, '-H', 'Content-Type: application/scim+json'],
      ...more,
    ]);
    return JSON.parse(stdout) as Resource & List;
  };
  const base = `${running.address}/api/scim/v2/Users`;
  const made = await ask('-d', JSON.stringify(user('curl@merrowstrait.example')), base);
  expect(made.meta.location).toMatch(new RegExp(`/api/scim/v2/Users/${made.id}$`, 'u'));
  const found = await ask('-G', base, '--data-urlencode', 'filter=userName eq "curl@merrowstrait.example"');
  expect(found).toMatchObject({ totalResults: 1, Resources: [{ id: made.id }] });
});
