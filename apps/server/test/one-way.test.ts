/** Every way in goes the one way: judged, recorded and refused alike, however many come at once. */
import { randomUUID } from 'node:crypto';
import type {
  DocumentDetail,
  IncidentDetail,
  IncidentPage,
  MailDetail,
  MailSummary,
  NewAgent,
  PolicyView,
  SendMailResult,
} from '@lantern/contracts';
import { HOSTILE_FILES } from '@lantern/testkit';
import { createTransport } from 'nodemailer';
import { GatewayServer } from '../src/doors/smtp/gateway.server.js';
import { MANY_UNMASKINGS } from '../src/incidents/unmaskings.service.js';
import { MovementEntity } from '../src/incidents/incident.entity.js';
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
} from './harness.js';

const ORLA = 'orla.fenwick@merrowstrait.example';
const CHANNELS = ['mail', 'chat', 'drive'];
let running: Running;
let client: Client;
let auditor: Client;
let orla: string;

beforeAll(async () => {
  running = await start();
  client = await running.client();
  auditor = await running.client('auditor@merrowstrait.example');
  orla = (await running.person('Orla Fenwick')).id;
  const advice = { kind: 'file', kinds: [], names: ['advise*'], atLeastKilobytes: null, misnamed: false };
  await publish(client, 'Cards', [ruleOf(), ruleOf({ answer: 'advise', when: advice })], {
    channels: CHANNELS,
  });
});
afterAll(() => running.stop());

const movements = () => running.database.getRepository(MovementEntity).count();
const mail = (body: string) =>
  client.send<SendMailResult>(
    'POST',
    '/stand-ins/mail/messages',
    mailForm({ person: orla, to: [OUTSIDE], body }),
  );
const smtp = (
  to: string,
  file: { filename: string; content: Buffer | string } | null = null,
  over: object = {},
) =>
  createTransport({
    host: '127.0.0.1',
    port: running.application.get(GatewayServer).door.port,
    tls: { rejectUnauthorized: false },
  }).sendMail({
    from: ORLA,
    to,
    subject: 'Berth',
    text: 'Good morning',
    messageId: `<${randomUUID()}@test.example>`,
    attachments: file ? [file] : [],
    ...over,
  });
const newest = async () => {
  const { body } = await client.get<IncidentPage>('/incidents?order=-time');
  return (await client.get<IncidentDetail>(`/incidents/${body.rows[0]?.number ?? 0}`)).body;
};

describe('many at once', () => {
  it('each get their answer, and each is kept once: forty mails of two doors', async () => {
    const before = await movements();
    const answers = await Promise.all(
      Array.from({ length: 20 }, async (_unused, index) => [
        (await mail(`Berth ${index}`)).body.status,
        (await smtp(OUTSIDE)).response.slice(0, 3),
      ]),
    );
    expect(new Set(answers.flat())).toEqual(new Set(['sent', '250']));
    expect((await movements()) - before).toBe(40);
    expect((await fetch(`${running.address}/api/health`)).status).toBe(200);
  });

  it.each(['columns-1e9.html', 'square.html', 'rows.ods', 'deep.eml'])(
    'an attachment made to hurt (%s) is answered, and so is the next mail',
    async (name) => {
      const content = HOSTILE_FILES[name]?.() ?? '';
      expect((await smtp(OUTSIDE, { filename: name, content })).response).toMatch(/^250/);
      expect((await mail('Good morning')).body.status).toBe('sent');
    },
  );
});

describe('a document that is opened for somebody outside', () => {
  it('is judged and recorded like anything else that moves', async () => {
    const before = await movements();
    const { body } = await client.send<DocumentDetail>('POST', '/stand-ins/documents', {
      ...{ person: orla, name: 'Cards.docx', paragraphs: [CARDS], label: null, sharedWith: [OUTSIDE] },
    });
    expect(body.shares).toMatchObject([{ address: OUTSIDE, state: 'refused' }]);
    expect((await movements()) - before).toBe(1);
    expect(await newest()).toMatchObject({ answer: 'block', channel: 'drive' });
  });
});

describe('mail of the house', () => {
  it('to an address inside that nobody has is refused for good (RFC 5321, 4.2.3: 550)', async () => {
    const failure = await smtp('nobody.at.all@merrowstrait.example').catch((error: unknown) => error);
    expect(failure).toMatchObject({ responseCode: 550 });
  });

  it('is not relayed from outside to outside', async () => {
    const failure = await smtp(OUTSIDE, null, { from: 'x@elsewhere.example' }).catch(
      (error: unknown) => error,
    );
    expect(failure).toMatchObject({ responseCode: 550 });
  });

  it('is taken from an agent for its own people alone', async () => {
    const people = { with: [{ kind: 'person', address: ORLA }], without: [] };
    const { key } = (await client.send<NewAgent>('POST', '/agents', { name: 'Desk of Orla', people })).body;
    const send = (from: string) =>
      createTransport({
        host: '127.0.0.1',
        port: running.application.get(GatewayServer).door.port,
        tls: { rejectUnauthorized: false },
        auth: { user: 'desk', pass: key },
      }).sendMail({ from, to: OUTSIDE, subject: 'Berth', text: 'Good morning' });
    expect((await send(ORLA)).response).toMatch(/^250/);
    const other = await send('bea.lindqvist@merrowstrait.example').catch((error: unknown) => error);
    expect(other).toMatchObject({ responseCode: 550 });
  });

  it('that an advice is about goes on, and the advice reaches its sender', async () => {
    expect((await smtp(OUTSIDE, { filename: 'advise.txt', content: 'a list' })).response).toMatch(/^250/);
    const box = await client.get<MailSummary[]>(`/stand-ins/mail/${orla}/messages`);
    const advice = box.body.find(({ folder }) => folder === 'inbox');
    const read = await client.get<MailDetail>(`/stand-ins/mail/${orla}/messages/${advice?.id ?? ''}`);
    expect(read.body.body).toContain('Use the portal.');
  });
});

describe('publishing', () => {
  it('takes what was looked at, and nothing that was drafted since', async () => {
    const draft = await client.get<{ fingerprint: string }>('/revisions/draft');
    const { body } = await client.send<PolicyView>('POST', '/policies', policyOf('Later', [ruleOf()]));
    const request = { name: 'r', reason: 'test' };
    const stale = await client.send<{ code: string }>('POST', '/revisions', {
      ...request,
      fingerprint: draft.body.fingerprint,
    });
    expect(stale.status).toBe(409);
    const { fingerprint } = (await client.get<{ fingerprint: string }>('/revisions/draft')).body;
    expect((await client.send('POST', '/revisions', { ...request, fingerprint })).status).toBe(201);
    await client.send('DELETE', `/policies/${body.policy.id}`);
  });
});

describe('what some may not see', () => {
  it('can be deleted by nobody who may not see it', async () => {
    const silence = { until: '2099-01-01', why: 'Case 12' };
    const { policy } = (
      await client.send<PolicyView>('POST', '/policies', policyOf('Half', [ruleOf({ silence }), ruleOf()]))
    ).body;
    await running.database.query(
      `UPDATE account SET permissions = JSON_ARRAY_APPEND(permissions, '$', 'policies.write') WHERE email = 'auditor@merrowstrait.example'`,
    );
    const refused = await auditor.send<{ code: string }>('DELETE', `/policies/${policy.id}`);
    expect(refused.status).toBeGreaterThanOrEqual(400);
    expect((await client.get(`/policies/${policy.id}`)).status).toBe(200);
    expect((await client.send('DELETE', `/policies/${policy.id}`)).status).toBeLessThan(300);
  });

  it('is unmasked for a reason that says something', async () => {
    await mail(CARDS);
    const { number } = await newest();
    const asked = (reason: string) =>
      client.send<{ code: string }>('POST', `/incidents/${number}/unmaskings`, { reason });
    for (const reason of ['', '   ', '........', 'aaaaaaaaaaaa'])
      expect([reason, (await asked(reason)).status >= 400]).toEqual([reason, true]);
  });

  it('alerts the others who may unmask when one account does it often, and once for each ten', async () => {
    const { number } = await newest();
    const unmask = () =>
      client.send('POST', `/incidents/${number}/unmaskings`, { reason: 'the customer asks about it' });
    const alerts = () =>
      running.database.query<{ address: string }[]>(
        `SELECT r.address FROM outgoing_recipient r WHERE r.address LIKE '%@merrowstrait.example'`,
      );
    for (let time = 1; time < MANY_UNMASKINGS; time += 1) await unmask();
    expect(await alerts()).toEqual([]);
    await Promise.all([unmask(), unmask(), unmask()]);
    // The account that did it is not told, nor is one that may not unmask.
    expect(await alerts()).toEqual([{ address: 'second@merrowstrait.example' }]);
  });
});
