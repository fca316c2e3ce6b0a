/** Acts that take two people: publishing, letting an override go, showing what silent rules found. */
import { randomUUID } from 'node:crypto';
import type {
  DraftView,
  ErrorBody,
  IncidentPage,
  PolicyView,
  RevisionView,
  SendMailResult,
  WaitingView,
} from '@lantern/contracts';
import type { NewServiceKeyView, TwoPeopleView } from '@lantern/contracts/access';
import { cardNumber, chance, grouped } from '@lantern/testkit';
import { AccountEntity } from '../src/accounts/account.entity.js';
import type { WatchGroupView } from '@lantern/contracts/discovery';
import { type Client, mailForm, OUTSIDE, policyOf, publish, ruleOf, type Running, start } from './harness.js';

const random = chance(91);
let running: Running;
let first: Client;
let second: Client;

beforeAll(async () => {
  running = await start();
  first = await running.client();
  second = await running.client('second@merrowstrait.example');
  const one = { kind: 'findings', pattern: 'payment-card', atLeast: 1, distinct: true, certainty: 60 };
  await publish(first, 'Held', [ruleOf({ when: one, answer: 'hold' })]);
  const kinds = ['publish', 'machines', 'override', 'unmask-silent'];
  expect((await first.send('PUT', '/two-people', { kinds })).status).toBe(200);
});
afterAll(() => running.stop());

const draft = async () => {
  const name = `Policy ${randomUUID().slice(0, 8)}`;
  expect((await first.send<PolicyView>('POST', '/policies', policyOf(name, [ruleOf()]))).status).toBe(201);
};
const publishing = (client: Client) =>
  client.send<RevisionView & ErrorBody>('POST', '/revisions', { name: 'r', reason: 'test' });

describe('settings of a group of machines', () => {
  const path = '/discovery/watching/desks';
  const save = async (client: Client, over: object) =>
    (await client.send<{ id: string }>('PUT', `${path}/draft`, { folders: [], ...over })).body.id;
  const use = (client: Client, draft: string) =>
    client.send<ErrorBody>('POST', `${path}/settings`, { draft });
  const group = async () => (await first.get<WatchGroupView[]>('/discovery/watching')).body[0];

  it('wait for a second person, who has to use the same draft', async () => {
    const draft = await save(first, { cost: { processor: 0.5 } });
    const refused = await use(first, draft);
    expect([refused.status, refused.body.code]).toEqual([409, 'second-person-needed']);
    expect((await use(first, draft)).status).toBe(409);
    expect((await group())?.draft?.agreed).toMatchObject({ by: 'analyst' });

    // Another draft is not what the first one agreed to.
    const other = await save(second, { draft, cost: { processor: 1 } });
    expect((await use(second, other)).status).toBe(409);
    expect((await use(first, other)).status).toBe(204);
    expect(await group()).toMatchObject({
      version: 1,
      cost: { processor: 1 },
      changedBy: 'analyst and second',
    });
    expect((await group())?.history[0]).toMatchObject({ writtenBy: 'second', by: 'analyst and second' });
  });
});

describe('publishing', () => {
  it('waits for a second person, who has to publish the same drafts', async () => {
    await draft();
    const refused = await publishing(first);
    expect([refused.status, refused.body.code]).toEqual([409, 'second-person-needed']);
    expect((await publishing(first)).status).toBe(409);
    expect((await second.get<DraftView>('/revisions/draft')).body.agreed).toMatchObject({ by: 'analyst' });

    // Something else was drafted since: that is not what the first one agreed to.
    await draft();
    expect((await publishing(second)).status).toBe(409);
    const both = await publishing(first);
    expect([both.status, both.body.publishedBy]).toEqual([201, 'second and analyst']);
  });

  it('puts drafts in force once when both publish at the same moment', async () => {
    await draft();
    const answers = await Promise.all([publishing(first), publishing(second)]);
    expect(answers.map(({ status }) => status).sort()).toEqual([201, 409]);
  });

  it('is not done by one person with two accounts’ rights', async () => {
    await draft();
    const asked = {
      deputy: 'second@merrowstrait.example',
      from: new Date(Date.now() - 1_000).toISOString(),
      until: new Date(Date.now() + 3_600_000).toISOString(),
    };
    // The second one publishes by nothing but the right of the first one, who is away.
    const accounts = running.database.getRepository(AccountEntity);
    const { permissions } = await accounts.findOneByOrFail({ email: asked.deputy });
    await accounts.update({ email: asked.deputy }, { permissions: ['policies.read'] });
    const made = await first.send<{ id: string }[]>('POST', '/own-account/deputies', asked);
    expect((await publishing(first)).status).toBe(409);
    expect((await publishing(second)).body.code).toBe('second-person-needed');
    await first.send('DELETE', `/own-account/deputies/${made.body[0]?.id}`);
    await accounts.update({ email: asked.deputy }, { permissions });
    expect((await publishing(second)).status).toBe(201);
  });

  it('is nothing that a program counts for', async () => {
    await draft();
    await first.send('POST', '/service-accounts', { name: 'Publisher', roles: ['approver'] });
    const { id } = await running.database.getRepository(AccountEntity).findOneByOrFail({ name: 'Publisher' });
    const expiresAt = new Date(Date.now() + 3_600_000).toISOString();
    const key = await first.send<NewServiceKeyView>('POST', `/service-accounts/${id}/keys`, { expiresAt });
    const answer = await fetch(`${running.address}/api/revisions`, {
      method: 'POST',
      headers: { authorization: `Bearer ${key.body.secret}`, 'content-type': 'application/json' },
      body: JSON.stringify({ name: 'r', reason: 'test' }),
    });
    expect(answer.status).toBe(403);
    expect((await publishing(first)).body.code).toBe('second-person-needed');
  });

  it('of an old revision waits as well', async () => {
    const again = (client: Client) =>
      client.send<ErrorBody>('POST', '/revisions/1/again', { reason: 'Back' });
    expect((await again(first)).body.code).toBe('second-person-needed');
    expect((await again(second)).status).toBe(201);
  });
});

describe('a held movement', () => {
  async function held(): Promise<WaitingView> {
    const { id } = await running.person('Orla Fenwick');
    const body = `The card ${grouped(cardNumber(random))} of this guest.`;
    const form = mailForm({ person: id, to: [OUTSIDE], subject: 'A refund', body });
    expect((await first.send<SendMailResult>('POST', '/stand-ins/mail/messages', form)).body.status).toBe(
      'waiting',
    );
    return (await first.get<WaitingView[]>('/waiting')).body[0]!;
  }
  const decide = (client: Client, { id }: WaitingView, goesOn: boolean) =>
    client.send<ErrorBody>('POST', `/waiting/${id}/decision`, { goesOn, words: 'As agreed' });
  const now = async ({ id }: WaitingView) =>
    (await first.get<WaitingView[]>('/waiting')).body.find((one) => one.id === id);

  it('goes on when two allow it', async () => {
    const entry = await held();
    expect((await decide(first, entry, true)).body.code).toBe('second-person-needed');
    expect((await decide(first, entry, true)).status).toBe(409);
    expect(await now(entry)).toMatchObject({ state: 'waiting', agreedBy: 'analyst' });
    expect((await decide(second, entry, true)).status).toBe(204);
    expect(await now(entry)).toMatchObject({
      state: 'went-on',
      decidedBy: 'analyst and second',
      agreedBy: null,
    });
  });

  it('stays when one refuses it', async () => {
    const entry = await held();
    await decide(first, entry, true);
    expect((await decide(second, entry, false)).status).toBe(204);
    expect(await now(entry)).toMatchObject({ state: 'refused', decidedBy: 'second' });
  });

  it('hears no word of somebody who may not decide', async () => {
    const entry = await held();
    const auditor = await running.client('auditor@merrowstrait.example');
    expect((await decide(auditor, entry, true)).status).toBe(403);
    expect(await now(entry)).toMatchObject({ agreedBy: null });
  });
});

describe('values of a silent incident', () => {
  it('are shown when two ask for them, to both, and no others', async () => {
    const [open, hidden] = (await first.get<IncidentPage>('/incidents?limit=2')).body.rows;
    await running.database.query('UPDATE incident SET silent = 1 WHERE number = ?', [hidden?.number]);
    const show = (client: Client, number = 0) =>
      client.send<ErrorBody>('POST', `/incidents/${number}/unmaskings`, {
        reason: 'It has to be looked into',
      });
    expect((await show(first, open?.number)).status).toBe(200);
    expect((await show(first, hidden?.number)).body.code).toBe('second-person-needed');
    expect((await show(second, hidden?.number)).status).toBe(200);
    expect((await show(first, hidden?.number)).status).toBe(200);
  });
});

it('takes two people to take one of them off the list, and one to add it', async () => {
  const set = (client: Client, kinds: readonly string[]) =>
    client.send<TwoPeopleView & ErrorBody>('PUT', '/two-people', { kinds });
  expect((await set(first, ['publish'])).body.code).toBe('second-person-needed');
  expect((await set(first, ['publish'])).status).toBe(409);
  expect((await set(second, [])).body.code).toBe('second-person-needed');
  expect((await set(second, ['publish'])).body.kinds).toEqual(['publish']);
  expect((await set(first, ['publish', 'override'])).body.kinds).toEqual(['publish', 'override']);
  expect((await set(first, ['everything'])).status).toBe(400);
});
