/** An entry of the audit trail and the change that it is about are there both, or neither is. */
import type { AccountView, ErrorBody, TrailPage } from '@lantern/contracts';
import { AccountEntity, SessionEntity } from '../src/accounts/account.entity.js';
import { KeptForEntity } from '../src/retention/kept-for.entity.js';
import { asKeeper, type Client, PASSWORD, type Running, start } from './harness.js';

let running: Running;
let client: Client;
beforeAll(async () => {
  running = await start();
  client = await running.client();
});
afterAll(() => running.stop());

const rename = (from: string, to: string) => {
  const trail = `trail_of_${running.config.database.database}`;
  return asKeeper(running.config, (keeper) =>
    keeper.query(`RENAME TABLE ${trail}.${from} TO ${trail}.${to}`),
  );
};
const newest = async () => (await client.get<TrailPage>('/trail')).body.entries[0];
// Asked of the database: the screen counts entries of the trail as well.
const days = async () =>
  (await running.database.getRepository(KeptForEntity).findOneByOrFail({ kind: 'replays' })).days;
const auditor = async () =>
  (await client.get<AccountView[]>('/accounts')).body.find(({ email }) => email.startsWith('auditor'));

const change = (id: string, disabled: boolean) =>
  client.send<ErrorBody>('PUT', `/accounts/${id}`, { roles: ['auditor'], seesSilent: false, disabled });

it('writes the entry of a change that is one statement, and of one that is several', async () => {
  await client.send('PUT', '/retention/kinds/replays', { days: 77 });
  expect(await newest()).toMatchObject({ action: 'PUT /retention/kinds/:kind', target: 'replays' });
  const account = await auditor();
  await change(account?.id ?? '', true);
  expect(await newest()).toMatchObject({ action: 'PUT /accounts/:id', target: account?.id });
  await change(account?.id ?? '', false);
});

it('writes one entry for one act, however many transactions it takes, and none for one that was refused', async () => {
  const before = (await newest())?.number ?? 0;
  const account = await auditor();
  await change(account?.id ?? '', false);
  expect((await change('7c0e5f5e-0000-4000-8000-00000000abcd', true)).status).toBe(404);
  await client.send('PUT', '/retention/kinds/replays', { days: 0 });
  expect((await newest())?.number).toBe(before + 1);
});

describe('while no entry can be written', () => {
  beforeAll(() => rename('trail_entry', 'away'));
  afterAll(() => rename('away', 'trail_entry'));

  it('changes nothing: not by one statement, not by several, and lets nobody in', async () => {
    const one = await client.send<ErrorBody>('PUT', '/retention/kinds/replays', { days: 12 });
    expect(one.status).toBe(500);
    expect(await days()).toBe(77);
    const accounts = running.database.getRepository(AccountEntity);
    const { id } = await accounts.findOneByOrFail({ email: 'auditor@merrowstrait.example' });
    const several = await change(id, true);
    expect(several.status).toBe(500);
    expect((await accounts.findOneByOrFail({ id })).disabledAt).toBeNull();
    const sessions = running.database.getRepository(SessionEntity);
    const open = await sessions.count();
    const signIn = await fetch(`${running.address}/api/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ email: 'second@merrowstrait.example', password: PASSWORD }),
    });
    expect(signIn.status).toBe(500);
    expect(await sessions.count()).toBe(open);
  });
});

it('is whole after all of it', async () => {
  expect((await client.get('/trail/check')).body).toMatchObject({ whole: true });
});
