/** A pattern that is being written, over the journal and over specimens that only the server can judge. */
import type {
  ErrorBody,
  IncidentPage,
  JournalFigures,
  JudgedSpecimen,
  SpecimenView,
} from '@lantern/contracts';
import { CARDS, type Client, mailForm, OUTSIDE, publish, ruleOf, type Running, start } from './harness.js';

let running: Running;
let client: Client;

beforeAll(async () => {
  running = await start();
  client = await running.client();
  await publish(client, 'Cards', [ruleOf()]);
  const orla = (await running.person('Orla Fenwick')).id;
  for (const body of [CARDS, `${CARDS} again`, 'no cards here', 'we buy Slackwater next week'])
    await client.send('POST', '/stand-ins/mail/messages', mailForm({ person: orla, to: [OUTSIDE], body }));
  const { body } = await client.get<IncidentPage>('/incidents');
  const [first, second] = body.rows;
  const decide = async (number: number, looked: boolean) => {
    await client.send('POST', `/incidents/${number}/acts`, {
      act: 'answer-looked-for',
      yes: looked,
      version: 1,
    });
    if (looked)
      await client.send('POST', `/incidents/${number}/acts`, {
        act: 'answer-all-right',
        yes: true,
        version: 2,
      });
  };
  await decide(first!.number, true);
  await decide(second!.number, false);
});
afterAll(() => running.stop());

const figures = (pattern: string, written: object) =>
  client.send<JournalFigures & ErrorBody>('POST', '/specimens/journal', { pattern, written });

describe('a pattern that is being written, over the journal', () => {
  it('is the same where nothing was changed, with precision and recall over what was decided', async () => {
    const { body } = await figures('payment-card', { pattern: 'weights', id: 'payment-card', weights: {} });
    expect(body).toMatchObject({
      looked: 4,
      before: 2,
      now: 2,
      newly: 0,
      gone: 0,
      right: { total: 1, before: 1, now: 1 },
      wrong: { total: 1, before: 1, now: 1 },
      shifts: [],
    });
  });

  it('says which movements change, and shows no content', async () => {
    const { body } = await figures('payment-card', {
      pattern: 'weights',
      id: 'payment-card',
      weights: { shape: -15 },
    });
    expect(body).toMatchObject({ now: 0, gone: 2, right: { now: 0 }, wrong: { now: 0 } });
    expect(body.shifts).toMatchObject([
      { person: 'orla.fenwick@merrowstrait.example', before: 2, now: 0, incident: expect.any(Number) },
      { before: 2, now: 0 },
    ]);
    expect(JSON.stringify(body)).not.toMatch(/4539|6011/);
  });

  it('tries what does not exist yet: words and expressions', async () => {
    const words = await figures('', {
      pattern: 'words',
      name: 'Ships',
      words: [{ text: 'Slackwater', weight: 3 }],
    });
    expect(words.body).toMatchObject({ before: 0, now: 1, newly: 1 });
    const expression = await figures('', {
      pattern: 'expression',
      name: 'Again',
      expression: 'again',
      weights: { shape: 5 },
    });
    expect(expression.body).toMatchObject({ before: 0, now: 1 });
  });

  it.each([
    [
      'an expression that runs away',
      { pattern: 'expression', name: 'x', expression: '(a+)+\\1', weights: {} },
      422,
      'expression-refused',
    ],
    ['what is no pattern', { pattern: 'poem' }, 400, 'invalid-request'],
    [
      'what never leaves the server',
      { pattern: 'elsewhere', id: 'x', name: 'x', from: 'records' },
      400,
      'invalid-request',
    ],
  ])('refuses %s in words', async (_what, written, status, code) => {
    const answer = await figures('', written);
    expect([answer.status, answer.body.code]).toEqual([status, code]);
  });

  it('is for those who may replay', async () => {
    const auditor = await running.client('auditor@merrowstrait.example');
    const answer = await auditor.send('POST', '/specimens/journal', {
      pattern: '',
      written: { pattern: 'words', name: 'x', words: [] },
    });
    expect(answer.status).toBe(403);
  });
});

describe('specimens judged on the server', () => {
  it('come out as with the drafts', async () => {
    const kept = await client.send<SpecimenView>('POST', '/specimens', {
      name: 'two cards',
      text: CARDS,
      expected: [{ pattern: 'payment-card', values: ['4539 1488 0343 6467', '1234'] }],
    });
    const { body } = await client.get<JudgedSpecimen[]>('/specimens/judged?pattern=payment-card');
    expect(body).toEqual([
      { id: kept.body.id, found: expect.any(Number), missed: ['1234'], extra: ['6011000990139424'] },
    ]);
    expect((await client.get<JudgedSpecimen[]>('/specimens/judged?pattern=iban')).body).toEqual([]);
  });
});
