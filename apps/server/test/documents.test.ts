import type {
  DocumentsJob,
  ErrorBody,
  LanternFileResult,
  PatternDetail,
  PatternSummary,
  SendMailResult,
} from '@lantern/contracts';
import { chance, docxFile } from '@lantern/testkit';
import { type Client, mailForm, OUTSIDE, publish, ruleOf, type Running, start } from './harness.js';

let running: Running;
let client: Client;

beforeAll(async () => {
  running = await start();
  client = await running.client();
});
afterAll(() => running.stop());

/** Sentences of invented words. */
function prose(seed: number, sentences: number): string {
  const random = chance(seed);
  const word = () =>
    Array.from({ length: random.whole(2, 9) }, () => random.pick([...'abcdefghijklmnopqrstuvwxyz'])).join('');
  return Array.from(
    { length: sentences },
    () => `${Array.from({ length: random.whole(6, 14) }, word).join(' ')}.`,
  ).join(' ');
}

interface Files {
  readonly like?: readonly (readonly [name: string, content: string | Buffer])[];
  readonly unlike?: readonly (readonly [name: string, content: string | Buffer])[];
}

function form(fields: object, { like = [], unlike = [] }: Files): FormData {
  const made = new FormData();
  const all = {
    name: 'Charters',
    about: '',
    learns: 'likeness',
    leastShare: 0.3,
    version: 0,
    drop: '',
    ...fields,
  };
  for (const [name, value] of Object.entries(all)) made.append(name, String(value));
  for (const [name, content] of like) made.append('like', new Blob([Buffer.from(content)]), name);
  for (const [name, content] of unlike) made.append('unlike', new Blob([Buffer.from(content)]), name);
  return made;
}

async function learn(fields: object, files: Files, id?: string): Promise<DocumentsJob> {
  const begun = await client.send<DocumentsJob>(
    id ? 'PUT' : 'POST',
    id ? `/document-patterns/${id}` : '/document-patterns',
    form(fields, files),
  );
  expect(begun.status).toBe(202);
  for (;;) {
    const { body } = await client.get<DocumentsJob>(`/document-patterns/jobs/${begun.body.id}`);
    if (body.status !== 'running') return body;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}

async function foundIn(text: string, id: string) {
  const made = new FormData();
  made.append('file', new Blob([text]), 'note.txt');
  const { body } = await client.send<LanternFileResult>('POST', '/lantern/files', made);
  const [part] = body.parts;
  return part?.status === 'read' ? part.findings.filter((finding) => finding.pattern === id) : [];
}

describe('likeness to sample documents', () => {
  const contract = prose(1, 60);
  const letterhead = prose(50, 12);
  let id = '';

  it('is learnt from files of any kind; files without text are named and left out', async () => {
    const docx = await docxFile({ paragraphs: contract.split('. ') });
    const job = await learn(
      {},
      {
        like: [
          ['Charter.docx', docx],
          ['empty.txt', ''],
          ['broken.zip', Buffer.from('PK\x03\x04 no')],
        ],
      },
    );
    expect(job).toMatchObject({ status: 'done', sentence: null });
    expect(job.refused.map(({ name }) => name)).toEqual(['empty.txt', 'broken.zip']);
    id = job.pattern ?? '';
    const { body } = await client.get<PatternDetail>(`/patterns/${id}`);
    expect(body.documents).toMatchObject({ learns: 'likeness', leastShare: 0.3, version: 1, report: null });
    expect(body.documents?.samples).toEqual([
      expect.objectContaining({ name: 'Charter.docx', side: 'like', certainty: null }),
    ]);
    expect(body.documents?.samples[0]?.fingerprints).toBeGreaterThan(100);
    const list = (await client.get<PatternSummary[]>('/patterns')).body;
    expect(list.find((pattern) => pattern.id === id)?.kind).toBe('own-documents');
  });

  it('keeps no text in the clear', async () => {
    const word = contract.split(' ').find((each) => each.length > 7) ?? '';
    const rows: { bytes: Buffer }[] = await running.database.query(
      'SELECT sealed AS bytes FROM document_sample UNION ALL SELECT bytes FROM document_piece',
    );
    expect(rows.length).toBe(2);
    for (const { bytes } of rows) expect(bytes.includes(word)).toBe(false);
  });

  it('finds half of it in the Lantern, and in mail once a rule is published', async () => {
    const half = contract.slice(0, contract.length / 2);
    const [finding] = await foundIn(`Dear Ada,\n\n${half}\n\nRegards`, id);
    expect(finding?.certainty).toBeGreaterThanOrEqual(80);
    expect(finding?.evidence[0]?.detail).toMatch(/^(4\d|5\d) % of Charter\.docx$/);
    expect(await foundIn(prose(9, 60), id)).toEqual([]);
    const when = { kind: 'findings', pattern: id, atLeast: 1, distinct: false, certainty: 80 };
    await publish(client, 'Contracts', [ruleOf({ when })]);
    const orla = (await running.person('Orla Fenwick')).id;
    const send = (text: string) =>
      client.send<SendMailResult>(
        'POST',
        '/stand-ins/mail/messages',
        mailForm({ person: orla, to: [OUTSIDE], body: text }),
      );
    expect((await send(prose(9, 30))).body.status).toBe('sent');
    expect((await send(half)).body.status).toBe('refused');
  });

  it('leaves out what other texts hold too, and learns from what it had', async () => {
    const job = await learn(
      { version: 1 },
      { like: [['Second.txt', letterhead + prose(60, 20)]], unlike: [['letterhead.txt', letterhead]] },
      id,
    );
    expect(job.status).toBe('done');
    expect(await foundIn(letterhead, id)).toEqual([]);
    expect(await foundIn(contract, id)).toHaveLength(1);
    expect(await foundIn(prose(60, 20), id)).toHaveLength(1);
  });

  it('refuses a save over one that came in between, and lets a sample go', async () => {
    const stale = await client.send<ErrorBody>('PUT', `/document-patterns/${id}`, form({ version: 1 }, {}));
    expect([stale.status, stale.body.code]).toEqual([409, 'changed-meanwhile']);
    const samples = (await client.get<PatternDetail>(`/patterns/${id}`)).body.documents?.samples ?? [];
    const first = samples.find(({ name }) => name === 'Charter.docx');
    const job = await learn({ version: 2, drop: first?.id }, {}, id);
    expect(job.status).toBe('done');
    expect(await foundIn(contract, id)).toEqual([]);
  });

  it('keeps what it learnt where nothing can be learnt, and its name for itself', async () => {
    const samples = (await client.get<PatternDetail>(`/patterns/${id}`)).body.documents?.samples ?? [];
    const job = await learn({ version: 3, drop: samples.map((sample) => sample.id).join(',') }, {}, id);
    expect(job).toMatchObject({ status: 'failed', sentence: expect.stringContaining('Nothing was changed') });
    expect((await client.get<PatternDetail>(`/patterns/${id}`)).body.documents?.version).toBe(3);
    const taken = await client.send<ErrorBody>('POST', '/document-patterns', form({}, {}));
    expect([taken.status, taken.body.code]).toEqual([409, 'name-taken']);
  });

  it('cannot be removed while a rule looks for it', async () => {
    expect((await client.send<ErrorBody>('DELETE', `/patterns/${id}`)).body.code).toBe('in-use');
  });
});

describe('a category learnt from samples', () => {
  const FOR = ['hull', 'drydock', 'purchase', 'broker', 'surveyor', 'tonnage'];
  const AGAINST = ['lunch', 'canteen', 'menu', 'soup', 'holiday', 'parking'];
  const FILLERS = ['the', 'of', 'on', 'and', 'for', 'we', 'is', 'at', 'this', 'please', 'office'];
  const text = (seed: number, words: readonly string[]): string => {
    const random = chance(seed);
    return Array.from({ length: 60 }, () => random.pick([...(random.happens(0.25) ? words : FILLERS)])).join(
      ' ',
    );
  };
  const files = (count: number, seed: number, words: readonly string[]) =>
    Array.from(
      { length: count },
      (_unused, index) => [`${seed + index}.txt`, text(seed + index, words)] as const,
    );
  let id = '';

  it('needs samples of both sides', async () => {
    const job = await learn({ name: 'Purchase', learns: 'category' }, { like: files(8, 100, FOR) });
    expect(job).toMatchObject({ status: 'failed', sentence: expect.stringContaining('there are 8 and 0') });
  });

  it('shows how it did on held-out samples, its words, and that there are few', async () => {
    const job = await learn(
      { name: 'Purchase', learns: 'category' },
      { like: files(12, 100, FOR), unlike: files(12, 300, AGAINST) },
    );
    expect(job.status).toBe('done');
    id = job.pattern ?? '';
    const report = (await client.get<PatternDetail>(`/patterns/${id}`)).body.documents?.report;
    expect(report).toMatchObject({ like: 12, unlike: 12, tooFew: true });
    expect(report?.heldOut[0]?.recall.share).toBeGreaterThan(0.8);
    expect(report?.heldOut[0]?.recall.least).toBeLessThan(0.9);
    expect(FOR).toContain(report?.wordsFor[0]?.word);
  });

  it('finds other texts of its kind and says by which words', async () => {
    const [finding] = await foundIn(text(999, FOR), id);
    expect(finding?.certainty).toBeGreaterThan(60);
    expect(
      finding?.evidence.some(({ code, detail }) => code === 'category-word' && FOR.includes(detail ?? '')),
    ).toBe(true);
    expect(await foundIn(text(998, AGAINST), id)).toEqual([]);
  });

  it('can be removed, with everything that was learnt', async () => {
    expect((await client.send('DELETE', `/patterns/${id}`)).status).toBe(204);
    expect(await running.database.query('SELECT * FROM document_sample WHERE pattern = ?', [id])).toEqual([]);
    expect(await foundIn(text(999, FOR), id)).toEqual([]);
  });
});
