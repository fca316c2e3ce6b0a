import type {
  ErrorBody,
  IncidentDetail,
  IncidentPage,
  ListCounts,
  MailSummary,
  PatternDetail,
  PolicyView,
  SavedWordList,
  SendMailResult,
} from '@lantern/contracts';
import { docxFile } from '@lantern/testkit';
import { CARDS, type Client, mailForm, OUTSIDE, publish, ruleOf, type Running, start } from './harness.js';

let running: Running;
let client: Client;
let orla: string;

beforeAll(async () => {
  running = await start();
  client = await running.client();
  orla = (await running.person('Orla Fenwick')).id;
});
afterAll(() => running.stop());

const send = (mail: Omit<Parameters<typeof mailForm>[0], 'person'>) =>
  client.send<SendMailResult>('POST', '/stand-ins/mail/messages', mailForm({ person: orla, ...mail }));
const newest = async (): Promise<IncidentDetail> => {
  const page = (await client.get<IncidentPage>('/incidents?order=-time')).body;
  return (await client.get<IncidentDetail>(`/incidents/${page.rows[0]?.number ?? 0}`)).body;
};
const act = (number: number, request: object) =>
  client.send<IncidentDetail & ErrorBody>('POST', `/incidents/${number}/acts`, request);

describe('the loop', () => {
  it('lets every mail go while nothing is published', async () => {
    expect((await send({ to: [OUTSIDE], body: CARDS })).body.status).toBe('sent');
    expect((await client.get<ListCounts>('/incidents/counts')).body.incidents).toBe(0);
  });

  it('publishes an own word list and a policy, and blocks at once', async () => {
    const list = await client.send<SavedWordList>('POST', '/patterns', {
      name: 'Slackwater',
      about: 'purchase',
      words: 'Slackwater\nslackwater\n\nsea trial',
    });
    expect(list.body.outcome).toMatchObject({ kept: 2, duplicates: 1, blankLines: 1 });
    const words = {
      kind: 'findings',
      pattern: list.body.pattern.id,
      atLeast: 1,
      distinct: false,
      certainty: 80,
    };
    await publish(client, 'Cards and code words', [ruleOf(), ruleOf({ when: words, severity: 'critical' })]);
    const table = [
      ['Name', 'Card number'],
      ['A. Brandt', '4539148803436467'],
      ['L. Okoro', '6011000990139424'],
    ];
    const sent = await send({
      to: [OUTSIDE, 'bea.lindqvist@merrowstrait.example'],
      subject: 'Refunds',
      files: [{ name: 'refunds.docx', bytes: await docxFile({ paragraphs: ['list'], table }) }],
    });
    expect(sent.body).toMatchObject({
      status: 'refused',
      draft: {
        folder: 'drafts',
        subject: 'Refunds',
        attachments: [{ name: 'refunds.docx' }],
        notice: {
          text: 'Use the portal.',
          ruleNumber: 1,
          outside: [OUTSIDE],
          found: [{ distinct: 2, where: ['refunds.docx › text'] }],
        },
      },
    });
  });

  it('records one incident with masked evidence, its trace and its history', async () => {
    const incident = await newest();
    expect(incident).toMatchObject({
      answer: 'block',
      severity: 'high',
      status: 'new',
      masked: true,
      revision: 1,
      person: { name: 'Orla Fenwick' },
    });
    expect(incident.history.map((entry) => entry.kind)).toEqual(['recorded']);
    expect(incident.verdict.trace[0]?.rules).toHaveLength(2);
    const text = JSON.stringify(incident);
    expect(text).not.toMatch(/4539148803436467|453914880343/);
    expect(text).toContain('••••••••••••6467');
    expect(text).toContain('column-heading');
  });

  it('lets the same mail through without the numbers, or to a colleague, who receives it', async () => {
    const before = (await client.get<ListCounts>('/incidents/counts')).body.incidents;
    expect((await send({ to: [OUTSIDE], body: 'The list follows through the portal.' })).body.status).toBe(
      'sent',
    );
    expect(
      (await send({ to: ['bea.lindqvist@merrowstrait.example'], subject: 'For you', body: CARDS })).body
        .status,
    ).toBe('sent');
    expect((await client.get<ListCounts>('/incidents/counts')).body.incidents).toBe(before);
    const bea = await running.person('Bea Lindqvist');
    const mails = (await client.get<MailSummary[]>(`/stand-ins/mail/${bea.id}/messages`)).body;
    expect(mails.map((mail) => mail.subject)).toEqual(['For you']);
  });

  it('takes the values out of subject and text for the sender, and leaves files and what nobody asks for', async () => {
    const { id: person } = await running.person('Orla Fenwick');
    const clean = (over: object) =>
      client.send<{ subject?: string; body?: string; code?: string }>(
        'POST',
        `/stand-ins/mail/${person}/without-values`,
        { to: [OUTSIDE], subject: 'Refunds', body: `Please refund ${CARDS}, call 0142`, ...over },
      );
    const { body } = await clean({});
    expect(body.subject).toBe('Refunds');
    expect(body.body).toContain('[taken out]');
    expect(body.body).toContain('call 0142');
    expect(body.body).not.toMatch(/\d{12}/);
    expect((await clean({ subject: `Refund ${CARDS}`, body: 'See above' })).body.subject).toContain(
      '[taken out]',
    );
    expect((await clean({ body: 'Nothing to find' })).body.code).toBe('act-refused');
    // To a colleague nothing stops it, so nothing has to go.
    expect((await clean({ to: ['bea.lindqvist@merrowstrait.example'] })).body.code).toBe('act-refused');
  });

  it('tells open browsers within a second', async () => {
    const stop = new AbortController();
    const stream = await fetch(`${running.address}/api/events`, {
      headers: { cookie: client.cookie },
      signal: stop.signal,
    });
    const reader = stream.body?.getReader();
    const started = Date.now();
    const sending = send({ to: [OUTSIDE], body: CARDS });
    let heard = '';
    while (!heard.includes('incident-recorded')) {
      const chunk = await reader?.read();
      if (!chunk || chunk.done) break;
      heard += new TextDecoder().decode(chunk.value as Uint8Array);
    }
    await sending;
    stop.abort();
    expect(heard).toContain('incident-recorded');
    expect(Date.now() - started).toBeLessThan(5000);
  });

  it('takes the two answers, a cause, a note and an undo, and keeps who did what', async () => {
    const { number } = await newest();
    const first = await act(number, { act: 'answer-looked-for', yes: true, version: 1 });
    expect(first.body).toMatchObject({ status: 'taken', outcome: null, assignee: 'analyst', version: 2 });
    const second = await act(number, { act: 'answer-all-right', yes: false, version: 2 });
    expect(second.body).toMatchObject({ status: 'decided', outcome: 'harm' });
    expect((await act(number, { act: 'name-cause', cause: 'slip', version: 3 })).body).toMatchObject({
      cause: 'slip',
    });
    const undone = await act(number, { act: 'reopen', version: 4 });
    expect(undone.body).toMatchObject({ status: 'taken', outcome: null, lookedFor: null });
    await client.send('POST', `/incidents/${number}/notes`, { text: 'Called her.' });
    const { history } = (await client.get<IncidentDetail>(`/incidents/${number}`)).body;
    expect(history.map((entry) => entry.kind)).toEqual([
      'recorded',
      'case',
      'act',
      'act',
      'act',
      'act',
      'note',
    ]);
    expect(history.at(-1)).toMatchObject({ by: 'analyst', text: 'Called her.' });
  });

  it('overwrites no decision unseen when two are at it', async () => {
    const other = await running.client('second@merrowstrait.example');
    const { number, version } = await newest();
    expect(
      (
        await other.send('POST', `/incidents/${number}/acts`, {
          act: 'answer-looked-for',
          yes: false,
          version,
        })
      ).status,
    ).toBe(200);
    expect(await act(number, { act: 'answer-looked-for', yes: true, version })).toMatchObject({
      status: 409,
      body: { code: 'changed-meanwhile', details: { by: 'second' } },
    });
    expect(await act(number, { act: 'take', version: version + 1 })).toMatchObject({
      status: 409,
      body: { code: 'act-refused' },
    });
  });

  it('shows values whole only with a reason, which it keeps', async () => {
    const { number } = (await client.get<IncidentPage>('/incidents?order=time')).body.rows[0] ?? {
      number: 0,
    };
    expect((await client.send('POST', `/incidents/${number}/unmaskings`, { reason: '' })).status).toBe(400);
    const shown = (
      await client.send<IncidentDetail>('POST', `/incidents/${number}/unmaskings`, {
        reason: 'the card processor asks',
      })
    ).body;
    expect(JSON.stringify(shown.parts)).toContain('4539148803436467');
    const again = (await client.get<IncidentDetail>(`/incidents/${number}`)).body;
    expect(JSON.stringify(again.parts)).not.toContain('4539148803436467');
    expect(again.history.at(-1)).toMatchObject({
      kind: 'unmasked',
      text: 'the card processor asks',
      by: 'analyst',
    });
  });

  it.each([
    ['severity eq "high"', true],
    ['severity eq "low"', false],
    ['answer eq "block" and pattern eq "payment-card"', true],
    ['pattern eq "iban"', false],
    ['any co "Orla"', true],
    ['destination co "islandholidays"', true],
    ['any co "%"', false],
    ['department eq "Passenger Services"', true],
    ['time ge "2100-01-01"', false],
    ['policy eq "Cards and code words"', true],
    ['policy ne "Cards and code words" and policy pr', false],
  ])('narrows the queue by %s', async (line, any) => {
    const counts = await client.get<ListCounts>(`/incidents/counts?filter=${encodeURIComponent(line)}`);
    expect(counts.body.incidents > 0).toBe(any);
  });

  it('refuses filters it does not know', async () => {
    expect((await client.get('/incidents?colour=red')).status).toBe(400);
    const wrong = await client.get<ErrorBody>('/incidents?filter=colour%20eq%20%22red%22');
    expect(wrong.body).toMatchObject({ code: 'bad-filter', details: { code: 'unknown-field', at: 0 } });
  });
});

describe('drafts', () => {
  it('refuse a save over somebody else, and keep a list that a rule looks for', async () => {
    const [view] = (await client.get<PolicyView[]>('/policies')).body;
    if (!view) throw new Error('no policy');
    const { id, ...policy } = view.policy;
    const save = (purpose: string) =>
      client.send('PUT', `/policies/${id}`, { policy: { ...policy, purpose }, version: view.version });
    expect((await save('first')).status).toBe(200);
    expect(await save('second')).toMatchObject({ status: 409, body: { code: 'changed-meanwhile' } });
    const patterns = (await client.get<PatternDetail[]>('/patterns')).body;
    const own = patterns.find((pattern) => pattern.origin === 'own');
    expect(await client.send('DELETE', `/patterns/${own?.id ?? ''}`)).toMatchObject({
      status: 409,
      body: { code: 'in-use' },
    });
  });

  it('are not in force before they are published, and a revision stays as it was', async () => {
    const [view] = (await client.get<PolicyView[]>('/policies')).body;
    if (!view) throw new Error('no policy');
    await client.send('DELETE', `/policies/${view.policy.id}`);
    expect((await send({ to: [OUTSIDE], body: CARDS })).body.status).toBe('refused');
    expect((await client.send('POST', '/revisions', { name: 'empty', reason: 'none' })).status).toBe(201);
    expect((await send({ to: [OUTSIDE], body: CARDS })).body.status).toBe('sent');
    const old = (await client.get<IncidentPage>('/incidents?order=time')).body.rows[0];
    expect((await client.get<IncidentDetail>(`/incidents/${old?.number ?? 0}`)).body.policies[0]?.name).toBe(
      'Cards and code words',
    );
    expect(await client.send('POST', '/revisions', { name: 'again', reason: '' })).toMatchObject({
      status: 409,
      body: { code: 'nothing-to-publish' },
    });
  });

  it('are published once when two press at the same instant', async () => {
    await client.send('POST', '/patterns', { name: 'Another', about: '', words: 'word' });
    const both = await Promise.all(
      [1, 2].map(() => client.send('POST', '/revisions', { name: 'at once', reason: '' })),
    );
    expect(both.map((answer) => answer.status).sort()).toEqual([201, 409]);
  });
});

describe('what is kept', () => {
  it('shows no content in any table', async () => {
    await send({ to: [OUTSIDE], subject: 'Zebrafish matter', body: `${CARDS} zebrafish` });
    const tables = (await running.database.query('SHOW TABLES')) as Record<string, string>[];
    for (const row of tables) {
      const table = Object.values(row)[0] ?? '';
      const rows: unknown = await running.database.query(`SELECT * FROM \`${table}\``);
      const text = JSON.stringify(rows, (_key, value: unknown) =>
        isBytes(value) ? Buffer.from(value.data).toString('latin1') : value,
      );
      expect({ table, leaks: /zebrafish|4539 1488|4539148803436467/i.test(text) }).toEqual({
        table,
        leaks: false,
      });
    }
  });
});

function isBytes(value: unknown): value is { type: 'Buffer'; data: number[] } {
  return typeof value === 'object' && value !== null && 'type' in value && value.type === 'Buffer';
}
