/** Rules in full over the doors: answers that wait, texts, the register, ceilings, silence, order, revisions. */
import type {
  Comparison,
  CoverageView,
  DraftView,
  IncidentDetail,
  IncidentPage,
  MailDetail,
  MailSummary,
  PolicyView,
  RevisionView,
  SendMailResult,
  TextView,
  WaitingView,
} from '@lantern/contracts';
import { CHANNELS } from '@lantern/core/movement';
import { AccountEntity } from '../src/accounts/account.entity.js';
import { MatchMails } from '../src/movements/notice/match-mails.service.js';
import { PendingService } from '../src/movements/pending/pending.service.js';
import {
  CARDS,
  type Client,
  mailForm,
  OUTSIDE,
  policyOf,
  publish,
  ruleOf,
  type Running,
  start,
  TEXT_ID,
} from './harness.js';

let running: Running;
let client: Client;
let auditor: Client;
let orla: string;
let bea: string;

beforeAll(async () => {
  running = await start();
  client = await running.client();
  auditor = await running.client('auditor@merrowstrait.example');
  orla = (await running.person('Orla Fenwick')).id;
  bea = (await running.person('Bea Lindqvist')).id;
});
afterAll(() => running.stop());

const send = (over: object = {}) =>
  client.send<SendMailResult>(
    'POST',
    '/stand-ins/mail/messages',
    mailForm({ person: orla, to: [OUTSIDE], body: CARDS, ...over }),
  );
const folder = async (person: string, name: string) =>
  (await client.get<MailSummary[]>(`/stand-ins/mail/${person}/messages`)).body.filter(
    (mail) => mail.folder === name,
  );
const newest = async (by = client) => {
  const { body } = await by.get<IncidentPage>('/incidents?order=-time');
  return (await by.get<IncidentDetail>(`/incidents/${body.rows[0]?.number ?? 0}`)).body;
};
/** Leaves nothing in force but one policy with these rules. */
const inForce = async (rules: readonly object[], over: object = {}) => {
  for (const { policy } of (await client.get<PolicyView[]>('/policies')).body)
    await client.send('DELETE', `/policies/${policy.id}`);
  return publish(client, 'Only', rules, over);
};
const ask = {
  reasons: [
    { words: 'They booked through this agency', leads: 'goes-on' },
    { words: 'Wrong file', leads: 'stays' },
  ],
  minutes: 60,
  otherwise: 'stays',
};

describe('an answer that asks', () => {
  const asked = async () => {
    const { body } = await send({ to: [OUTSIDE, 'bea.lindqvist@merrowstrait.example'], subject: 'List' });
    if (body.status !== 'waiting') throw new Error(`answered ${body.status}`);
    return body.message;
  };
  const reply = (mail: MailDetail, leads: string, person = orla) =>
    client.send('POST', `/stand-ins/mail/${person}/messages/${mail.id}/reply`, {
      leads,
      words: 'They booked here',
    });

  it('holds the mail back with its question, and nobody gets it', async () => {
    await inForce([ruleOf({ answer: 'ask', ask })]);
    const mail = await asked();
    expect(mail).toMatchObject({
      folder: 'waiting',
      notice: { state: 'waiting', ask: { reasons: ask.reasons }, text: 'Use the portal.', decision: null },
    });
    expect(await folder(bea, 'inbox')).toEqual([]);
    expect((await newest()).number).toBe(mail.notice?.incident);
  });

  it('lets it go with the reason, which stands in the history word for word', async () => {
    const mail = await asked();
    expect((await reply(mail, 'goes-on')).status).toBe(204);
    expect(await folder(bea, 'inbox')).toMatchObject([{ subject: 'List' }]);
    expect((await folder(orla, 'sent'))[0]).toMatchObject({ subject: 'List' });
    expect((await newest()).history.at(-1)).toMatchObject({
      kind: 'reply',
      by: 'Orla Fenwick',
      text: 'It goes on: They booked here',
    });
    expect(await reply(mail, 'goes-on')).toMatchObject({ status: 409, body: { code: 'changed-meanwhile' } });
    expect(await folder(bea, 'inbox')).toHaveLength(1);
  });

  it('takes it back as a draft', async () => {
    const mail = await asked();
    await reply(mail, 'stays');
    const draft = await client.get<MailDetail>(`/stand-ins/mail/${orla}/messages/${mail.id}`);
    expect(draft.body).toMatchObject({ folder: 'drafts', notice: { state: 'taken-back' } });
  });

  it('takes one of two replies at the same instant', async () => {
    const mail = await asked();
    const both = await Promise.all([reply(mail, 'goes-on'), reply(mail, 'stays')]);
    expect(both.map(({ status }) => status).sort()).toEqual([204, 409]);
  });

  it('takes no reply of anybody else', async () => {
    const mail = await asked();
    expect((await reply(mail, 'goes-on', bea)).status).toBe(404);
  });

  it('ends as stated when the time runs out', async () => {
    const mail = await asked();
    const waiting = running.application.get(PendingService);
    await waiting.sweep(new Date(Date.now() + 59 * 60_000));
    expect(await folder(orla, 'waiting')).toContainEqual(expect.objectContaining({ id: mail.id }));
    await waiting.sweep(new Date(Date.now() + 61 * 60_000));
    expect(await folder(orla, 'waiting')).toEqual([]);
    expect(await folder(orla, 'drafts')).toContainEqual(expect.objectContaining({ id: mail.id }));
  });
});

describe('what somebody else decides', () => {
  const waiting = async () => (await client.get<WaitingView[]>('/waiting')).body[0];
  const decide = (id: string, goesOn: boolean, by = client) =>
    by.send('POST', `/waiting/${id}/decision`, { goesOn, words: 'The contract allows it' });

  it('holds a mail until an approver lets it go', async () => {
    await inForce([ruleOf({ answer: 'hold' })]);
    expect((await send()).body.status).toBe('waiting');
    const held = await waiting();
    expect(held).toMatchObject({
      kind: 'hold',
      state: 'waiting',
      person: { name: 'Orla Fenwick' },
      refusal: null,
    });
    const refused = await decide(held?.id ?? '', true, auditor);
    expect(refused.status).toBe(403);
    expect((await decide(held?.id ?? '', true)).status).toBe(204);
    expect(await waiting()).toMatchObject({ state: 'went-on', decidedBy: 'analyst' });
    expect((await newest()).history.at(-1)).toMatchObject({
      kind: 'override',
      text: 'It goes on: The contract allows it',
    });
  });

  it('lets a person ask about a blocked mail, where the rule allows it', async () => {
    await inForce([ruleOf({ override: {} })]);
    const { body } = await send();
    if (body.status !== 'refused') throw new Error(`answered ${body.status}`);
    const path = `/stand-ins/mail/${orla}/messages/${body.draft.id}/override`;
    expect((await client.send('POST', path, { words: 'The customs ask for it' })).status).toBe(204);
    const held = await waiting();
    expect(held).toMatchObject({ kind: 'override', words: 'The customs ask for it' });
    expect((await client.send('POST', path, { words: 'again' })).status).toBe(409);
    await decide(held?.id ?? '', false);
    expect(
      (await client.get<MailDetail>(`/stand-ins/mail/${orla}/messages/${body.draft.id}`)).body,
    ).toMatchObject({
      folder: 'drafts',
      notice: { state: 'refused', decision: { by: 'analyst', words: 'The contract allows it' } },
    });
  });

  it('lets nobody ask where the rule does not', async () => {
    await inForce([ruleOf()]);
    const { body } = await send();
    if (body.status !== 'refused') throw new Error(`answered ${body.status}`);
    const path = `/stand-ins/mail/${orla}/messages/${body.draft.id}/override`;
    expect(await client.send('POST', path, { words: 'please' })).toMatchObject({
      body: { code: 'act-refused' },
    });
  });

  it('lets nobody decide about their own', async () => {
    await inForce([ruleOf({ answer: 'hold' })]);
    await send();
    const orlaAddress = (await running.person('Orla Fenwick')).address;
    const accounts = running.database.getRepository(AccountEntity);
    await accounts.update({ email: 'second@merrowstrait.example' }, { email: orlaAddress });
    const own = await running.client(orlaAddress);
    const held = await waiting();
    expect((await own.get<WaitingView[]>('/waiting')).body[0]).toMatchObject({ refusal: 'own' });
    expect((await decide(held?.id ?? '', true, own)).status).toBe(403);
    await accounts.update({ email: orlaAddress }, { email: 'second@merrowstrait.example' });
  });
});

describe('treatments, telling and keeping', () => {
  it('marks what goes on and says that it is not to be passed on', async () => {
    const treatments = [{ kind: 'mark', words: '[inside]' }, { kind: 'no-passing-on' }];
    await inForce([ruleOf({ bands: [{ answer: 'advise', text: TEXT_ID, treatments }] })]);
    const { body } = await send({ to: [OUTSIDE, 'bea.lindqvist@merrowstrait.example'], subject: 'Plan' });
    expect(body).toMatchObject({ status: 'sent', notice: { answer: 'advise', text: 'Use the portal.' } });
    expect((await folder(bea, 'inbox'))[0]).toMatchObject({ subject: '[inside] Plan', noPassingOn: true });
  });

  it('tells somebody at once, without content, and somebody else once a day', async () => {
    const tell = [
      { address: 'per.halloran@merrowstrait.example', when: 'at-once' },
      { address: 'jun.abara@merrowstrait.example', when: 'daily' },
    ];
    await inForce([ruleOf({ answer: 'note', tell })]);
    await send({ subject: 'Zebra' });
    await send({ subject: 'Zebra' });
    const per = (await running.person('Per Halloran')).id;
    const jun = (await running.person('Jun Abara')).id;
    const told = await folder(per, 'inbox');
    expect(told).toHaveLength(2);
    const whole = await client.get<MailDetail>(`/stand-ins/mail/${per}/messages/${told[0]?.id ?? ''}`);
    expect(JSON.stringify(whole.body)).not.toMatch(/4539|Zebra/);
    expect(await folder(jun, 'inbox')).toEqual([]);
    await running.application.get(MatchMails).sendDigests(new Date(Date.now() + 86_400_000));
    expect(await folder(jun, 'inbox')).toMatchObject([{ subject: '2 incidents in the last day' }]);
  });

  it('keeps counts alone where the rule says so', async () => {
    await inForce([ruleOf({ keep: 'counts' })]);
    await send();
    const { parts, counts } = await newest();
    expect(counts[0]).toMatchObject({ distinct: 2 });
    expect(parts.flatMap(({ excerpts }) => excerpts)).toEqual([]);
    expect(parts.some(({ notShown }) => notShown >= 2)).toBe(true);
  });
});

describe('people, time and the past', () => {
  it('reads a policy for its people only, and cuts to its ceiling', async () => {
    const crewing = { with: [{ kind: 'department', department: 'Crewing' }], without: [] };
    await inForce([ruleOf()], { people: crewing });
    expect((await send()).body.status).toBe('sent');
    await inForce([ruleOf()], { ceilings: [{ answer: 'note' }] });
    expect((await send()).body.status).toBe('sent');
    expect((await newest()).verdict.decidedBy).toMatchObject({
      answer: 'note',
      written: 'block',
      cut: 'ceiling',
    });
    const { body } = await client.get<PolicyView[]>('/policies');
    const record = await client.get(`/coverage/ceilings/${body[0]?.policy.id ?? ''}`);
    expect(record.body).toMatchObject({ cut: { block: 1 }, people: 1 });
  });

  it('raises its answer when the same content is tried again', async () => {
    const when = {
      kind: 'all',
      of: [
        { kind: 'findings', pattern: 'payment-card' },
        { kind: 'tries', atLeast: 2, minutes: 60 },
      ],
    };
    await inForce([ruleOf({ answer: 'ask', ask }), ruleOf({ when, answer: 'block' })]);
    const body = `${CARDS} once more`;
    expect((await send({ body })).body.status).toBe('waiting');
    expect((await send({ body })).body.status).toBe('waiting');
    expect((await send({ body })).body.status).toBe('refused');
    expect((await send({ body: `${body}, changed` })).body.status).toBe('waiting');
  });

  it('asks the register of exchanges', async () => {
    const exchange = { name: 'To the agency', to: ['islandholidays.example'], until: '2099-01-01' };
    const created = await client.send<{ id: string }>('POST', '/exchanges', { exchange });
    await inForce([ruleOf({ unless: { kind: 'exchange', exchanges: [created.body.id] } })]);
    expect((await send()).body.status).toBe('sent');
    expect((await send({ to: [OUTSIDE, 'x@elsewhere.example'] })).body.status).toBe('refused');
    expect(await client.send('DELETE', `/exchanges/${created.body.id}`)).toMatchObject({
      body: { code: 'in-use' },
    });
  });
});

describe('silent rules', () => {
  it('exist only for those who may see them, and so do their incidents', async () => {
    const silence = { until: '2099-01-01', why: 'Case 12' };
    const view = await inForce([
      ruleOf({ answer: 'note', silence }),
      ruleOf({ when: { kind: 'reach', side: 'outside', atLeast: 50 } }),
    ]);
    expect((await send()).body).toMatchObject({ status: 'sent', notice: null });
    const number = (await newest()).number;
    expect((await auditor.get(`/incidents/${number}`)).status).toBe(404);
    expect((await newest(auditor)).number).not.toBe(number);
    const seen = (await auditor.get<PolicyView>(`/policies/${view.policy.id}`)).body.policy;
    expect(seen.rules).toHaveLength(1);
    expect(JSON.stringify((await auditor.get('/revisions/draft')).body)).not.toContain('Case 12');
  });

  it('tell nobody who may not see them that something happened, not even a number', async () => {
    const silence = { until: '2099-01-01', why: 'Case 14' };
    await inForce([ruleOf({ answer: 'note', silence })]);
    const heard = { all: '', auditor: '' };
    const stop = new AbortController();
    const listen = async (by: Client, key: keyof typeof heard) => {
      const { body } = await fetch(`${running.address}/api/events`, {
        headers: { cookie: by.cookie },
        signal: stop.signal,
      });
      const reader = body?.getReader();
      for (;;) {
        const chunk = await reader?.read().catch(() => undefined);
        if (!chunk || chunk.done) return;
        heard[key] += new TextDecoder().decode(chunk.value as Uint8Array);
      }
    };
    const listening = [listen(client, 'all'), listen(auditor, 'auditor')];
    await new Promise((resolve) => setTimeout(resolve, 200));
    await send();
    const silent = (await newest()).number;
    // An open incident behind it: when it is heard, the silent one would have been heard as well.
    await inForce([ruleOf()]);
    await send();
    const open = (await newest()).number;
    const until = Date.now() + 10_000;
    while (!heard.auditor.includes(`"number":${open}`) && Date.now() < until)
      await new Promise((resolve) => setTimeout(resolve, 50));
    stop.abort();
    await Promise.all(listening);
    expect(heard.auditor).toContain(`"number":${open}`);
    expect(heard.all).toContain(`"number":${silent}`);
    expect(heard.auditor).not.toContain(`"number":${silent}`);
  });

  it('leave no trace in incidents of other rules of their policy', async () => {
    const silence = { until: '2099-01-01', why: 'Case 13' };
    const silent = { kind: 'domain', quantity: 'any', domains: ['watched.example'] };
    await inForce([ruleOf({ when: silent, answer: 'note', silence }), ruleOf()]);
    await send();
    const number = (await newest()).number;
    expect(JSON.stringify((await client.get(`/incidents/${number}`)).body)).toContain('watched.example');
    expect((await newest(auditor)).number).toBe(number);
    expect(JSON.stringify(await newest(auditor))).not.toMatch(/watched\.example|Case 13/);
  });
});

describe('texts', () => {
  it('are written once, show where they are used, and stay while they are', async () => {
    await inForce([ruleOf()]);
    const texts = (await client.get<TextView[]>('/texts')).body;
    expect(texts[0]).toMatchObject({ state: 'published', usedBy: [{ policyName: 'Only', rule: 1 }] });
    expect(await client.send('DELETE', `/texts/${TEXT_ID}`)).toMatchObject({ body: { code: 'in-use' } });
    const text = { name: 'Use the portal', words: [{ language: 'en', text: 'Hello {nobody}' }] };
    const version = texts[0]?.version ?? 0;
    expect((await client.send('PUT', `/texts/${TEXT_ID}`, { text, version })).status).toBe(204);
    expect(await client.send('PUT', `/texts/${TEXT_ID}`, { text, version })).toMatchObject({ status: 409 });
    expect((await client.get<TextView[]>('/texts')).body[0]).toMatchObject({
      state: 'changed',
      unknownFields: ['nobody'],
    });
    expect(await client.send('POST', '/texts', { text })).toMatchObject({ body: { code: 'name-taken' } });
  });
});

describe('revisions', () => {
  it('name what changes in order and parts, and refuse what was looked at before somebody else published', async () => {
    await inForce([ruleOf()]);
    const other = await client.send<PolicyView>(
      'POST',
      '/policies',
      policyOf('Other', [ruleOf({ answer: 'note' })]),
    );
    const looked = (await client.get<DraftView>('/revisions/draft')).body;
    expect(looked.changes.map(({ subject, name }) => `${subject} ${name}`)).toEqual(['policy Other']);
    const publishIt = (follows: number | null) =>
      client.send('POST', '/revisions', { name: 'x', reason: 'y', follows: follows ?? 0 });
    expect((await publishIt(looked.follows)).status).toBe(201);
    const ids = (await client.get<PolicyView[]>('/policies')).body.map(({ policy }) => policy.id);
    const turned = await client.send<PolicyView[]>('PUT', '/policies/order', {
      policies: [...ids].reverse(),
    });
    expect(turned.body.map(({ policy }) => policy.id)).toEqual([...ids].reverse());
    expect((await client.get<DraftView>('/revisions/draft')).body.changes).toMatchObject([
      { subject: 'order' },
    ]);
    expect(await publishIt(looked.follows)).toMatchObject({
      status: 409,
      body: { code: 'changed-meanwhile' },
    });
    expect(await client.send('PUT', '/policies/order', { policies: [other.body.policy.id] })).toMatchObject({
      status: 409,
    });
  });

  it('can be compared and published again, and leave the drafts alone', async () => {
    await inForce([ruleOf({ answer: 'note' })]);
    const [now] = (await client.get<RevisionView[]>('/revisions')).body;
    await inForce([ruleOf()]);
    const compared = await client.get<Comparison>(`/revisions/${now?.number ?? 0}/changes`);
    expect(compared.body.changes.map(({ subject, state }) => `${subject} ${state}`).sort()).toEqual([
      'policy new',
      'policy removed',
    ]);
    expect((await send()).body.status).toBe('refused');
    const again = await client.send<RevisionView>('POST', `/revisions/${now?.number ?? 0}/again`, {
      reason: 'too much',
    });
    expect(again.body).toMatchObject({ name: expect.stringContaining('Back to') });
    expect((await send()).body.status).toBe('sent');
    expect((await client.get<DraftView>('/revisions/draft')).body.changes).toHaveLength(2);
    expect(await auditor.send('POST', `/revisions/${now?.number ?? 0}/again`, { reason: '' })).toMatchObject({
      status: 403,
    });
  });
});

describe('coverage', () => {
  it('says what happens to whom on each way out, and through which doors', async () => {
    await inForce([ruleOf()], {
      ceilings: [
        {
          people: { with: [{ kind: 'department', department: 'Crewing' }], without: [] },
          answer: 'as-written',
        },
        { answer: 'note' },
      ],
    });
    const { body } = await client.get<CoverageView>('/coverage');
    const cell = body.cells.find(
      ({ pattern, channel, side }) => pattern === 'payment-card' && channel === 'mail' && side === 'outside',
    );
    expect(cell?.shares.map(({ answer, from }) => [answer, from])).toEqual([
      ['block', 2],
      ['note', 2],
    ]);
    expect(cell?.shares.reduce((sum, { people }) => sum + people, 0)).toBe(body.people);
    expect(body.doors.map(({ channel, open }) => [channel, open])).toEqual(
      CHANNELS.map((channel) => [channel, true]),
    );
    expect(body.doors[0]?.why).toMatch(/SMTP gateway on port \d+/);
  });
});
