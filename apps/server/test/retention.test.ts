/** What is kept long enough goes with everything that belongs to it, and what is under a legal hold stays. */
import type {
  ErrorBody,
  IncidentDetail,
  IncidentPage,
  MailSummary,
  SendMailResult,
  TrailPage,
} from '@lantern/contracts';
import type { HoldView, KeptTrial, KeptView, PersonData } from '@lantern/contracts/retention';
import { IsNull } from 'typeorm';
import { EvidenceEntity, IncidentEntity, MovementEntity } from '../src/incidents/incident.entity.js';
import { MailMessageEntity } from '../src/stand-ins/mail/mail.entity.js';
import { JournalEntity } from '../src/journal/journal.entity.js';
import { JournalService } from '../src/journal/journal.service.js';
import { Retention } from '../src/retention/retention.service.js';
import { CARDS, type Client, mailForm, OUTSIDE, publish, ruleOf, type Running, start } from './harness.js';

const DAY_MS = 86_400_000;
const ORLA = 'orla.fenwick@merrowstrait.example';
const BEA = 'bea.lindqvist@merrowstrait.example';
let running: Running;
let client: Client;

const send = async (person: string, body: string): Promise<SendMailResult> => {
  const { id } = await running.person(person);
  const form = mailForm({ person: id, to: [OUTSIDE], subject: 'Booking', body });
  return (await client.send<SendMailResult>('POST', '/stand-ins/mail/messages', form)).body;
};
const incidents = async () => (await client.get<IncidentPage>('/incidents?order=number&filter=')).body.rows;
const decide = async (number: number, version: number) =>
  client.send('POST', `/incidents/${number}/acts`, { act: 'answer-looked-for', yes: false, version });
const inDays = (days: number) => new Date(Date.now() + days * DAY_MS);
const sweep = (now: Date) => running.application.get(Retention).sweep(now);
const set = (kind: string, days: number | null) =>
  client.send<KeptView[]>('PUT', `/retention/kinds/${kind}`, { days });
const count = (entity: new () => object, where: object = {}) =>
  running.database.getRepository(entity).countBy(where);

/** Every column that names a movement or an incident, with the rows of it that name none that there is. */
async function orphans(): Promise<string[]> {
  // The note that a movement is gone is what counts follow; it holds an id for two hours and nothing else.
  const columns: { t: string; c: string }[] = await running.database.query(
    `SELECT TABLE_NAME AS t, COLUMN_NAME AS c FROM information_schema.COLUMNS
     WHERE TABLE_SCHEMA = DATABASE() AND COLUMN_NAME IN ('movementId', 'incidentNumber', 'incident')
       AND TABLE_NAME NOT IN ('movement', 'submission', 'counted_change')`,
  );
  expect(columns.length).toBeGreaterThan(12);
  const found = await Promise.all(
    columns.map(async ({ t, c }) => {
      const [to, key] = c === 'movementId' ? ['movement', 'id'] : ['incident', 'number'];
      const [row]: { n: string }[] = await running.database.query(
        `SELECT COUNT(*) AS n FROM \`${t}\` x WHERE x.\`${c}\` IS NOT NULL
           AND NOT EXISTS (SELECT 1 FROM ${to} y WHERE y.${key} = x.\`${c}\`)`,
      );
      return Number(row?.n) > 0 ? [`${t}.${c}`] : [];
    }),
  );
  return found.flat();
}

beforeAll(async () => {
  running = await start();
  client = await running.client();
  await publish(client, 'Cards', [ruleOf({ answer: 'note' })]);
  for (const person of ['Orla Fenwick', 'Bea Lindqvist'])
    for (let at = 0; at < 3; at += 1) {
      await send(person, `${CARDS}, booking ${at} of ${person}`);
      await send(person, `The berth is free, ${at}.`);
    }
  // One of each person stays open.
  for (const { number, version } of (await incidents()).filter((_row, at) => at !== 0 && at !== 3))
    await decide(number, version);
});
afterAll(() => running.stop());

it('says what there is, and what fewer days would delete', async () => {
  const { body } = await client.get<KeptView[]>('/retention/kinds');
  expect(body.map(({ kind, count: there }) => [kind, there])).toEqual([
    ['movements', 6],
    ['evidence', 4],
    ['pictures', 0],
    ['incidents', 4],
    ['post', expect.any(Number)],
    ['replays', 0],
    ['reports', 0],
    ['trail', expect.any(Number)],
  ]);
  const { body: trial } = await client.send<KeptTrial>('POST', '/retention/kinds/evidence/trials', {
    days: 1,
  });
  expect(trial).toEqual({ deletes: 0, held: 0 });
  const wrong = await client.send<ErrorBody>('PUT', '/retention/kinds/evidence', { days: 0 });
  expect(wrong.body.code).toBe('invalid-request');
  expect((await set('nothing', 4)).status).toBe(400);
  // Nobody may shorten the trail until what they did is gone.
  expect((await set('trail', 364)).status).toBe(400);
  expect((await set('trail', 365)).status).toBe(200);
  await set('trail', null);
});

it('deletes nothing before anybody chose how long things are kept', async () => {
  const { body } = await client.get<KeptView[]>('/retention/kinds');
  expect(body.map(({ days }) => days)).toEqual(Array.from({ length: 8 }, () => null));
  await sweep(inDays(5_000));
  expect(await count(MovementEntity)).toBe(12);
});

it('puts on a legal hold once, on what there is', async () => {
  const request = {
    kind: 'person',
    subject: 'Orla.Fenwick@merrowstrait.example',
    reason: 'Claim 4100 before court',
  };
  const { body: hold } = await client.send<HoldView>('POST', '/retention/holds', request);
  expect(hold).toMatchObject({ subject: ORLA, movements: 6, endedAt: null });
  expect((await client.send<ErrorBody>('POST', '/retention/holds', request)).body.code).toBe('name-taken');
  const nobody = { kind: 'incident', subject: '999999', reason: 'There is no such incident' };
  expect((await client.send('POST', '/retention/holds', nobody)).status).toBe(404);
});

it('deletes evidence that is old enough, with its content in the journal, and not what is held', async () => {
  const last = (await incidents()).find(
    ({ person, status }) => person.address === BEA && status === 'decided',
  );
  await set('evidence', 30);
  await sweep(inDays(31));
  // Three are under the legal hold, and one is not decided.
  expect(await count(EvidenceEntity)).toBe(4);
  expect(await count(IncidentEntity)).toBe(6);
  const { body } = await client.get<IncidentDetail>(`/incidents/${last?.number ?? 0}`);
  expect(body).toMatchObject({ person: { address: BEA }, evidenceDeleted: true, parts: [] });
  expect(await orphans()).toEqual([]);
});

it('keeps what is held in the journal, however old it is', async () => {
  const before = await count(JournalEntity);
  await running.database.query('UPDATE journal SET at = ?', [inDays(-500)]);
  await running.application.get(JournalService).set('mail', { keeps: 'content', days: 1 });
  expect(await count(JournalEntity)).toBeLessThan(before);
  expect(await count(JournalEntity)).toBe(6);
});

it('deletes quiet movements and decided incidents whole, and leaves nothing behind that names them', async () => {
  await set('movements', 30);
  await set('incidents', 40);
  await sweep(inDays(35));
  // Three of Bea without a match are gone.
  expect(await count(MovementEntity)).toBe(9);
  await sweep(inDays(41));
  expect(await count(MovementEntity, { personAddress: BEA })).toBe(1);
  expect(await count(IncidentEntity, { personAddress: BEA, status: 'decided' })).toBe(0);
  expect(await count(MovementEntity, { personAddress: ORLA })).toBe(6);
  expect(await orphans()).toEqual([]);
  // The mailbox of the person still opens.
  const { id } = await running.person('Bea Lindqvist');
  expect((await client.get<MailSummary[]>(`/stand-ins/mail/${id}/messages`)).status).toBe(200);
  const { body: trail } = await client.get<TrailPage>('/trail?action=deleted-by-age');
  expect(trail.entries.map(({ target, facts }) => [target, facts?.['deleted']])).toEqual([
    ['incidents', '2'],
    ['movements', '3'],
    ['evidence', '2'],
  ]);
});

it('deletes nothing of a person under a legal hold, and what can go once it ended', async () => {
  const look = (await client.get<PersonData>(`/retention/people?address=${ORLA}`)).body;
  expect(look.held).toBe(true);
  expect(look.parts.every(({ stays }) => stays === 'held')).toBe(true);
  const request = { address: ORLA, reason: 'Asked for by mail of 1 November' };
  const refused = await client.send<ErrorBody>('POST', '/retention/people/deletion', request);
  expect(refused.body.code).toBe('act-refused');
  expect(await count(MovementEntity, { personAddress: ORLA })).toBe(6);

  const [hold] = (await client.get<HoldView[]>('/retention/holds')).body;
  const ended = await client.send<HoldView>('POST', `/retention/holds/${hold?.id ?? ''}/end`, {
    reason: 'The court has decided',
  });
  expect(ended.body.endedBy).toBe(client.session.account.email);
  const { body: after } = await client.send<PersonData>('POST', '/retention/people/deletion', request);
  const left = Object.fromEntries(after.parts.map(({ what, count: there }) => [what, there]));
  expect(left).toMatchObject({ directory: 1, 'open-incidents': 1 });
  expect(left['movements']).toBeUndefined();
  expect(left['mail']).toBeUndefined();
  expect(await count(IncidentEntity, { personAddress: ORLA })).toBe(1);
  expect(await orphans()).toEqual([]);
  const { body: trail } = await client.get<TrailPage>('/trail?action=person-data-deleted');
  expect(trail.entries[0]).toMatchObject({ target: ORLA, facts: { reason: request.reason } });
});

it('keeps an incident on hold by its number, and one that is open', async () => {
  await send('Bea Lindqvist', `${CARDS}, once more`);
  const rows = (await incidents()).filter(({ person }) => person.address === BEA);
  const [first, last] = [rows[0], rows.at(-1)];
  await decide(last?.number ?? 0, last?.version ?? 0);
  const held = { kind: 'incident', subject: String(last?.number ?? 0), reason: 'Needed for the audit' };
  await client.send('POST', '/retention/holds', held);
  // A hold on an incident is none on movements without one.
  await send('Bea Lindqvist', 'The berth is free, once more.');
  const quiet = { personAddress: BEA, incidentNumber: IsNull() };
  expect(await count(MovementEntity, quiet)).toBe(1);
  await sweep(inDays(100));
  expect(await count(MovementEntity, quiet)).toBe(0);
  expect((await client.get(`/incidents/${last?.number ?? 0}`)).status).toBe(200);
  expect((await client.get(`/incidents/${first?.number ?? 0}`)).status).toBe(200);
});

it('deletes mail and posts of the stand-ins, also of people who left, unless they are under a legal hold', async () => {
  const { id } = await running.person('Bea Lindqvist');
  await send('Tomas Reave', 'The berth is free, says Tomas.');
  const { id: tomas } = await running.person('Tomas Reave');
  const mailOf = async (ownerId: string) => count(MailMessageEntity, { ownerId });
  expect(await mailOf(tomas)).toBeGreaterThan(0);
  const address = 'tomas.reave@merrowstrait.example';
  const held = { kind: 'person', subject: address, reason: 'He leaves, and a claim is open' };
  await client.send('POST', '/retention/holds', held);
  expect((await client.send('DELETE', `/directory/people/${tomas}`)).status).toBe(204);
  await set('post', 10);
  await sweep(inDays(11));
  expect(await mailOf(tomas)).toBeGreaterThan(0);
  const { body: data } = await client.get<PersonData>(`/retention/people?address=${address}`);
  expect(data).toMatchObject({ name: 'Tomas Reave', held: true });
  expect(data.parts.map(({ what }) => what)).toContain('mail');
  const hold = (await client.get<HoldView[]>('/retention/holds')).body.find(
    ({ subject }) => subject === address,
  );
  await client.send('POST', `/retention/holds/${hold?.id ?? ''}/end`, { reason: 'The claim was withdrawn' });
  await sweep(inDays(11));
  expect(await mailOf(tomas)).toBe(0);
  const { body } = await client.get<MailSummary[]>(`/stand-ins/mail/${id}/messages`);
  expect(body).toEqual([]);
  const [row]: { n: string }[] = await running.database.query('SELECT COUNT(*) AS n FROM mail_file');
  expect(Number(row?.n)).toBe(0);
});
