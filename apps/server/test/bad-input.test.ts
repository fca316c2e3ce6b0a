import { gravityOf } from '@lantern/core/policy';
import { jest } from '@jest/globals';
import type {
  ErrorBody,
  ListCounts,
  LanternFileResult,
  PolicyView,
  SavedWordList,
  SendMailResult,
} from '@lantern/contracts';
import { docxFile, emlFile, zipBomb, zipFile } from '@lantern/testkit';
import {
  CARDS,
  type Client,
  mailForm,
  OUTSIDE,
  publish,
  policyOf,
  ruleOf,
  type Running,
  start,
  type TestFile,
} from './harness.js';

// Real bombs take real seconds.
jest.setTimeout(60_000);

let running: Running;
let client: Client;
let orla: string;

beforeAll(async () => {
  running = await start();
  client = await running.client();
  orla = (await running.person('Orla Fenwick')).id;
  const unreadable = {
    kind: 'all',
    of: [
      { kind: 'unreadable', reasons: [] },
      { kind: 'recipient', quantity: 'any', side: 'outside' },
    ],
  };
  await publish(client, 'Cards', [ruleOf(), ruleOf({ when: unreadable })]);
});
afterAll(() => running.stop());

const send = (mail: Omit<Parameters<typeof mailForm>[0], 'person'>) =>
  client.send<SendMailResult & ErrorBody>(
    'POST',
    '/stand-ins/mail/messages',
    mailForm({ person: orla, ...mail }),
  );
const sendFile = (name: string, bytes: Uint8Array) => send({ to: [OUTSIDE], files: [{ name, bytes }] });
const look = async (file: TestFile) => {
  const form = new FormData();
  form.append('file', new Blob([new Uint8Array(file.bytes)]), file.name);
  return client.send<LanternFileResult & ErrorBody>('POST', '/lantern/files', form);
};
const healthy = async () => (await fetch(`${running.address}/api/health`)).status;

describe('files from strangers', () => {
  it('refuses 30 MB with the limit in its answer, and stays up', async () => {
    const large = Buffer.alloc(30 * 1024 * 1024, 'a');
    expect(await sendFile('film.zip', large)).toMatchObject({
      status: 413,
      body: { code: 'file-too-large', details: { limit: 25 } },
    });
    expect(await look({ name: 'film.zip', bytes: large })).toMatchObject({ status: 413 });
    expect(await healthy()).toBe(200);
  });

  it.each<[string, () => Promise<Buffer> | Buffer, string]>([
    [
      'a docx that is cut off',
      async () => (await docxFile({ paragraphs: ['x'.repeat(9000)] })).subarray(0, 2500),
      'corrupt',
    ],
    [
      'an archive with a password',
      () => zipFile({ 'a.txt': Buffer.from('x') }, { encrypted: true }),
      'encrypted',
    ],
    ['gigabytes in a small archive', () => zipBomb(3), 'expands-too-far'],
    [
      'an archive inside an archive inside an archive …',
      () => Array.from({ length: 12 }).reduce<Buffer>((inner) => zipFile({ f: inner }), Buffer.from('x')),
      'nested-too-deep',
    ],
  ])('lets %s be a condition of a rule, not a silent pass', async (_name, make, reason) => {
    const answer = await sendFile('thing.bin', await make());
    expect(answer.body).toMatchObject({
      status: 'refused',
      draft: { notice: { ruleNumber: 2, text: 'Use the portal.' } },
    });
    expect(JSON.stringify(answer.body)).toContain(reason);
    expect(process.memoryUsage().rss).toBeLessThan(3_000_000_000);
    expect(await healthy()).toBe(200);
  });

  it('reads a mail with a wrong character set and a mail inside it', async () => {
    const inner = await emlFile({ from: 'a@b.example', to: ['c@d.example'], subject: 'Inner', text: CARDS });
    const outer = (
      await emlFile({
        from: 'a@b.example',
        to: ['c@d.example'],
        subject: 'Outer',
        text: 'Grüße',
        attachments: [{ filename: 'in.eml', content: inner, contentType: 'message/rfc822' }],
      })
    )
      .toString('latin1')
      .replace(/charset=utf-8/gi, 'charset=x-unknown');
    const result = (await look({ name: 'outer.eml', bytes: Buffer.from(outer, 'latin1') })).body;
    const found = result.parts.flatMap((part) => (part.status === 'read' ? part.findings : []));
    expect(found.map((finding) => finding.pattern)).toEqual(['payment-card', 'payment-card']);
    expect((await sendFile('outer.eml', Buffer.from(outer, 'latin1'))).body.status).toBe('refused');
  });

  it('tells the drafts apart from what is published', async () => {
    await client.send('POST', '/patterns', { name: 'Drafted', about: '', words: 'quillfeather' });
    const { parts } = (await look({ name: 'a.txt', bytes: Buffer.from(`quillfeather ${CARDS}`) })).body;
    // Two cards and the word; the word is published nowhere.
    expect(parts).toMatchObject([{ findings: [{}, {}, {}], others: { patterns: [] } }]);
    expect(parts).toMatchObject([{ published: { patterns: ['payment-card'] } }]);
  });

  it('keeps nothing of what the Lantern looked at', async () => {
    const before = (await client.get<ListCounts>('/incidents/counts')).body.incidents;
    expect((await look({ name: 'Grüße.txt', bytes: Buffer.from(CARDS) })).body).toMatchObject({
      name: 'Grüße.txt',
      parts: [{ status: 'read', findings: [{}, {}] }],
    });
    expect((await client.get<ListCounts>('/incidents/counts')).body.incidents).toBe(before);
  });
});

describe('requests from strangers', () => {
  it('refuses 5,000 recipients in words and sends nothing', async () => {
    const to = Array.from({ length: 5000 }, (_unused, index) => `p${index}@islandholidays.example`);
    expect(await send({ to, body: 'hello' })).toMatchObject({
      status: 422,
      body: { code: 'too-many-recipients', details: { recipients: 5000, limit: 1000 } },
    });
  });

  it.each([
    [['not an address'], 'bad-address'],
    [['a@b\r\nBcc: c@d.example'], 'bad-address'],
    [[], 'no-recipients'],
  ])('refuses recipients %j as %s', async (to, code) =>
    expect(await send({ to })).toMatchObject({ status: 422, body: { code } }),
  );

  it('takes 100,000 words with duplicates and blank lines, and finds them', async () => {
    const words = Array.from(
      { length: 100_000 },
      (_unused, index) => `ship${index}${index % 10 === 0 ? `\n\nSHIP${index}` : ''}`,
    ).join('\n');
    const saved = await client.send<SavedWordList>('POST', '/patterns', { name: 'Ships', about: '', words });
    expect(saved.body.outcome).toMatchObject({ kept: 100_000, duplicates: 10_000, blankLines: 10_000 });
    const found = (await look({ name: 'a.txt', bytes: Buffer.from('the Ship99999 sails') })).body;
    expect(JSON.stringify(found)).toContain(saved.body.pattern.id);
  });

  it('keeps a draft with a certainty of 140, says where it is wrong, and does not publish it', async () => {
    const when = { kind: 'findings', pattern: 'iban', atLeast: 1, distinct: true, certainty: 140 };
    const saved = await client.send<PolicyView>('POST', '/policies', policyOf('Odd', [ruleOf({ when })]));
    expect(saved.body.problems.filter(({ code }) => gravityOf(code) === 'must')).toEqual([
      { code: 'certainty-out-of-range', path: ['rules', 0, 'when', 'certainty'], value: '140' },
    ]);
    expect(await client.send('POST', '/revisions', { name: 'x', reason: '' })).toMatchObject({
      status: 422,
      body: { code: 'problems-remain' },
    });
    expect(
      (await client.get<PolicyView>(`/policies/${saved.body.policy.id}`)).body.policy.rules[0]?.when,
    ).toEqual({ ...when, where: [] });
    await client.send('DELETE', `/policies/${saved.body.policy.id}`);
  });

  it.each([
    ['POST', '/policies', policyOf('x', [{}]), 400],
    ['POST', '/policies', { name: 'x' }, 400],
    ['PUT', '/policies/not-an-id', {}, 400],
    ['POST', '/incidents/abc/acts', { act: 'take', version: 1 }, 400],
    ['POST', '/incidents/999999/acts', { act: 'take', version: 1 }, 404],
    ['POST', '/incidents/1/acts', { act: 'explode', version: 1 }, 400],
    ['POST', '/patterns', { name: '', about: '', words: '' }, 400],
  ] as const)('answers %s %s with a stable code', async (method, path, body, status) => {
    const answer = await client.send<ErrorBody>(method, path, body);
    expect(answer.status).toBe(status);
    expect(answer.body.code).toMatch(/^[a-z-]+$/);
    expect(answer.body.message).not.toMatch(/at .*\.(ts|js)|SELECT|Error:/);
  });

  it('answers broken JSON and a body without end in words', async () => {
    const raw = (body: string) =>
      fetch(`${running.address}/api/policies`, {
        method: 'POST',
        headers: {
          cookie: client.cookie,
          'x-csrf-token': client.session.csrfToken,
          'content-type': 'application/json',
        },
        body,
      });
    expect(await (await raw('{"name":')).json()).toMatchObject({ code: 'invalid-request' });
    expect((await raw(`{"name":"${'x'.repeat(9_000_000)}"}`)).status).toBe(413);
  });
});
