/** A day's work at the desk: decisions in bulk and their undo, look-alikes, cases, time lines, views, exports. */
import { PERMISSIONS } from '@lantern/contracts';
import type {
  AlikeView,
  AroundView,
  BulkView,
  CaseView,
  DeskSettingView,
  DeskViewView,
  ErrorBody,
  IncidentDetail,
  IncidentPage,
  RemarksView,
  SendMailResult,
  TrailPage,
} from '@lantern/contracts';
import { cardNumber, chance, grouped } from '@lantern/testkit';
import { strFromU8, unzipSync } from 'fflate';
import { randomUUID } from 'node:crypto';
import { AccountEntity } from '../src/accounts/account.entity.js';
import { hashPassword } from '../src/accounts/password.js';
import { IncidentEntity } from '../src/incidents/incident.entity.js';
import { PromisesService } from '../src/incidents/promises.service.js';
import { BulkDecisions } from '../src/incidents/bulk/bulk.service.js';
import { type Client, mailForm, OUTSIDE, PASSWORD, publish, ruleOf, type Running, start } from './harness.js';

let running: Running;
let client: Client;
const random = chance(5);
const cards = (count: number) => Array.from({ length: count }, () => grouped(cardNumber(random)));
const FORM = (booking: number, card: string) =>
  `Good morning, the passenger of booking ${booking} asks for a refund to the card ${card}, which expired last week. Can you look into it before the ferry leaves at noon?`;

beforeAll(async () => {
  running = await start();
  client = await running.client();
  const one = { kind: 'findings', pattern: 'payment-card', atLeast: 1, distinct: true, certainty: 60 };
  await publish(client, 'Cards outside', [ruleOf({ when: one })]);
  for (const email of ['beside@merrowstrait.example', 'bea.lindqvist@merrowstrait.example'])
    await running.database.manager.insert(AccountEntity, {
      id: randomUUID(),
      ...{ name: email.split('@')[0] ?? '', email, passwordHash: await hashPassword(PASSWORD) },
      ...{ permissions: [...PERMISSIONS], roles: [], seesSilent: true },
    });
});
afterAll(() => running.stop());

async function send(name: string, body: string, to = OUTSIDE, subject = 'A refund'): Promise<number> {
  const { id } = await running.person(name);
  const form = mailForm({ person: id, to: [to], subject, body });
  expect((await client.send<SendMailResult>('POST', '/stand-ins/mail/messages', form)).status).toBeLessThan(
    300,
  );
  const { rows } = (await client.get<IncidentPage>('/incidents?order=-number&limit=1')).body;
  return rows[0]?.number ?? 0;
}
const get = async (number: number) => (await client.get<IncidentDetail>(`/incidents/${number}`)).body;

describe('look-alikes', () => {
  it('are the same form in other hands, and are decided and undone together', async () => {
    const numbers: number[] = [];
    for (const [at, name] of ['Orla Fenwick', 'Bea Lindqvist', 'Orla Fenwick', 'Bea Lindqvist'].entries())
      numbers.push(await send(name, FORM(40_000 + at, cards(1)[0] ?? '')));
    const other = await send(
      'Bea Lindqvist',
      `Account of the crew party, paid by credit card ${cards(1)[0] ?? ''}, thank you all`,
    );
    const { body } = await client.get<AlikeView>(`/incidents/${numbers[0]}/alike`);
    expect(body.rows.map(({ number }) => number).sort()).toEqual(numbers.slice(1).sort());
    expect(body.numbers).not.toContain(other);
    expect(body.shared).toContainEqual({ field: 'domain', label: 'islandholidays.example', share: 1 });

    // One was decided meanwhile by hand; the decision leaves another alone that is named as an exception.
    const request = { act: 'answer-looked-for', yes: false, expected: 3, numbers, except: [numbers[3]] };
    const begun = (
      await client.send<BulkView>('POST', '/bulk-decisions', { ...request, reason: 'Form of the desk' })
    ).body;
    await running.application.get(BulkDecisions).settled();
    const done = (await client.get<BulkView>(`/bulk-decisions/${begun.id}`)).body;
    expect(done).toMatchObject({ state: 'done', total: 3, done: 3, skipped: 0 });
    const first = await get(numbers[0] ?? 0);
    expect(first.outcome).toBe('false-positive');
    expect(first.history.at(-1)).toMatchObject({ kind: 'act', text: 'Form of the desk', bulk: begun.id });
    expect((await get(numbers[3] ?? 0)).outcome).toBeNull();

    // What is decided keeps its answer, whoever gives another one to many.
    const otherAnswer = { act: 'answer-all-right', yes: true, expected: 1, numbers: [numbers[2]] };
    const again = (await client.send<BulkView>('POST', '/bulk-decisions', otherAnswer)).body;
    await running.application.get(BulkDecisions).settled();
    expect((await client.get<BulkView>(`/bulk-decisions/${again.id}`)).body).toMatchObject({
      done: 0,
      reasons: [{ reason: 'already-decided', count: 1 }],
    });

    // Somebody changes one of them: the undo leaves that one alone and says so.
    const { version } = await get(numbers[1] ?? 0);
    await client.send('POST', `/incidents/${numbers[1]}/acts`, {
      act: 'answer-all-right',
      yes: false,
      version,
    });
    await client.send('POST', `/bulk-decisions/${begun.id}/undo`);
    await running.application.get(BulkDecisions).settled();
    expect((await client.get<BulkView>(`/bulk-decisions/${begun.id}`)).body).toMatchObject({
      state: 'undone',
      undone: 2,
      reasons: [{ reason: 'changed-since', count: 1 }],
    });
    expect(await get(numbers[0] ?? 0)).toMatchObject({ outcome: null, status: 'new', assignee: null });
    expect((await get(numbers[0] ?? 0)).history.at(-1)).toMatchObject({
      kind: 'act',
      act: null,
      bulk: begun.id,
    });
    expect((await get(numbers[1] ?? 0)).outcome).toBe('harm');
    expect((await client.send('POST', `/bulk-decisions/${begun.id}/undo`)).status).toBe(409);
  });

  it('refuse a decision about more than somebody saw, and about nothing', async () => {
    const act = { act: 'answer-looked-for', yes: false };
    const more = await client.send<ErrorBody>('POST', '/bulk-decisions', { ...act, filter: '', expected: 1 });
    expect(more.body.code).toBe('changed-meanwhile');
    const none = { ...act, filter: 'person eq "nobody"', expected: 1 };
    expect((await client.send('POST', '/bulk-decisions', none)).status).toBe(404);
    expect((await client.send('POST', '/bulk-decisions', { ...act, expected: 1 })).status).toBe(400);
  });
});

describe('cases', () => {
  it('join attempts that share half of their values, over other words and another destination', async () => {
    const list = cards(12);
    const first = await send('Orla Fenwick', `Cards: ${list.join(', ')}`, OUTSIDE, 'List');
    const second = await send(
      'Orla Fenwick',
      `once more, ${list.slice(0, 9).join(' and ')}`,
      'me@postbox.example',
      'Private',
    );
    const apart = await send('Bea Lindqvist', `Cards: ${list.join(', ')}`, OUTSIDE, 'List');
    const { attempts, number } = (await client.get<CaseView>(`/incidents/${second}/case`)).body;
    expect(number).toBe(first);
    expect(attempts.map(({ row, values, sharedBefore }) => [row.number, values, sharedBefore])).toEqual([
      [first, 12, null],
      [second, 9, 9],
    ]);
    expect(attempts[1]).toMatchObject({ channelChanged: false, destinationChanged: true });
    // Another person's attempt is another case: hashes are keyed by person.
    expect((await get(apart)).case).toBeNull();
    expect((await client.send('DELETE', `/incidents/${second}/case`)).status).toBe(204);
    expect([(await get(first)).case, (await get(second)).case]).toEqual([null, null]);
  });
});

describe('acts', () => {
  it('hand on with a note, set the severity and keep the first, and mark a test', async () => {
    const number = await send('Bea Lindqvist', FORM(1, cards(1)[0] ?? ''));
    const atFirst = await get(number);
    const { severity } = atFirst;
    let { version } = atFirst;
    const act = async (request: object) => {
      const { body, status } = await client.send<IncidentDetail & ErrorBody>(
        'POST',
        `/incidents/${number}/acts`,
        { ...request, version },
      );
      version = body.version ?? version;
      return { body, status };
    };
    const handed = await act({
      act: 'assign',
      to: 'beside@merrowstrait.example',
      reason: 'You know the desk',
    });
    expect(handed.body).toMatchObject({ status: 'taken', assignee: 'beside' });
    expect(handed.body.history.at(-1)?.text).toBe('You know the desk');
    expect((await act({ act: 'assign', to: 'nobody@example.org' })).status).toBe(404);
    const before = (await get(number)).dueAt;
    const raised = await act({ act: 'set-severity', severity: 'critical' });
    expect(raised.body).toMatchObject({ severity: 'critical', firstSeverity: severity });
    expect(Date.parse(raised.body.dueAt ?? '')).toBeLessThan(Date.parse(before ?? ''));
    expect((await act({ act: 'set-severity', severity: 'critical' })).body.code).toBe('act-refused');
    expect((await act({ act: 'mark-test', yes: true })).body.test).toBe(true);
  });

  it('keep people from deciding about themselves', async () => {
    const own = await running.client('bea.lindqvist@merrowstrait.example');
    const number = await send('Bea Lindqvist', FORM(2, cards(1)[0] ?? ''));
    const { version } = await get(number);
    const refused = await own.send<ErrorBody>('POST', `/incidents/${number}/acts`, {
      act: 'answer-all-right',
      yes: true,
      version,
    });
    expect(refused.body).toMatchObject({ code: 'act-refused', details: { reason: 'own-incident' } });
    const bulk = { act: 'answer-all-right', yes: true, numbers: [number], expected: 1 };
    const { id } = (await own.send<BulkView>('POST', '/bulk-decisions', bulk)).body;
    await running.application.get(BulkDecisions).settled();
    expect((await own.get<BulkView>(`/bulk-decisions/${id}`)).body.reasons).toEqual([
      { reason: 'own-incident', count: 1 },
    ]);
  });
});

describe('time', () => {
  it('shows everything of a person around an incident, and what is usual', async () => {
    const number = await send('Orla Fenwick', FORM(3, cards(1)[0] ?? ''));
    const from = new Date(Date.now() - 3_600_000).toISOString();
    const to = new Date(Date.now() + 60_000).toISOString();
    const { body } = await client.get<AroundView>(
      `/incidents/around?about=person&incident=${number}&from=${from}&to=${to}`,
    );
    expect(body.value).toBe('Orla Fenwick');
    expect(body.marks.filter(({ kind }) => kind === 'movement')).toHaveLength(body.movements);
    expect(body.counts.reduce((sum, { movements }) => sum + movements, 0)).toBe(body.movements);
    const listed = await client.get<{ rows: unknown[] }>(
      `/movements?limit=500&filter=${encodeURIComponent(body.filter)}`,
    );
    expect(listed.body.rows).toHaveLength(body.movements);
    for (const about of ['destination', 'content', 'machine'])
      expect(
        (await client.get(`/incidents/around?about=${about}&incident=${number}&from=${from}&to=${to}`))
          .status,
      ).toBe(200);
    expect(
      (await client.get(`/incidents/around?about=person&incident=${number}&from=${to}&to=${from}`)).status,
    ).toBe(400);
    const remarks = (await client.get<RemarksView>(`/incidents/${number}/remarks`)).body.remarks;
    expect(remarks).toEqual([{ code: 'short-history', days: 0 }]);
  });

  it('adds points of age when the promised time runs out, and promises anew when hours change', async () => {
    const number = await send('Bea Lindqvist', FORM(4, cards(1)[0] ?? ''));
    const incident = await get(number);
    const due = Date.parse(incident.dueAt ?? '');
    const promises = running.application.get(PromisesService);
    await promises.sweep(new Date(due + 1_000));
    const aged = await get(number);
    expect(aged.urgency - incident.urgency).toBe(8);
    expect(aged.urgencyParts.parts).toContainEqual({ code: 'age', points: 8 });
    const { body } = await client.get<DeskSettingView>('/desk/setting');
    const hours = { ...body.hours, days: [1, 2, 3, 4, 5, 6, 7], from: '00:00', to: '23:59' };
    await client.send('PUT', '/desk/setting', { ...body, hours });
    expect(Date.parse((await get(number)).dueAt ?? '')).toBeLessThan(due);
    const wrong = { ...body, hours: { ...hours, from: '18:00', to: '08:00' } };
    expect((await client.send('PUT', '/desk/setting', wrong)).status).toBe(400);
    expect(
      (await client.send('PUT', '/desk/setting', { ...body, hours: { ...hours, zone: 'Mars/Base' } })).status,
    ).toBe(400);
  });
});

describe('views', () => {
  const state = {
    filter: 'severity eq "high"',
    listed: 'incidents',
    order: '-urgency',
    group: [],
    density: 'compact',
  };
  it('are kept by whoever made them, and shared ones are seen by others', async () => {
    const other = await running.client('beside@merrowstrait.example');
    await client.send('POST', '/desk/views', { name: 'Mine', shared: false, state });
    const [shared] = (
      await client.send<DeskViewView[]>('POST', '/desk/views', { name: 'All', shared: true, state })
    ).body;
    const seen = (await other.get<DeskViewView[]>('/desk/views')).body;
    expect(seen.map(({ name, own }) => [name, own])).toEqual([['All', false]]);
    expect((await other.send('DELETE', `/desk/views/${shared?.id}`)).status).toBe(404);
    const change = { name: 'All of it', shared: true, state, version: shared?.version };
    expect((await client.send('PUT', `/desk/views/${shared?.id}`, change)).status).toBe(200);
    expect((await client.send('PUT', `/desk/views/${shared?.id}`, change)).status).toBe(409);
    const wrong = { name: 'x', shared: false, state: { ...state, filter: 'severity is' } };
    expect((await client.send<ErrorBody>('POST', '/desk/views', wrong)).body.code).toBe('bad-filter');
  });
});

describe('exports', () => {
  const fetchText = async (query: string) => {
    const response = await fetch(`${running.address}/api/incidents/export?${query}`, {
      headers: { cookie: client.cookie },
    });
    return {
      type: response.headers.get('content-type'),
      text: await response.text(),
      status: response.status,
    };
  };
  it('write what is listed, safe to open in a spreadsheet, and into the trail', async () => {
    await send('Orla Fenwick', FORM(5, cards(1)[0] ?? ''), OUTSIDE, '=HYPERLINK("http://x.example")');
    const { text } = await fetchText('listed=incidents&format=csv&order=-number');
    const lines = text.trim().split('\r\n');
    expect(lines.length - 1).toBe(await running.database.getRepository(IncidentEntity).count());
    expect(lines[1]).toContain("'=HYPERLINK");
    const trail = (await client.get<TrailPage>('/trail')).body;
    expect(JSON.stringify(trail)).toContain('incidents csv');
  });
  it('write a case as one folder, its values masked whoever asks', async () => {
    const [card = ''] = cards(1);
    const first = await send('Orla Fenwick', `the credit card ${card}, please`);
    await send('Orla Fenwick', `once more the credit card ${card} and thanks`, 'me@postbox.example');
    const response = await fetch(`${running.address}/api/incidents/${first}/folder`, {
      headers: { cookie: client.cookie },
    });
    const files = unzipSync(new Uint8Array(await response.arrayBuffer()));
    expect(Object.keys(files)).toHaveLength(3);
    const page = strFromU8(files['index.html'] ?? new Uint8Array());
    expect(page).toContain(`Incident ${first}`);
    expect(page).toContain('••••');
    for (const file of Object.values(files)) expect(strFromU8(file)).not.toContain(card);
    expect(JSON.stringify((await client.get<TrailPage>('/trail')).body)).toContain(
      '/incidents/:number/folder',
    );
  });
  it('write findings of OCSF and every movement as JSON lines', async () => {
    const ocsf = (await fetchText('listed=incidents&format=ocsf')).text.trim().split('\n');
    expect(JSON.parse(ocsf[0] ?? '')).toMatchObject({
      class_uid: 2006,
      category_uid: 2,
      type_uid: expect.any(Number) as number,
    });
    expect((await fetchText('listed=movements&format=ocsf')).status).toBe(400);
    const lines = (await fetchText('listed=movements&format=jsonl')).text.trim().split('\n');
    expect(lines.map((line) => (JSON.parse(line) as { id: string }).id)).toHaveLength(new Set(lines).size);
  });
});
