/** Reports: kept and sent over SMTP with what differs, made up for when missed, and safe for whoever opens them. */
import { randomUUID } from 'node:crypto';
import { once } from 'node:events';
import type { AddressInfo } from 'node:net';
import type { ErrorBody, SendMailResult } from '@lantern/contracts';
import type { ReportRunDetail, ReportSummary } from '@lantern/contracts/insight';
import PostalMime from 'postal-mime';
import { SMTPServer } from 'smtp-server';
import { AccountEntity } from '../src/accounts/account.entity.js';
import { MailRoutes } from '../src/doors/outgoing/mail-routes.js';
import { OutgoingService } from '../src/doors/outgoing/outgoing.service.js';
import { ReportRunner } from '../src/insight/reports/report-runner.service.js';
import { ReportEntity } from '../src/insight/reports/report.entity.js';
import { CARDS, type Client, mailForm, OUTSIDE, publish, ruleOf, type Running, start } from './harness.js';

const DAY = 86_400_000;
let running: Running;
let client: Client;
let server: SMTPServer;
const taken: Buffer[] = [];
let refusing = false;

beforeAll(async () => {
  running = await start();
  client = await running.client();
  await publish(client, '=Cards', [ruleOf({ name: '<b>Cards</b>' })]);
  await send('Orla Fenwick');
  server = new SMTPServer({
    authOptional: true,
    disabledCommands: ['AUTH', 'STARTTLS'],
    onRcptTo: (_address, _session, done) =>
      done(refusing ? Object.assign(new Error('no such mailbox'), { responseCode: 550 }) : null),
    onData: (stream, _session, done) => {
      const parts: Buffer[] = [];
      stream.on('data', (part: Buffer) => parts.push(part));
      stream.on('end', () => {
        taken.push(Buffer.concat(parts));
        done();
      });
    },
  });
  server.listen(0, '127.0.0.1');
  await once(server.server, 'listening');
  const { port } = server.server.address() as AddressInfo;
  running.application.get(MailRoutes).standInBy(() => ({ host: '127.0.0.1', port }));
});
afterAll(async () => {
  await new Promise<void>((resolve) => server.close(resolve));
  await running.stop();
});

async function send(name: string): Promise<void> {
  const { id } = await running.person(name);
  const form = mailForm({ person: id, to: [OUTSIDE], subject: 'Refunds', body: CARDS });
  expect((await client.send<SendMailResult>('POST', '/stand-ins/mail/messages', form)).status).toBeLessThan(
    300,
  );
}

const request = (over: object = {}) => ({
  ...{
    name: 'Monday: what people tripped',
    view: 'most',
    days: 7,
    listed: 'incidents',
    by: null,
    filter: '',
  },
  schedule: { rule: 'FREQ=WEEKLY;BYDAY=MO', time: '08:00', zone: 'Europe/Berlin' },
  ...{ to: ['desk@merrowstrait.example'], active: true },
  ...over,
});
const create = async (over: object = {}): Promise<ReportSummary> => {
  const answer = await client.send<ReportSummary[]>('POST', '/insight/reports', request(over));
  expect([answer.status, answer.body]).toEqual([201, expect.any(Array)]);
  return answer.body.find(({ name }) => name === request(over).name)!;
};
const delivered = () => running.application.get(OutgoingService).deliverDue();
const due = (id: string, at: Date) =>
  running.database.getRepository(ReportEntity).update({ id }, { nextAt: at });
const runner = () => running.application.get(ReportRunner);
const find = async (id: string): Promise<ReportSummary> =>
  (await client.get<ReportSummary[]>('/insight/reports')).body.find((report) => report.id === id)!;

it('sends a report with its differences first, as text, page and table', async () => {
  const report = await create();
  expect(report).toMatchObject({ owner: 'analyst', resting: false, runs: [], next: expect.any(String) });
  const first = await client.send<ReportRunDetail>('POST', `/insight/reports/${report.id}/runs`);
  expect(first.body.lines.every(({ change }) => change === 'same')).toBe(true);
  await send('Bea Lindqvist');
  const second = await client.send<ReportRunDetail>('POST', `/insight/reports/${report.id}/runs`);
  expect(second.body.lines[0]).toMatchObject({
    change: 'new',
    name: 'Person: bea.lindqvist@merrowstrait.example',
    value: 1,
  });
  expect(second.body.counts.changed).toBeGreaterThan(0);
  await delivered();
  const mail = await PostalMime.parse(taken.at(-1)!);
  expect(mail.subject).toBe('Monday: what people tripped');
  expect(mail.text).toContain('New: Person: bea.lindqvist@merrowstrait.example: 1');
  expect(mail.text).toContain('/incidents?filter=');
  expect(mail.headers.find(({ key }) => key === 'auto-submitted')?.value).toBe('auto-generated');
  expect(mail.html).toContain('<h2>New</h2>');
  expect(mail.attachments.map(({ mimeType }) => mimeType)).toEqual(['text/csv']);
  const { runs } = await find(report.id);
  expect(runs[0]?.deliveries).toEqual([
    { address: 'desk@merrowstrait.example', state: 'delivered', reason: '' },
  ]);
});

it('is safe to open: no markup of a name, no formula', async () => {
  const report = await create({ name: 'Rules', view: 'rules' });
  const { body } = await client.send<ReportRunDetail>('POST', `/insight/reports/${report.id}/runs`);
  const text = async (what: string): Promise<string> =>
    (
      await fetch(`${running.address}/api/insight/reports/runs/${body.id}/${what}`, {
        headers: { cookie: client.cookie },
      })
    ).text();
  const page = await text('page');
  expect(page).toContain('&lt;b&gt;Cards&lt;/b&gt;');
  expect(page).not.toContain('<b>Cards');
  expect(await text('table')).toContain("'=Cards");
});

it('makes up for what it missed, and says so; a run is never written twice', async () => {
  const report = await create({
    name: 'Daily',
    view: 'incidents',
    schedule: { rule: 'FREQ=DAILY', time: '08:00', zone: 'UTC' },
  });
  const now = new Date();
  const eight = new Date(Math.floor((now.getTime() - 3 * DAY) / DAY) * DAY + 8 * 3_600_000);
  await due(report.id, eight);
  await Promise.all([runner().sweep(now), runner().sweep(now)]);
  const { runs, next } = await find(report.id);
  expect(runs).toHaveLength(1);
  expect(runs[0]?.missed).toBeGreaterThanOrEqual(2);
  expect(Date.parse(next ?? '')).toBeGreaterThan(now.getTime());
  await delivered();
  const mail = await PostalMime.parse(taken.at(-1)!);
  expect(mail.text).toContain('missed, because the server was not running');
});

it('says what a mail server refused', async () => {
  refusing = true;
  const report = await create({ name: 'Refused' });
  await client.send('POST', `/insight/reports/${report.id}/runs`);
  await delivered();
  refusing = false;
  const { runs } = await find(report.id);
  expect(runs[0]?.deliveries[0]).toMatchObject({ state: 'stuck', reason: expect.stringContaining('550') });
});

it('rests when its owner has left, until somebody takes it over', async () => {
  const report = await create({ name: 'Of somebody who left' });
  const owner = randomUUID();
  await running.database.manager.insert(AccountEntity, {
    ...{ id: owner, name: 'beside', email: 'beside@merrowstrait.example', passwordHash: '' },
    ...{ permissions: [], roles: [], seesSilent: false },
  });
  await running.database.getRepository(ReportEntity).update({ id: report.id }, { owner });
  await due(report.id, new Date(Date.now() - 1_000));
  await running.database.getRepository(AccountEntity).update({ id: owner }, { disabledAt: new Date() });
  await runner().sweep(new Date());
  expect(await find(report.id)).toMatchObject({ resting: true, runs: [] });
  await client.send('PUT', `/insight/reports/${report.id}`, {
    ...request({ name: 'Of somebody who left' }),
    version: report.version,
  });
  expect(await find(report.id)).toMatchObject({ resting: false, owner: 'analyst' });
});

it.each([
  ['an address outside', { to: ['somebody@islandholidays.example'] }, 'Outside'],
  [
    'a rule that never comes',
    { schedule: { rule: 'FREQ=MONTHLY;BYMONTH=2;BYMONTHDAY=30', time: '08:00', zone: 'UTC' } },
    'never comes',
  ],
  [
    'a rule that comes every second',
    { schedule: { rule: 'FREQ=SECONDLY', time: '08:00', zone: 'UTC' } },
    'FREQ',
  ],
  ['a time that is none', { schedule: { rule: 'FREQ=DAILY', time: '25:00', zone: 'UTC' } }, 'time'],
  ['a wrong filter', { filter: 'colour eq "red"' }, 'colour'],
])('refuses %s, and says why', async (_what, over, said) => {
  const { status, body } = await client.send<ErrorBody>('POST', '/insight/reports', request(over));
  expect(status).toBe(400);
  expect(JSON.stringify(body)).toContain(said);
});

it('is not overwritten by two at once, and goes when it is deleted', async () => {
  const report = await create({ name: 'Two' });
  const save = () =>
    client.send('PUT', `/insight/reports/${report.id}`, {
      ...request({ name: 'Two' }),
      version: report.version,
    });
  expect([(await save()).status, (await save()).status]).toEqual([200, 409]);
  await client.send('DELETE', `/insight/reports/${report.id}`);
  expect(await find(report.id)).toBeUndefined();
});
