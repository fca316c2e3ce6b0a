/** The whole set as files, out and in, and a policy as text. */
import type { DraftView, PolicyTextResult, PolicyView, SetFile, SetImportResult } from '@lantern/contracts';
import { type Client, mailForm, OUTSIDE, policyOf, publish, ruleOf, type Running, start } from './harness.js';

let running: Running;
let client: Client;

beforeAll(async () => {
  running = await start();
  client = await running.client();
  await client.send('POST', '/patterns', { name: 'Ships', about: '', words: 'Slackwater\nMV Corrigan' });
  const list = (await client.get<{ id: string; name: string }[]>('/patterns')).body.find(
    ({ name }) => name === 'Ships',
  );
  const when = { kind: 'findings', pattern: list?.id ?? '' };
  await publish(client, 'Ships stay', [ruleOf({ when }), ruleOf({ answer: 'note' })]);
});
afterAll(() => running.stop());

const out = async () => (await client.get<SetFile[]>('/set')).body;
const bringIn = (files: readonly SetFile[], onlyLook = false, by = client) =>
  by.send<SetImportResult>('POST', '/set', { files, onlyLook });
const drafts = async () => (await client.get<DraftView>('/revisions/draft')).body;

it('goes out the same every time and comes in without a change', async () => {
  const files = await out();
  expect(files.map(({ path }) => path)).toEqual([
    'patterns/ships.yaml',
    'policies/001-ships-stay.yaml',
    'set.yaml',
    'texts/use-the-portal.yaml',
  ]);
  expect(await out()).toEqual(files);
  expect((await bringIn(files)).body).toEqual({ faults: [], changes: [] });
  expect((await drafts()).changes).toEqual([]);
});

it('says what would change before it changes anything, and then changes all of it', async () => {
  const files = (await out()).map((file) =>
    file.path.startsWith('policies/')
      ? {
          ...file,
          text: file.text
            .replace('Ships stay', 'Ships stay inside')
            .replace('severity: high', 'severity: critical'),
        }
      : file,
  );
  const more = [
    ...files,
    {
      path: 'policies/002-new.yaml',
      text: 'name: New\nowner: desk\nchannels: [chat]\nrules:\n  - id: r1\n    when: {kind: findings, pattern: Ships}\n    bands: [{answer: note}]\n',
    },
  ];
  const looked = await bringIn(more, true);
  expect(looked.body.changes.map(({ subject, name, state }) => `${subject} ${name} ${state}`)).toEqual([
    'policy Ships stay inside changed',
    'policy New new',
  ]);
  expect((await drafts()).changes).toEqual([]);
  await bringIn(more);
  expect((await drafts()).changes).toHaveLength(2);
  expect((await client.send('POST', '/revisions', { name: 'from files', reason: 'x' })).status).toBe(201);
});

it('takes nothing of a set with one fault, and names file and line', async () => {
  const before = await out();
  const broken = before.map((file) =>
    file.path.startsWith('policies/001')
      ? { ...file, text: file.text.replace('pattern: Ships', 'pattern: Boats') }
      : file,
  );
  expect((await bringIn(broken)).body.faults).toEqual([
    {
      path: 'policies/001-ships-stay-inside.yaml',
      line: expect.any(Number),
      message: 'there is no pattern "Boats"',
    },
  ]);
  expect(await out()).toEqual(before);
});

it('refuses ids that no table takes, and two rules of one id', async () => {
  const files = await out();
  const named = [...files, { path: 'policies/009-x.yaml', text: 'name: X\nid: x\nrules: []\n' }];
  expect((await bringIn(named, true)).body.faults).toEqual([
    { path: 'policies/009-x.yaml', line: 2, message: expect.stringContaining('id must be a UUID') },
  ]);
  const rule = '  - id: r9\n    when: {kind: findings, pattern: iban}\n    bands: [{answer: note}]\n';
  const twice = [
    ...files,
    { path: 'policies/009-x.yaml', text: `name: X\nchannels: [mail]\nrules:\n${rule}${rule}` },
  ];
  await bringIn(twice);
  expect((await drafts()).problems.map(({ problem }) => problem.code)).toContain('duplicate-rule');
  await bringIn([
    ...files,
    { path: 'policies/009-x.yaml', text: `name: X\nowner: d\nchannels: [mail]\nrules:\n${rule}` },
  ]);
  expect((await client.send('POST', '/revisions', { name: 'short ids', reason: 'x' })).status).toBe(201);
  const { id: person } = await running.person('Orla Fenwick');
  const mail = mailForm({ person, to: [OUTSIDE], body: 'IBAN GB29 NWBK 6016 1331 9268 19' });
  expect(await client.send('POST', '/stand-ins/mail/messages', mail)).toMatchObject({
    body: { status: 'sent' },
  });
});

it('keeps others from replacing or taking out what they may not see', async () => {
  const auditor = await running.client('auditor@merrowstrait.example');
  expect((await auditor.get('/set')).status).toBe(403);
  expect((await bringIn([], true, auditor)).status).toBe(403);
});

it('shows a policy as text and reads it back, with faults at their line', async () => {
  const hold = { minutes: 60, next: 'authors', otherwise: 'stays', approvers: 2 };
  const rules = [ruleOf(), ruleOf({ answer: 'hold', hold, override: { approvers: 2 } })];
  const { body } = await client.send<PolicyView>('POST', '/policies', policyOf('Text', rules));
  const { policy } = body;
  const { id: _id, ...fields } = policy;
  const shown = await client.send<{ text: string }>('POST', '/set/policy-text', { policy: fields });
  expect((await client.send('POST', '/set/policy-text', { policy: { rules: 1 } })).status).toBe(400);
  expect(shown.body.text).toContain('text: Use the portal');
  const read = (text: string) =>
    client.send<PolicyTextResult>('POST', `/set/policies/${policy.id}/text`, { text });
  expect((await read(shown.body.text)).body).toEqual({ faults: [], policy });
  expect(policy.rules[1]).toMatchObject({ hold, override: { approvers: 2, decides: 'approvers' } });
  const three = await read(shown.body.text.replaceAll('approvers: 2', 'approvers: 3'));
  expect(three.body.faults).not.toEqual([]);
  const wrong = await read(shown.body.text.replace('answer: block', 'answer: shout'));
  const line = shown.body.text.split('\n').findIndex((each) => each.includes('answer: block')) + 1;
  expect(wrong.body).toMatchObject({ policy: null, faults: [{ line }] });
});

it('holds the labels in a file of their own, which rules refer to by name', async () => {
  const made = await client.send<{ id: string }>('POST', '/labels/labels', {
    label: { name: 'Bridge', rank: 700, choosing: [{ when: 'x' }], carriers: ['mail'] },
  });
  const when = { kind: 'label', carries: 'one-of', labels: [made.body.id] };
  await client.send('POST', '/policies', policyOf('Bridge stays', [ruleOf({ when })]));
  const files = await out();
  const policy = files.find(({ path }) => path.endsWith('bridge-stays.yaml'));
  expect(files.map(({ path }) => path)).toContain('labels.yaml');
  expect(policy?.text).toContain('- Bridge');
  expect((await bringIn(files)).body).toEqual({ faults: [], changes: [] });
  const renamed = files.map((file) => ({ ...file, text: file.text.replaceAll('Bridge', 'Wheelhouse') }));
  const looked = await bringIn(renamed, true);
  expect(looked.body.changes.map(({ subject, name, state }) => [subject, name, state])).toEqual(
    expect.arrayContaining([['label', 'Wheelhouse', 'changed']]),
  );
  const broken = files.map((file) =>
    file === policy ? { ...file, text: file.text.replace('- Bridge', '- Brigde') } : file,
  );
  expect((await bringIn(broken)).body.faults).toMatchObject([{ message: 'there is no label "Brigde"' }]);
  const without = files.filter(({ path }) => path !== 'labels.yaml');
  expect((await bringIn(without)).body).toEqual({ faults: [], changes: [] });
});
