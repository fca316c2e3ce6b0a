/**
 * Every route is called as nobody and as each role, and compared with docs/security-routes.md. `LANTERN_WRITE=1` writes
 * that table anew; whoever does so reads what changed.
 */
import { randomUUID } from 'node:crypto';
import { readFileSync, writeFileSync } from 'node:fs';
import { type Role, ROLE_IDS, ROLES } from '@lantern/contracts';
import { NARROWED_PERMISSIONS, type RoleLimits } from '@lantern/contracts/access';
import { OwnRoleEntity } from '../src/accounts/access/access.entity.js';
import { AccountEntity } from '../src/accounts/account.entity.js';
import { hashPassword } from '../src/accounts/password.js';
import { type DeclaredRoute, declaredRoutes } from '../src/platform/auth/route-audit.js';
import { type Client, PASSWORD, type Running, start } from './harness.js';

const TABLE = new URL('../../../docs/security-routes.md', import.meta.url);
const HEAD = `# Who may call what

Every route of the interface, the permission it needs, and the roles that hold it. Checked by
\`apps/server/test/routes.test.ts\`, which calls each of them as nobody and as every role; \`LANTERN_WRITE=1\` writes this
page anew. \`open\` needs no account, \`signed-in\` any account, \`agent\` the key of an agent,
\`reader\` a token that a reader signed for this one request.

A role of the organisation's own can be limited to departments, policies, channels, severities or its holder's team. The
last column says what that does where the permission is about incidents: \`narrowed\` routes show and change what lies
within the limits, \`closed\` ones are refused.

| route | needs | roles | with limits |
| --- | --- | --- | --- |
`;

/** Long answers that never end by themselves; sessions that would end themselves. */
const NOT_CALLED = new Set(['GET /events', 'DELETE /session', 'POST /session']);
const CALLS_AT_ONCE = 8;
/** What programs call, with keys of their own. */
const PROGRAMS: readonly string[] = ['agent', 'reader', 'program'];

let running: Running;
const clients = new Map<Role, Client>();
beforeAll(async () => {
  running = await start();
  const passwordHash = await hashPassword(PASSWORD);
  for (const role of ROLE_IDS) {
    const email = `role-${role}@merrowstrait.example`;
    await running.database.getRepository(AccountEntity).insert({
      id: randomUUID(),
      name: role,
      email,
      passwordHash,
      roles: [role],
      permissions: [...ROLES[role]],
    });
    clients.set(role, await running.client(email));
  }
});
afterAll(() => running.stop());

const holders = (needs: string | null): readonly Role[] =>
  ROLE_IDS.filter((role) => (ROLES[role] as readonly string[]).includes(needs ?? ''));

const isAboutIncidents = (needs: string | null): boolean =>
  NARROWED_PERMISSIONS.some((permission) => permission === needs);

function row({ method, path, needs, isNarrowed }: DeclaredRoute): string {
  const roles = ['open', 'signed-in', ...PROGRAMS].includes(needs ?? '') ? 'all' : holders(needs).join(', ');
  const limits = isAboutIncidents(needs) ? (isNarrowed ? 'narrowed' : 'closed') : '';
  const held = PROGRAMS.includes(needs ?? '') ? 'none' : roles || 'none';
  return `| \`${method} ${path}\` | ${needs ?? ''} | ${held} | ${limits} |\n`;
}

/** The route with values for its parameters: of the right form where it has one, and of nothing that exists. */
const called = ({ path }: DeclaredRoute): string =>
  path
    .replace(/:number/g, '999999')
    .replace(/:channel/g, 'mail')
    .replace(/:\w+/g, randomUUID());

async function status(route: DeclaredRoute, headers: Record<string, string>): Promise<number> {
  const { method } = route;
  const answer = await fetch(`${running.address}/api${called(route)}`, {
    method,
    headers: { ...headers, ...(method === 'GET' ? {} : { 'content-type': 'application/json' }) },
    ...(method === 'GET' ? {} : { body: '{}' }),
    signal: AbortSignal.timeout(20_000),
  });
  await answer.body?.cancel();
  return answer.status;
}

async function each<Item>(items: readonly Item[], work: (item: Item) => Promise<void>): Promise<void> {
  const waiting = [...items];
  const next = async (): Promise<void> => {
    for (let item = waiting.shift(); item !== undefined; item = waiting.shift()) await work(item);
  };
  await Promise.all(Array.from({ length: CALLS_AT_ONCE }, next));
}

const routes = (): DeclaredRoute[] =>
  declaredRoutes(running.application).filter(({ method, path }) => !NOT_CALLED.has(`${method} ${path}`));

it('stand in the table, each with what it needs', () => {
  const all = declaredRoutes(running.application);
  const page = HEAD + all.map(row).join('');
  if (process.env['LANTERN_WRITE']) writeFileSync(TABLE, page);
  expect(all.length).toBeGreaterThan(100);
  expect(readFileSync(TABLE, 'utf8')).toBe(page);
});

it('open to nobody but those that are open', async () => {
  const wrong: string[] = [];
  await each(routes(), async (route) => {
    const code = await status(route, {});
    const refused = code === 401;
    if (refused === (route.needs === 'open')) wrong.push(`${route.method} ${route.path}: ${code}`);
  });
  expect(wrong).toEqual([]);
});

it.each(ROLE_IDS)('let %s do what the role may, and nothing else', async (role) => {
  const client = clients.get(role)!;
  const headers = { cookie: client.cookie, 'x-csrf-token': client.session.csrfToken };
  const wrong: string[] = [];
  // Ends the other sessions of the account that calls; its own stays.
  await each(routes(), async (route) => {
    const { needs } = route;
    const code = await status(route, headers);
    const may = needs === 'open' || needs === 'signed-in' || holders(needs).includes(role);
    const right = PROGRAMS.includes(needs ?? '')
      ? code === 401
      : may
        ? code !== 401 && code !== 403
        : code === 403;
    if (!right) wrong.push(`${route.method} ${route.path}: ${code}`);
  });
  expect(wrong).toEqual([]);
});

it('let a role with limits do what is narrowed, and nothing that is about everybody', async () => {
  const limits: RoleLimits = {
    ...{ departments: ['Nowhere'], policies: [], channels: [], severities: [], ownTeam: false },
  };
  const id = randomUUID();
  const permissions = [...NARROWED_PERMISSIONS];
  await running.database.getRepository(OwnRoleEntity).insert({
    ...{ id, name: 'Nowhere', description: '', permissions, limits },
    ...{ changedAt: new Date(), changedBy: 'test' },
  });
  const email = 'limited@merrowstrait.example';
  await running.database.getRepository(AccountEntity).insert({
    ...{ id: randomUUID(), name: 'Limited', email, passwordHash: await hashPassword(PASSWORD) },
    ...{ roles: [id], permissions },
  });
  const client = await running.client(email);
  const headers = { cookie: client.cookie, 'x-csrf-token': client.session.csrfToken };
  const wrong: string[] = [];
  const concerned = routes().filter(({ needs }) => isAboutIncidents(needs));
  expect(concerned.filter(({ isNarrowed }) => isNarrowed).length).toBeGreaterThan(25);
  await each(concerned, async (route) => {
    const code = await status(route, headers);
    if ((code === 403) === route.isNarrowed) wrong.push(`${route.method} ${route.path}: ${code}`);
  });
  expect(wrong).toEqual([]);
});
