import type {
  ErrorBody,
  IncidentDetail,
  IncidentPage,
  LanternFileResult,
  PatternDetail,
  PolicyView,
  RecordJob,
  RecordPreview,
  SendMailResult,
} from '@lantern/contracts';
import { type Client, mailForm, OUTSIDE, publish, ruleOf, type Running, start } from './harness.js';

let running: Running;
let client: Client;

beforeAll(async () => {
  running = await start();
  client = await running.client();
});
afterAll(() => running.stop());

const CSV = [
  'Booking;Name;Mail;Born;Port',
  'MS104233;Ada Brandt;ada@example.org;1980-05-12;Northquay',
  'MS104234;Bea Crane;bea@example.org;31.01.1975;Northquay',
  ...Array.from(
    { length: 300 },
    (_unused, index) =>
      `MS${200_000 + index};Person ${index} Q${index}x;p${index}@example.org;1990-01-01;Northquay`,
  ),
  'MS104235;"Dee; Fenn";dee@example.org;1999-09-09',
].join('\n');

const upload = (content: string | Buffer, name = 'bookings.csv') => {
  const form = new FormData();
  form.append('file', new Blob([Buffer.from(content)]), name);
  return client.send<RecordPreview & ErrorBody>('POST', '/records/uploads', form);
};
const request = (upload: string, changes: object = {}) => ({
  upload,
  name: 'Bookings',
  about: '',
  key: { column: 0, kind: 'number' },
  others: [
    { column: 1, kind: 'name' },
    { column: 2, kind: 'mail' },
    { column: 4, kind: 'free' },
  ],
  needed: 1,
  window: 150,
  ...changes,
});
const finished = async (job: RecordJob): Promise<RecordJob> => {
  for (;;) {
    const { body } = await client.get<RecordJob>(`/records/jobs/${job.id}`);
    if (body.status !== 'running') return body;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
};
const imported = async (content: string, changes: object = {}, method = 'POST', path = '/records') => {
  const { body } = await upload(content);
  const begun = await client.send<RecordJob>(method, path, request(body.upload, changes));
  expect(begun.status).toBe(202);
  return finished(begun.body);
};

describe('own records', () => {
  let id = '';

  it('are looked at before they are imported, with masked values only', async () => {
    const { body, status } = await upload(Buffer.from(CSV, 'latin1'));
    expect(status).toBe(200);
    expect(body.columns.map(({ name, kind, mayBeKey }) => [name, kind, mayBeKey])).toEqual([
      ['Booking', 'number', true],
      ['Name', 'name', false],
      ['Mail', 'mail', true],
      ['Born', 'date', false],
      ['Port', 'free', false],
    ]);
    expect(body).toMatchObject({ raggedCount: 1, ragged: [304], rowsSeen: 303, more: false });
    expect(JSON.stringify(body)).not.toContain('ada@example.org');
  });

  it.each([
    ['no table', ''],
    ['headings only', 'a;b\n'],
    ['one column', 'a\n1\n2'],
    ['too many columns', `${'a,'.repeat(200)}a\n${'1,'.repeat(200)}1`],
    ['a quotation mark that never closes', `a,b\n"${'x'.repeat(150_000)}`],
  ])('refuse %s with a sentence', async (_name, content) => {
    const { status, body } = await upload(content);
    expect([status, body.code]).toEqual([422, 'file-refused']);
    expect(body.message).toContain('The file was not imported');
  });

  it('are hashed, reported on, and nothing of them stays', async () => {
    const job = await imported(CSV);
    expect(job).toMatchObject({ status: 'done', rows: 303 });
    id = job.source ?? '';
    const { body } = await client.get<PatternDetail>(`/patterns/${id}`);
    expect(body.records?.report).toMatchObject({ records: 303, ragged: 1, withoutKey: 0 });
    expect(body.records?.report.columns).toContainEqual(
      expect.objectContaining({ name: 'Port', tooCommon: true }),
    );
    const rows: { bytes: Buffer }[] = await running.database.query('SELECT bytes FROM record_chunk');
    expect(rows.length).toBeGreaterThan(0);
    const whole = Buffer.concat(rows.map(({ bytes }) => bytes));
    for (const value of ['MS104233', 'Brandt', 'ada@']) expect(whole.includes(value)).toBe(false);
  });

  it('are found in files by the Lantern, and in mail once published; evidence names columns, not contents', async () => {
    const form = new FormData();
    form.append('file', new Blob(['Guest BRANDT, Ada has ms 104-233']), 'note.txt');
    const { body } = await client.send<LanternFileResult>('POST', '/lantern/files', form);
    const [part] = body.parts;
    const found = part?.status === 'read' ? part.findings.filter((finding) => finding.pattern === id) : [];
    expect(found).toHaveLength(1);
    expect(found[0]?.evidence).toEqual([
      expect.objectContaining({ code: 'record', detail: 'Booking, Name' }),
    ]);
    const when = { kind: 'findings', pattern: id, atLeast: 1, distinct: false, certainty: 80 };
    await publish(client, 'Guests', [ruleOf({ when })]);
    const orla = (await running.person('Orla Fenwick')).id;
    const send = (text: string) =>
      client.send<SendMailResult>(
        'POST',
        '/stand-ins/mail/messages',
        mailForm({ person: orla, to: [OUTSIDE], body: text }),
      );
    expect((await send('Booking MS104234 of Northquay')).body.status).toBe('sent');
    expect((await send('Booking MS104234 of Bea Crane')).body.status).toBe('refused');
    const page = (await client.get<IncidentPage>('/incidents?order=-time')).body;
    const incident = (await client.get<IncidentDetail>(`/incidents/${page.rows[0]?.number ?? 0}`)).body;
    expect(JSON.stringify(incident)).not.toContain('MS104234');
  });

  it('are replaced at once, and the name stays free for nobody else', async () => {
    const job = await imported(
      'Booking,Name\nMS777777,Eli Moss\nMS777778,Fay North',
      { others: [{ column: 1, kind: 'name' }] },
      'PUT',
      `/records/${id}`,
    );
    expect(job).toMatchObject({ status: 'done', source: id });
    const versions: { version: number }[] = await running.database.query(
      'SELECT DISTINCT version FROM record_chunk',
    );
    expect(versions).toEqual([{ version: 2 }]);
    const { body } = await upload(CSV);
    const taken = await client.send<ErrorBody>('POST', '/records', request(body.upload));
    expect([taken.status, taken.body.code]).toEqual([409, 'name-taken']);
  });

  it('say what is wrong with an order, and keep the old records when an import fails', async () => {
    const { body } = await upload(CSV);
    const order = (changes: object) =>
      client.send<ErrorBody>('POST', '/records', request(body.upload, { name: 'Other', ...changes }));
    expect((await order({ needed: 4 })).status).toBe(400);
    expect((await order({ key: { column: 1, kind: 'name' } })).status).toBe(400);
    expect((await order({ key: { column: 1, kind: 'number' } })).status).toBe(400);
    expect((await order({ upload: '00000000-0000-4000-8000-000000000000' })).status).toBe(404);
    const job = await imported(
      'Booking,Name\nno key,Eli Moss\nnone,Fay',
      { others: [{ column: 1, kind: 'name' }] },
      'PUT',
      `/records/${id}`,
    );
    expect(job).toMatchObject({
      status: 'failed',
      sentence: expect.stringContaining('No row has a usable key'),
    });
    expect((await client.get<PatternDetail>(`/patterns/${id}`)).body.records?.version).toBe(2);
  });

  it('cannot be removed while a rule looks for them', async () => {
    const remove = () => client.send<ErrorBody>('DELETE', `/patterns/${id}`);
    expect((await remove()).body.code).toBe('in-use');
    // Also where only the published revision still does: its rules would find nothing and tell nobody.
    const { body } = await client.get<PolicyView[]>('/policies');
    for (const { policy } of body) await client.send('DELETE', `/policies/${policy.id}`);
    expect((await remove()).body.code).toBe('in-use');
  });
});
