/** Findings of other systems: each an incident under the name of its system, once, counted apart or together. */
import { execFile } from 'node:child_process';
import { promisify } from 'node:util';
import type {
  FindingsAnswer,
  IncidentPage,
  IncidentDetail,
  ListCounts,
  NewAgent,
  SendMailResult,
} from '@lantern/contracts';
import type { ChangesView } from '@lantern/contracts/insight';
import { JournalEntity } from '../src/journal/journal.entity.js';
import { CARDS, type Client, mailForm, OUTSIDE, publish, ruleOf, type Running, start } from './harness.js';

const run = promisify(execFile);
const ADA = 'orla.fenwick@merrowstrait.example';

let running: Running;
let client: Client;
let agent: NewAgent;

beforeAll(async () => {
  running = await start();
  client = await running.client();
  agent = (await client.send<NewAgent>('POST', '/agents', { name: 'Findings of the harbour' })).body;
  await publish(client, 'Cards outside', [ruleOf()]);
  const person = (await running.person('Orla Fenwick')).id;
  const form = mailForm({ person, to: [OUTSIDE], subject: 'Refunds', body: CARDS });
  await client.send<SendMailResult>('POST', '/stand-ins/mail/messages', form);
});
afterAll(() => running.stop());

const finding = (uid: string, over: object = {}) => ({
  class_uid: 2004,
  time: Date.now() - 3_600_000,
  severity_id: 5,
  metadata: { version: '1.3.0', product: { name: 'Harbour Watch' } },
  finding_info: { uid, title: 'Cards in a bucket', desc: `Found ${CARDS}.` },
  evidences: [{ actor: { user: { email_addr: ADA } }, databucket: { name: 'fares' } }],
  ...over,
});

const post = async (body: string, type = 'application/json') => {
  const response = await fetch(`${running.address}/api/intake/findings`, {
    method: 'POST',
    headers: { 'content-type': type, authorization: `Bearer ${agent.key}` },
    body,
  });
  return { status: response.status, body: (await response.json()) as FindingsAnswer & { message?: string } };
};
const hand = async (...findings: readonly unknown[]) => (await post(JSON.stringify(findings))).body.results;
const counts = async (line: string) =>
  (await client.get<ListCounts>(`/incidents/counts?filter=${encodeURIComponent(line)}`)).body;

it('makes an incident of each, with what our patterns find in its words masked', async () => {
  const [taken] = await hand(finding('hw-1'));
  expect(taken).toMatchObject({ status: 'taken', uid: 'hw-1', dated: 'as-said' });
  if (taken?.status !== 'taken') throw new Error('not taken');
  const { body } = await client.get<IncidentDetail>(`/incidents/${taken.incident}`);
  expect(body).toMatchObject({
    ...{ origin: 'Harbour Watch', severity: 'critical', title: 'Cards in a bucket', channel: 'drive' },
    ...{ matches: 0, status: 'new', person: { address: ADA } },
  });
  expect(body.counts.map(({ pattern }) => pattern)).toContain('payment-card');
  expect(JSON.stringify(body)).not.toContain('4539 1488 0343 6467');
  // Nobody judges the words of another system again.
  const kept = await running.database.getRepository(JournalEntity).find();
  expect(kept).toHaveLength(1);
});

it('counts nothing twice: not the same again, not changed, not beside itself', async () => {
  const before = await counts('origin eq "Harbour Watch"');
  const [again] = await hand(finding('hw-1'));
  expect(again).toMatchObject({ status: 'known', uid: 'hw-1' });
  const [changed] = await hand(finding('hw-1', { severity_id: 2, status_id: 4 }));
  expect(changed).toEqual(again);
  const both = await Promise.all([hand(finding('hw-2')), hand(finding('hw-2'))]);
  expect(new Set(both.flat().map((one) => (one.status === 'refused' ? one : one.incident))).size).toBe(1);
  expect(await hand(finding('hw-2'), finding('hw-2'))).toHaveLength(2);
  const after = await counts('origin eq "Harbour Watch"');
  expect(after).toEqual({ incidents: before.incidents + 1, matches: 0, movements: before.movements + 1 });
});

it('is counted apart or together', async () => {
  const theirs = await counts('origin pr');
  const ours = await counts('not (origin pr)');
  const all = await counts('');
  expect(theirs.incidents).toBeGreaterThan(0);
  expect(ours).toMatchObject({ incidents: 1, matches: 1 });
  expect(all.incidents).toBe(theirs.incidents + ours.incidents);
  const [from, to] = [
    new Date(Date.now() - 86_400_000).toISOString(),
    new Date(Date.now() + 60_000).toISOString(),
  ];
  const { body } = await client.get<ChangesView>(
    `/insight/changes?from=${from}&to=${to}&zone=UTC&listed=incidents&by=origin`,
  );
  expect(Object.fromEntries(body.series.map(({ value, count }) => [value?.label ?? 'all', count]))).toEqual({
    ...{ all: all.incidents, '': ours.incidents, 'Harbour Watch': theirs.incidents },
  });
});

it('takes what is good of a hand-in, and says what is wrong with the rest and where', async () => {
  const results = await hand(
    finding('hw-10'),
    { ...finding('hw-11'), finding_info: { title: 'No id' } },
    'text',
    finding('hw-12', { metadata: { product: { name: 'Uncut Lantern' } } }),
    finding('hw-13', { class_uid: 2003 }),
    finding('hw-14', { time: Date.now() + 86_400_000 }),
    finding('hw-15', { evidences: [] }),
  );
  expect(results.map((one) => (one.status === 'refused' ? [one.place, one.code] : one.status))).toEqual([
    'taken',
    ['finding 2, finding_info.uid', 'missing'],
    ['finding 3', 'no-object'],
    ['finding 4, metadata.product.name', 'own-finding'],
    ['finding 5, class_uid', 'other-class'],
    'taken',
    'taken',
  ]);
  const ahead = results[5];
  expect(ahead).toMatchObject({ dated: 'as-it-came' });
  const { rows } = (await client.get<IncidentPage>('/incidents?filter=origin%20pr&order=-time&limit=50'))
    .body;
  expect(Date.parse(rows[0]?.at ?? '')).toBeLessThanOrEqual(Date.now());
  expect(
    rows.find((row) => row.number === (results[6] as { incident: number }).incident)?.person.address,
  ).toBe('not-named');
});

it('takes one a line, as curl sends it, and keeps the good ones of a broken stream', async () => {
  const body = `${JSON.stringify(finding('hw-20'))}\n{"class_uid":20\n\n${JSON.stringify(finding('hw-21'))}\n`;
  const { stdout } = await run('curl', [
    ...['--silent', '--show-error', '--fail', '--data-binary', body],
    ...['-H', 'content-type: application/x-ndjson', '-H', `authorization: Bearer ${agent.key}`],
    `${running.address}/api/intake/findings`,
  ]);
  const { results } = JSON.parse(stdout) as FindingsAnswer;
  expect(results.map(({ status }) => status)).toEqual(['taken', 'refused', 'taken']);
  expect(results[1]).toMatchObject({ place: 'finding 2', message: 'This line is not JSON.' });
});

it.each([
  ['an empty body', '', 'The body is no JSON'],
  ['words', 'nothing', 'The body is no JSON'],
  ['brackets without end', '['.repeat(5_000), 'nested too deep'],
  ['too many', JSON.stringify(Array.from({ length: 501 }, (_, at) => ({ at }))), '500 findings at most'],
])('refuses %s as a whole', async (_, body, message) => {
  const answer = await post(body);
  expect(answer.status).toBe(400);
  expect(answer.body.message).toContain(message);
});

it('takes its own export for what it is', async () => {
  const response = await fetch(`${running.address}/api/incidents/export?listed=incidents&format=ocsf`, {
    headers: { cookie: client.cookie },
  });
  const exported = await response.text();
  const { body } = await post(exported, 'application/jsonl');
  expect(body.results.length).toBeGreaterThan(1);
  expect(body.results.every((one) => one.status === 'refused' && one.code === 'own-finding')).toBe(true);
});
