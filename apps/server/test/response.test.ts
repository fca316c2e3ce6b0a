/** What is done about incidents: routing rules, alerts, people told and asked, tickets to web hooks. */
import { createServer, type IncomingHttpHeaders, type Server } from 'node:http';
import { jest } from '@jest/globals';
import type { AddressInfo } from 'node:net';
import type {
  DeliveryView,
  ErrorBody,
  HookView,
  IncidentDetail,
  IncidentPage,
  MailSummary,
  ResponsePreview,
  ResponseResult,
  ResponseTemplate,
  RoutingRuleView,
  SendMailResult,
} from '@lantern/contracts';
import { cardNumber, chance, grouped } from '@lantern/testkit';
import { HTTP } from 'cloudevents';
import { Webhook } from 'standardwebhooks';
import { PersonEntity } from '../src/directory/person.entity.js';
import { callHook, isOwnAddress } from '../src/response/hooks/call.js';
import { Hooks, PAUSES } from '../src/response/hooks/hooks.service.js';
import { QuestionEntity } from '../src/response/people/question.entity.js';
import { Questions } from '../src/response/people/questions.service.js';
import { RESPONSES_AN_HOUR, RoutedResponses } from '../src/response/routing/routed-responses.service.js';
import { Responses } from '../src/response/people/respond.service.js';
import { Alerts, MAILS_AN_HOUR } from '../src/response/routing/alerts.service.js';
import { type Client, mailForm, OUTSIDE, publish, ruleOf, type Running, start } from './harness.js';

let running: Running;
let client: Client;
const random = chance(3);

/** A ticket system that answers as it is told. */
let ticketSystem: Server;
let answersWith = 200;
const got: { body: string; headers: IncomingHttpHeaders }[] = [];

beforeAll(async () => {
  running = await start();
  client = await running.client();
  const one = { kind: 'findings', pattern: 'payment-card', atLeast: 1, distinct: true, certainty: 60 };
  await publish(client, 'Cards outside', [ruleOf({ when: one })]);
  await running.database
    .getRepository(PersonEntity)
    .update({ name: 'Orla Fenwick' }, { manager: 'bea.lindqvist@merrowstrait.example' });
  ticketSystem = createServer((request, response) => {
    let body = '';
    request.on('data', (piece: Buffer) => (body += piece.toString()));
    request.on('end', () => {
      got.push({ body, headers: request.headers });
      if (answersWith === 302) response.setHeader('location', `http://127.0.0.1:1/`);
      response.statusCode = answersWith;
      response.end();
    });
  });
  await new Promise<void>((resolve) => ticketSystem.listen(0, '127.0.0.1', resolve));
});
afterAll(async () => {
  ticketSystem.close();
  await running.stop();
});

async function send(name: string, to = OUTSIDE): Promise<IncidentDetail> {
  const { id } = await running.person(name);
  const body = `Good morning, please refund the card ${grouped(cardNumber(random))} today.`;
  await client.send<SendMailResult>(
    'POST',
    '/stand-ins/mail/messages',
    mailForm({ person: id, to: [to], subject: 'A refund', body }),
  );
  const { rows } = (await client.get<IncidentPage>('/incidents?order=-number&limit=1')).body;
  return (await client.get<IncidentDetail>(`/incidents/${rows[0]?.number ?? 0}`)).body;
}
const mailsOf = async (name: string) =>
  (await client.get<MailSummary[]>(`/stand-ins/mail/${(await running.person(name)).id}/messages`)).body;

describe('responses of routing rules', () => {
  const rule = { test: false, tell: [], active: true, watch: false };
  const save = (request: object, by = client) =>
    by.send<RoutingRuleView[] & ErrorBody>('POST', '/routing-rules', { ...rule, ...request });
  const round = () => running.application.get(RoutedResponses).send();

  it('are carried out once after the incident was recorded, with their result in its history', async () => {
    const respond = [
      { kind: 'tell-person', subject: 'About {title}', text: 'Please look: {found}' },
      { kind: 'tell-manager' },
      { kind: 'sign-out' },
    ];
    expect((await save({ name: 'At once', filter: 'severity eq "high"', respond })).status).toBe(201);
    const { number } = await send('Orla Fenwick');
    await round();
    expect(await round()).toBe(0);
    const { history } = (await client.get<IncidentDetail>(`/incidents/${number}`)).body;
    const said = history
      .filter(({ kind }) => kind === 'response')
      .map(({ by, text }) => `${by}: ${text ?? ''}`);
    expect(said).toEqual([
      expect.stringMatching(/^Routing rule "At once": Told the person .*About A refund\nPlease look: 1 × /su),
      expect.stringContaining(
        'Told the manager (bea.lindqvist@merrowstrait.example): About data that Orla Fenwick',
      ),
      'Routing rule "At once": Not done: sign the person out. The person was signed in nowhere.',
    ]);
    const mails = await mailsOf('Orla Fenwick');
    expect(mails.filter(({ subject }) => subject === 'About A refund')).toHaveLength(1);
  });

  it('stop where a rule would flood one person, and say so', async () => {
    let last = 0;
    for (let sent = 0; sent < RESPONSES_AN_HOUR; sent += 1) last = (await send('Orla Fenwick')).number;
    await round();
    const told = (await mailsOf('Orla Fenwick')).filter(({ subject }) => subject === 'About A refund');
    expect(told).toHaveLength(RESPONSES_AN_HOUR);
    const { history } = (await client.get<IncidentDetail>(`/incidents/${last}`)).body;
    expect(history.map(({ text }) => text)).toContain(
      `Not done: tell the person. The rule did so ${RESPONSES_AN_HOUR} times about this person within an hour.`,
    );
    for (const { id } of (await client.get<RoutingRuleView[]>('/routing-rules')).body)
      await client.send('DELETE', `/routing-rules/${id}`);
  });

  it('that cannot be carried out hold up no other', async () => {
    const { number } = await send('Orla Fenwick');
    const responses = running.application.get(RoutedResponses);
    const respond = [{ kind: 'tell-person' as const }];
    await responses.queue(running.database.manager, number, { name: 'Broken', respond });
    await responses.queue(running.database.manager, number, { name: 'Whole', respond });
    const service = running.application.get(Responses);
    const broken = jest.spyOn(service, 'send').mockRejectedValueOnce(new Error('a fault of ours'));
    expect(await round()).toBe(1);
    expect(await round()).toBe(0);
    broken.mockRestore();
    const { history } = (await client.get<IncidentDetail>(`/incidents/${number}`)).body;
    expect(
      history.filter(({ kind }) => kind === 'response').map(({ by, text }) => [by, text?.slice(0, 30)]),
    ).toEqual([
      ['Routing rule "Broken"', 'Not done: tell the person. An '],
      ['Routing rule "Whole"', expect.stringMatching(/^Told the person/u)],
    ]);
  });

  it('are refused where one kind stands twice, and are no part of a watch', async () => {
    const twice = [{ kind: 'sign-out' }, { kind: 'sign-out' }];
    expect((await save({ name: 'Twice', filter: '', respond: twice })).status).toBe(400);
    expect((await save({ name: 'Ticket', filter: '', respond: [{ kind: 'ticket' }] })).status).toBe(400);
    const { body } = await save({
      name: 'Mine',
      filter: '',
      watch: true,
      respond: [{ kind: 'tell-person' }],
    });
    expect(body[0]?.respond).toBeUndefined();
    await client.send('DELETE', `/routing-rules/${body[0]?.id ?? ''}`);
  });
});

describe('routing rules', () => {
  const rule = { test: false, tell: [], active: true, watch: false };
  it('act in their order as an incident is recorded, and stand in its history', async () => {
    const save = (request: object) =>
      client.send<RoutingRuleView[] & ErrorBody>('POST', '/routing-rules', { ...rule, ...request });
    await save({
      name: 'Refunds to the desk',
      filter: 'policy eq "Cards outside" and person co "orla" and pattern pr',
      assign: 'analyst@merrowstrait.example',
      severity: 'critical',
    });
    await save({ name: 'Everything is low', filter: '', severity: 'low' });
    const routed = await send('Orla Fenwick');
    expect(routed).toMatchObject({
      assignee: 'analyst',
      status: 'taken',
      severity: 'critical',
      firstSeverity: 'high',
    });
    expect(routed.history.map(({ by, text }) => [by, text])).toContainEqual([
      'Uncut Lantern',
      'Routing rule "Refunds to the desk"',
    ]);
    expect((await send('Bea Lindqvist')).severity).toBe('low');
    const [first, second] = (await client.get<RoutingRuleView[]>('/routing-rules')).body;
    await client.send('PUT', '/routing-rules/order', { ids: [second?.id, first?.id] });
    expect((await send('Orla Fenwick')).severity).toBe('low');
    for (const one of [first, second]) await client.send('DELETE', `/routing-rules/${one?.id}`);
    expect((await save({ name: 'x', filter: 'colour eq "red"' })).body.code).toBe('bad-filter');
  });

  it('tell several incidents in one mail, and no more mails than stated an hour', async () => {
    const alerts = running.application.get(Alerts);
    await client.send('POST', '/routing-rules', {
      ...rule,
      name: 'Night watch',
      filter: 'severity ge "medium"',
      tell: ['bea.lindqvist@merrowstrait.example'],
    });
    const before = (await mailsOf('Bea Lindqvist')).length;
    for (let at = 0; at < 3; at += 1) await send('Orla Fenwick');
    const now = new Date();
    expect(await alerts.send(now)).toBe(1);
    const mails = await mailsOf('Bea Lindqvist');
    expect(mails).toHaveLength(before + 1);
    expect(mails[0]?.subject).toBe('3 incidents');
    for (let sent = 1; sent < MAILS_AN_HOUR; sent += 1) {
      await send('Orla Fenwick');
      expect(await alerts.send(new Date(now.getTime() + sent * 1_000))).toBe(1);
    }
    await send('Orla Fenwick');
    expect(await alerts.send(new Date(now.getTime() + 60_000))).toBe(0);
    expect(await alerts.send(new Date(now.getTime() + 3_700_000))).toBe(1);
    const [own] = (await client.get<RoutingRuleView[]>('/routing-rules')).body;
    await client.send('DELETE', `/routing-rules/${own?.id}`);
  });

  it('leave a watch to its owner, who is all that it tells', async () => {
    const watch = {
      ...rule,
      watch: true,
      name: 'Mine',
      filter: '',
      tell: ['boss@elsewhere.example'],
      severity: 'low',
    };
    const [mine] = (await client.send<RoutingRuleView[]>('POST', '/routing-rules', watch)).body;
    expect(mine).toMatchObject({ watch: true, owner: 'analyst', tell: ['analyst@merrowstrait.example'] });
    expect(mine?.severity).toBeUndefined();
    await client.send('DELETE', `/routing-rules/${mine?.id}`);
  });
});

describe('people', () => {
  it('are told in words that are filled in and previewed, and the history keeps them', async () => {
    const { number } = await send('Orla Fenwick');
    const [text] = (await client.get<ResponseTemplate[]>(`/incidents/${number}/response-texts`)).body;
    const request = { ...text, numbers: [number] };
    const preview = (await client.send<ResponsePreview>('POST', '/responses/preview', request)).body;
    expect(preview).toMatchObject({ to: 'orla.fenwick@merrowstrait.example', refusal: null });
    expect(preview.text).toContain('1 × Payment card number');
    expect(preview.text).not.toMatch(/\{|\d{4} \d{4}/);
    const before = (await mailsOf('Orla Fenwick')).length;
    const sent = (
      await client.send<ResponseResult[]>('POST', '/responses', { ...request, numbers: [number, 999_999] })
    ).body;
    expect(sent).toEqual([
      { number, state: 'sent', reason: null },
      { number: 999_999, state: 'refused', reason: 'not-found' },
    ]);
    expect(await mailsOf('Orla Fenwick')).toHaveLength(before + 1);
    const { history } = (await client.get<IncidentDetail>(`/incidents/${number}`)).body;
    expect(history.at(-1)).toMatchObject({ kind: 'response', by: 'analyst' });
    const manager = { kind: 'tell-manager', numbers: [number], subject: 's', text: 't' };
    expect((await client.send<ResponsePreview>('POST', '/responses/preview', manager)).body.to).toBe(
      'bea.lindqvist@merrowstrait.example',
    );
    await running.database.getRepository(PersonEntity).update({ name: 'Bea Lindqvist' }, { manager: null });
    const nobody = { ...manager, numbers: [(await send('Bea Lindqvist')).number] };
    expect((await client.send<ResponseResult[]>('POST', '/responses', nobody)).body[0]?.reason).toBe(
      'no-manager',
    );
  });

  it('answer a question once behind its link, and the incident waits for that long', async () => {
    const { number } = await send('Orla Fenwick');
    const ask = {
      kind: 'ask-person',
      numbers: [number],
      subject: 'Why?',
      text: 'What was it for?',
      hours: 24,
    };
    expect((await client.send<ResponseResult[]>('POST', '/responses', ask)).body[0]?.state).toBe('sent');
    expect((await client.send<ResponseResult[]>('POST', '/responses', ask)).body[0]?.reason).toBe(
      'already-asked',
    );
    expect((await client.get<IncidentDetail>(`/incidents/${number}`)).body.status).toBe('waiting');
    const { id } = await running.person('Orla Fenwick');
    const [mail] = await mailsOf('Orla Fenwick');
    const read = await client.get<{ body: string }>(`/stand-ins/mail/${id}/messages/${mail?.id}`);
    const token = /question\/([\w-]+)/.exec(JSON.stringify(read.body))?.[1] ?? '';
    const link = `${running.address}/api/questions/${token}`;
    expect(await (await fetch(link)).json()).toMatchObject({
      state: 'open',
      text: 'What was it for?',
      by: 'analyst',
    });
    const answer = (text: string) =>
      fetch(link, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ text }),
      });
    expect((await answer('The agency asked <b>twice</b>')).status).toBe(204);
    expect((await answer('again')).status).toBe(410);
    expect((await fetch(`${running.address}/api/questions/${'x'.repeat(32)}`)).status).toBe(410);
    const after = (await client.get<IncidentDetail>(`/incidents/${number}`)).body;
    expect(after.status).toBe('taken');
    expect(after.history.at(-1)).toMatchObject({
      kind: 'question',
      by: 'Orla Fenwick',
      text: 'Replied: The agency asked <b>twice</b>',
    });
  });

  it('who do not answer until the deadline give the incident back', async () => {
    const { number } = await send('Orla Fenwick');
    await client.send('POST', '/responses', {
      kind: 'ask-person',
      numbers: [number],
      subject: 'Why?',
      text: 'For what?',
      hours: 1,
    });
    const questions = running.application.get(Questions);
    expect(await questions.sweep(new Date())).toBe(0);
    expect(await questions.sweep(new Date(Date.now() + 3_700_000))).toBe(1);
    const { status, history } = (await client.get<IncidentDetail>(`/incidents/${number}`)).body;
    expect([status, history.at(-1)?.text]).toEqual(['taken', 'No reply until the deadline']);
    expect(await running.database.getRepository(QuestionEntity).countBy({ state: 'open' })).toBe(0);
  });
});

it('withdraws nothing where a channel has nothing to withdraw, and says so', async () => {
  const { number } = await send('Orla Fenwick');
  const sent = await client.send<ResponseResult[]>('POST', '/responses', {
    kind: 'take-back',
    numbers: [number],
  });
  expect(sent.body).toEqual([{ number, state: 'refused', reason: 'nothing-to-take-back' }]);
});

describe('web hooks', () => {
  let hook: HookView;
  const deliveries = async () => (await client.get<DeliveryView[]>(`/hooks/${hook.id}/deliveries`)).body;

  beforeAll(async () => {
    const { port } = ticketSystem.address() as AddressInfo;
    const request = { name: 'Tickets', url: `http://127.0.0.1:${port}/in` };
    hook = (await client.send<HookView>('POST', '/hooks', request)).body;
  });

  it('get signed events that other libraries read and check', async () => {
    const { number } = await send('Orla Fenwick');
    await client.send('POST', '/responses', { kind: 'ticket', numbers: [number], hook: hook.id });
    await running.application.get(Hooks).sweep(new Date());
    const { body, headers } = got.at(-1) ?? { body: '', headers: {} };
    // The reference library of the Standard Webhooks specification, and the SDK of CloudEvents.
    const checked = new Webhook(hook.secret ?? '').verify(body, headers as Record<string, string>);
    expect(checked).toMatchObject({ data: { number } });
    expect(() =>
      new Webhook(hook.secret ?? '').verify(`${body} `, headers as Record<string, string>),
    ).toThrow();
    const event = HTTP.toEvent({ headers, body });
    expect(event).toMatchObject({
      specversion: '1.0',
      type: 'incident.ticket',
      subject: `incident/${number}`,
    });
    expect(body).not.toMatch(/\d{4} \d{4} \d{4}/);
    expect((await deliveries())[0]).toMatchObject({ state: 'delivered', attempts: 1, answer: '200' });
  });

  it('are tried again with growing pauses, given up after a day, and sent again by hand', async () => {
    answersWith = 500;
    const { number } = await send('Orla Fenwick');
    const hooks = running.application.get(Hooks);
    await client.send('POST', '/responses', { kind: 'ticket', numbers: [number], hook: hook.id });
    await hooks.sweep(new Date());
    let at = Date.now() + 1_000;
    for (const pause of PAUSES) {
      expect((await deliveries())[0]?.state).toBe('waiting');
      at += pause * 1_000;
      await hooks.sweep(new Date(at));
    }
    expect((await deliveries())[0]).toMatchObject({
      state: 'failed',
      attempts: PAUSES.length + 1,
      answer: '500',
    });
    answersWith = 200;
    await client.send('POST', `/hook-deliveries/${(await deliveries())[0]?.id}/send-again`);
    await hooks.sweep(new Date(Date.now() + 1_000));
    expect((await deliveries())[0]?.state).toBe('delivered');
  });

  it('do not follow redirects', async () => {
    answersWith = 302;
    const { port } = ticketSystem.address() as AddressInfo;
    const call = await callHook(`http://127.0.0.1:${port}/`, { headers: {}, body: '{}', privateToo: true });
    expect(call).toEqual({ kind: 'answered', status: 302 });
    answersWith = 200;
  });

  it('reach no address of this machine or of a private network, by number or by name', async () => {
    const { port } = ticketSystem.address() as AddressInfo;
    for (const host of [
      '127.0.0.1',
      'localhost',
      '[::1]',
      '[::ffff:127.0.0.1]',
      '10.1.2.3',
      '169.254.169.254',
    ])
      expect(
        await callHook(`http://${host}:${port}/`, { headers: {}, body: '{}', privateToo: false }),
      ).toEqual({
        kind: 'failed',
        why: 'own-address',
      });
    // RFC 5737: documentation addresses stand for outside ones.
    expect([isOwnAddress('203.0.113.9'), isOwnAddress('2001:db8::1'), isOwnAddress('fd00::1')]).toEqual([
      false,
      false,
      true,
    ]);
  });

  it('that hang are let go', async () => {
    const silent = createServer(() => undefined);
    await new Promise<void>((resolve) => silent.listen(0, '127.0.0.1', resolve));
    const { port } = silent.address() as AddressInfo;
    const call = { headers: {}, body: '{}', privateToo: true, within: 200 };
    expect(await callHook(`http://127.0.0.1:${port}/`, call)).toEqual({ kind: 'failed', why: 'timed-out' });
    silent.close();
    silent.closeAllConnections();
  });
});
