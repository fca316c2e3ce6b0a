/** What is allowed for a time beside the published rules, overrides that take two people, and holds that go on in line. */
import { randomUUID } from 'node:crypto';
import type {
  ErrorBody,
  IncidentDetail,
  IncidentPage,
  NewAgent,
  SendMailResult,
  WaitingView,
} from '@lantern/contracts';
import type { StandingApprovalView } from '@lantern/contracts/approvals';
import { PendingEntity } from '../src/movements/pending/pending.entity.js';
import { PendingService } from '../src/movements/pending/pending.service.js';
import { InsideMail } from '../src/platform/inside-mail.js';
import {
  agentOf,
  CARDS,
  type Client,
  mailForm,
  OUTSIDE,
  publish,
  ruleOf,
  type Running,
  start,
} from './harness.js';

const ELSEWHERE = 'desk@elsewhere.example';
const HOUR_MS = 3_600_000;
let running: Running;
let client: Client;
let second: Client;
let orla: string;

beforeAll(async () => {
  running = await start();
  client = await running.client();
  second = await running.client('second@merrowstrait.example');
  orla = (await running.person('Orla Fenwick')).id;
  await publish(client, 'Cards', [ruleOf({ override: {} })]);
});
afterAll(() => running.stop());

const send = async (to: readonly string[] = [OUTSIDE], person = orla) =>
  (
    await client.send<SendMailResult>(
      'POST',
      '/stand-ins/mail/messages',
      mailForm({ person, to, body: CARDS }),
    )
  ).body;
const waiting = async (by = client) =>
  (await by.get<WaitingView[]>('/waiting')).body.find(({ state }) => state === 'waiting') as WaitingView;
const decide = (id: string, over: object = {}, by = client) =>
  by.send<ErrorBody>('POST', `/waiting/${id}/decision`, { goesOn: true, words: 'Customs want it', ...over });
const approvals = async () => (await client.get<StandingApprovalView[]>('/approvals')).body;
const newest = async () => {
  const { rows } = (await client.get<IncidentPage>('/incidents?order=-number')).body;
  return (await client.get<IncidentDetail>(`/incidents/${rows[0]?.number ?? 0}`)).body;
};
/** A blocked mail whose sender asked for an override. */
const asked = async (to: readonly string[] = [OUTSIDE]): Promise<WaitingView> => {
  const body = await send(to);
  if (body.status !== 'refused') throw new Error(`answered ${body.status}`);
  const path = `/stand-ins/mail/${orla}/messages/${body.draft.id}/override`;
  expect((await client.send('POST', path, { words: 'The customs ask for it' })).status).toBe(204);
  return waiting();
};

describe('a standing approval', () => {
  it('says what it could be about, and takes nothing else', async () => {
    const entry = await asked([OUTSIDE, ELSEWHERE]);
    expect(entry.destinations).toEqual([OUTSIDE, ELSEWHERE]);
    for (const standing of [
      { days: 5, to: ['desk@third.example'] },
      { days: 5, to: ['@example'] },
      { days: 5, to: [] },
      { days: 91, to: [OUTSIDE] },
    ])
      expect((await decide(entry.id, { standing })).status).toBe(400);
    expect((await decide(entry.id, { goesOn: false, standing: { days: 5, to: [OUTSIDE] } })).status).toBe(
      400,
    );
    expect((await waiting()).id).toBe(entry.id);
    expect((await decide(entry.id, { goesOn: false })).status).toBe(204);
    expect(await approvals()).toEqual([]);
  });

  it('lets the same pass from the next movement on, noted, and names itself', async () => {
    const entry = await asked();
    const domain = `@${OUTSIDE.split('@')[1] ?? ''}`;
    expect((await decide(entry.id, { standing: { days: 5, to: [domain] } })).status).toBe(204);
    const [approval] = await approvals();
    expect(approval).toMatchObject({
      ...{ state: 'in-force', person: { name: 'Orla Fenwick' }, channel: 'mail', once: false, refusal: null },
      versions: [{ version: 1, change: 'given', by: 'analyst', to: [domain], words: 'Customs want it' }],
    });
    expect((await send([`other${domain}`])).status).toBe('sent');
    const passed = await newest();
    expect(passed.answer).toBe('note');
    expect(passed.verdict.matches[0]).toMatchObject({
      ...{ answer: 'note', written: 'block', cut: 'approval' },
      approval: { id: approval?.id, version: 1, by: 'analyst' },
    });
    const filter = encodeURIComponent('reducedBy eq "approval"');
    expect((await client.get<IncidentPage>(`/incidents?filter=${filter}`)).body.rows).toHaveLength(1);
    // To somebody whom it does not name, beside one whom it does, and by somebody else: as before.
    expect((await send([OUTSIDE, ELSEWHERE])).status).toBe('refused');
    expect((await send([OUTSIDE], (await running.person('Bea Lindqvist')).id)).status).toBe('refused');
  });

  it('is changed in versions, with fewer destinations and another end, and is ended', async () => {
    const [approval] = await approvals();
    const path = `/approvals/${approval?.id ?? ''}`;
    const to = approval?.versions[0]?.to;
    const until = new Date(Date.now() + 2 * HOUR_MS).toISOString();
    const change = (over: object) => client.send('PUT', path, { until, to, words: 'Shorter', ...over });
    expect((await change({ to: [ELSEWHERE] })).status).toBe(400);
    expect((await change({ until: new Date(Date.now() + 100 * 24 * HOUR_MS).toISOString() })).status).toBe(
      400,
    );
    expect((await change({ until: new Date(0).toISOString() })).status).toBe(400);
    expect((await change({})).status).toBe(204);
    expect((await send()).status).toBe('sent');
    expect((await client.send('POST', `${path}/end`, { words: 'The customs are done' })).status).toBe(204);
    expect((await send()).status).toBe('refused');
    const [ended] = await approvals();
    expect(ended?.state).toBe('ended');
    expect(
      ended?.versions.map(({ version, change, until: end }) => [version, change, end === until]),
    ).toEqual([
      [3, 'ended', false],
      [2, 'changed', true],
      [1, 'given', false],
    ]);
    expect((await client.send('POST', `${path}/end`, { words: 'again' })).status).toBe(404);
    const auditor = await running.client('auditor@merrowstrait.example');
    expect((await auditor.send('POST', `${path}/end`, { words: 'not mine' })).status).toBe(403);
  });

  it('ends when the override that it came from is judged wrong', async () => {
    const entry = await asked();
    await decide(entry.id, { standing: { days: 5, to: [OUTSIDE] } });
    expect((await send()).status).toBe('sent');
    await client.send('POST', `/waiting/${entry.id}/judged-wrong`, { reason: 'It was a private address' });
    expect((await send()).status).toBe('refused');
    expect((await approvals())[0]).toMatchObject({
      state: 'ended',
      versions: [{ words: 'It was a private address' }, {}],
    });
  });
});

describe('two approvers where the rule says so', () => {
  it('both allow it, with the same terms where it stays allowed', async () => {
    await publish(client, 'Twice', [ruleOf({ severity: 'critical', override: { approvers: 2 } })]);
    const policies = (await client.get<{ policy: { id: string; name: string } }[]>('/policies')).body;
    const cards = policies.find(({ policy }) => policy.name === 'Cards')?.policy.id ?? '';
    await client.send('DELETE', `/policies/${cards}`);
    await client.send('POST', '/revisions', { name: 'r', reason: 'test' });
    const entry = await asked();
    const standing = { days: 3, to: [OUTSIDE] };
    expect((await decide(entry.id, { standing })).body.code).toBe('second-person-needed');
    expect((await decide(entry.id, { standing })).body.code).toBe('second-person-needed');
    expect(await waiting(second)).toMatchObject({ agreedBy: 'analyst', agreedForDays: 3 });
    expect((await decide(entry.id, { standing: { ...standing, days: 4 } }, second)).status).toBe(409);
    expect((await decide(entry.id, { standing }, second)).status).toBe(204);
    expect((await approvals())[0]).toMatchObject({
      state: 'in-force',
      versions: [{ by: 'analyst and second' }],
    });
    expect((await send()).status).toBe('sent');

    // What two people allowed, one alone does not prolong, but may shorten.
    const [approval] = await approvals();
    const path = `/approvals/${approval?.id ?? ''}`;
    const later = {
      until: new Date(Date.now() + 20 * 24 * HOUR_MS).toISOString(),
      to: [OUTSIDE],
      words: 'Longer',
    };
    expect((await client.send<ErrorBody>('PUT', path, later)).body.code).toBe('second-person-needed');
    expect(
      (await client.send('PUT', path, { ...later, until: new Date(Date.now() + HOUR_MS).toISOString() }))
        .status,
    ).toBe(204);
    expect((await second.send('PUT', path, later)).status).toBe(204);
    expect((await approvals())[0]?.versions[0]).toMatchObject({
      by: 'analyst and second',
      until: later.until,
    });
  });
});

describe('what is held', () => {
  it('goes to the next in line, who is told, and then where the rule leads', async () => {
    await publish(client, 'Line', [
      ruleOf({ answer: 'hold', hold: { minutes: 60, next: 'authors', otherwise: 'goes-on' } }),
    ]);
    const result = await send([ELSEWHERE]);
    // The other policy blocks it; the hold is what decides for somebody else.
    expect(result.status).toBe('refused');
    const policies = (await client.get<{ policy: { id: string; name: string } }[]>('/policies')).body;
    const twice = policies.find(({ policy }) => policy.name === 'Twice')?.policy.id ?? '';
    await client.send('DELETE', `/policies/${twice}`);
    await client.send('POST', '/revisions', { name: 'r', reason: 'test' });

    expect((await send([ELSEWHERE])).status).toBe('waiting');
    const first = await waiting();
    expect(first).toMatchObject({ kind: 'hold', decides: 'approvers', next: 'authors' });
    const service = running.application.get(PendingService);
    const told: string[] = [];
    running.application.get(InsideMail).deliveredBy((_manager, { to, subject }) => {
      if (subject.includes('waits for your decision')) told.push(to);
      return Promise.resolve(false);
    });
    await service.sweep(new Date(Date.now() + 59 * 60_000));
    expect((await waiting()).decides).toBe('approvers');
    await service.sweep(new Date(Date.now() + 61 * 60_000));
    const next = await waiting();
    expect(next).toMatchObject({ id: first.id, decides: 'authors', next: null });
    expect(Date.parse(next.deadline ?? '') - Date.parse(first.deadline ?? '')).toBeGreaterThan(
      HOUR_MS * 0.99,
    );
    expect(told.sort()).toEqual(['analyst@merrowstrait.example', 'second@merrowstrait.example']);

    await service.sweep(new Date(Date.now() + 3 * HOUR_MS));
    const entry = await running.database.getRepository(PendingEntity).findOneByOrFail({ id: first.id });
    expect(entry).toMatchObject({ state: 'went-on', decidedBy: 'Uncut Lantern' });
    const said = (await newest()).history.filter(({ kind }) => kind === 'override');
    expect(said.map(({ text }) => text)).toEqual([
      'Nobody decided in time. Policy authors decide now.',
      'It goes on: No decision in time.',
    ]);
  });
});

describe('what could not be held back', () => {
  it('may be repeated once by the same person with the same content, and the notice says so', async () => {
    const host = 'paste.example';
    const when = { kind: 'findings', pattern: 'payment-card', atLeast: 2, distinct: true, certainty: 80 };
    await publish(client, 'Pages', [ruleOf({ when, override: {} })], { channels: ['browser'] });
    const { key } = (await client.send<NewAgent>('POST', '/agents', { name: 'Browsers' })).body;
    const browser = agentOf(running, key);
    const upload = async (text = CARDS) => {
      const movement = {
        ...{
          key: randomUUID(),
          channel: 'browser',
          activity: 'paste',
          person: 'orla.fenwick@merrowstrait.example',
        },
        ...{ texts: [{ text }], putInto: [{ kind: 'host', host }] },
      };
      const [result] = await browser.hand(movement);
      if (result?.status !== 'judged') throw new Error(JSON.stringify(result));
      return result;
    };
    const blocked = await upload();
    expect(blocked.state).toBe('refused');
    const asking = { words: 'The form needs it' };
    expect((await browser.post(`movements/${blocked.id}/override`, asking)).status).toBe(200);
    expect((await decide((await waiting()).id)).status).toBe(204);
    const told = await browser.call(`movements/${blocked.id}`);
    expect(told.body).toMatchObject({ state: 'went-on', notice: { again: { once: true } } });

    expect((await upload(`${CARDS} and more`)).state).toBe('refused');
    const both = await Promise.all([upload(), upload()]);
    expect(both.map(({ state }) => state).sort()).toEqual(['refused', 'went-on']);
    expect((await approvals())[0]).toMatchObject({ once: true, state: 'used' });

    // Where the same stays allowed for days, that is what the person is told, and as often as they like.
    const again = await upload();
    await browser.post(`movements/${again.id}/override`, asking);
    await decide((await waiting()).id, { standing: { days: 2, to: [host] } });
    expect((await browser.call(`movements/${again.id}`)).body).toMatchObject({
      notice: { again: { once: false } },
    });
    expect((await upload()).state).toBe('went-on');
    expect(
      (await upload('card 4539 1488 0343 6467 and card 6011 0009 9013 9424, in other words')).state,
    ).toBe('went-on');
    expect((await approvals())[0]).toMatchObject({ once: false, state: 'in-force' });
  });
});
