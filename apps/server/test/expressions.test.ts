import type { DraftView, ErrorBody, PatternDetail, RevisionView, SpecimenView } from '@lantern/contracts';
import { type Client, publish, ruleOf, type Running, start } from './harness.js';

let running: Running;
let client: Client;

beforeAll(async () => {
  running = await start();
  client = await running.client();
});
afterAll(() => running.stop());

const BOOKING = {
  name: 'Booking reference',
  about: 'What customers are asked for',
  expression: '\\bMS-\\d{6}\\b',
  caseMatters: true,
  check: 'none',
  namingWords: ['booking', ' booking ', ''],
  supportingWords: [],
  counterWords: [],
  wordDistance: 40,
  exclusions: { values: [], words: [], ranges: [{ from: '900000', to: '999999' }] },
  weights: { shape: 2, namingWord: 3, supportingWord: 1, counterWord: -4 },
};
const create = (changes: object) =>
  client.send<PatternDetail & ErrorBody>('POST', '/patterns/expressions', { ...BOOKING, ...changes });
const save = (id: string, changes: object, version: number) =>
  client.send<PatternDetail & ErrorBody>('PUT', `/patterns/${id}/expression`, {
    ...BOOKING,
    ...changes,
    version,
  });
const keep = (pattern: string, name: string, text: string, values: readonly string[]) =>
  client.send<SpecimenView>('POST', '/specimens', { name, text, expected: [{ pattern, values }] });

describe('own expressions', () => {
  it('are kept, listed, and refused with the reason where they cannot be run', async () => {
    const made = await create({});
    expect(made.status).toBe(201);
    expect(made.body.own?.expression).toMatchObject({
      namingWords: ['booking'],
      expression: BOOKING.expression,
    });
    expect(made.body).toMatchObject({ kind: 'own-expression', state: 'new', source: BOOKING.expression });
    for (const expression of ['(a)\\1', 'a(?=bc)', '\\w*', 'a(b']) {
      const refused = await create({ name: 'Other', expression });
      expect([expression, refused.status, refused.body.code]).toEqual([
        expression,
        422,
        'expression-refused',
      ]);
    }
    expect((await create({})).body.code).toBe('name-taken');
    expect((await create({ name: 'Far', wordDistance: 61 })).status).toBe(400);
    expect(
      (
        await create({
          name: 'Ranges',
          exclusions: { values: [], words: [], ranges: [{ from: 'a', to: '2' }] },
        })
      ).status,
    ).toBe(400);
  });

  it('of two authors the second is told; a word list is not overwritten by one', async () => {
    const { body } = await create({ name: 'Crew' });
    expect((await save(body.id, { name: 'Crew', about: 'mine' }, 1)).body.own?.version).toBe(2);
    const late = await save(body.id, { name: 'Crew', about: 'theirs' }, 1);
    expect([late.status, late.body.code]).toEqual([409, 'changed-meanwhile']);
    const words = await client.send<ErrorBody>('PUT', `/patterns/${body.id}`, {
      name: 'Crew',
      about: '',
      words: 'x',
      version: 2,
    });
    expect(words.status).toBe(404);
  });

  it('are looked for once a rule asks and a revision is published', async () => {
    const { body } = await create({ name: 'Voyage', expression: '\\bVOY\\d{4}\\b' });
    const when = { kind: 'findings', pattern: body.id, atLeast: 1, distinct: false, certainty: 80 };
    await publish(client, 'Voyages', [ruleOf({ when })]);
    expect((await client.get<PatternDetail>(`/patterns/${body.id}`)).body.state).toBe('published');
  });
});

describe('specimens', () => {
  it('are kept sealed, listed by pattern, changed and removed', async () => {
    const { body } = await create({ name: 'Sealed' });
    const kept = await keep(body.id, 'A letter', 'Your booking MS-104233', ['MS-104233']);
    expect(kept.status).toBe(201);
    const rows: { sealed: Buffer }[] = await running.database.query('SELECT sealed FROM specimen');
    expect(rows.every(({ sealed }) => !sealed.includes('MS-104233'))).toBe(true);
    const listed = await client.get<SpecimenView[]>(`/specimens?pattern=${body.id}`);
    expect(listed.body).toMatchObject([{ name: 'A letter', text: 'Your booking MS-104233' }]);
    expect((await client.get<SpecimenView[]>('/specimens?pattern=none')).body).toEqual([]);
    const changed = { name: 'A letter', text: 'MS-1', expected: [{ pattern: body.id, values: [] }] };
    expect((await client.send('PUT', `/specimens/${kept.body.id}`, changed)).status).toBe(200);
    expect((await client.send('DELETE', `/specimens/${kept.body.id}`)).status).toBe(204);
    expect((await client.send('DELETE', `/specimens/${kept.body.id}`)).status).toBe(404);
  });

  it('stop a publishing that breaks them until somebody takes it upon themselves, which is recorded', async () => {
    const { body } = await create({ name: 'Held', expression: '\\bHELD-\\d{4}\\b' });
    const kept = await keep(body.id, 'A held one', 'HELD-1234', ['held 1234']);
    await publish(client, 'Held', [ruleOf()]);
    expect((await save(body.id, { name: 'Held', expression: '\\bHELD-\\d{5}\\b' }, 1)).status).toBe(200);
    const draft = await client.get<DraftView>('/revisions/draft');
    expect(draft.body.broken).toMatchObject([
      { name: 'A held one', patternName: 'Held', missed: 1, extra: 0 },
    ]);
    const request = { name: 'Five digits', reason: '' };
    const refused = await client.send<ErrorBody>('POST', '/revisions', request);
    expect([refused.status, refused.body.code]).toEqual([409, 'specimens-change']);
    const published = await client.send<RevisionView>('POST', '/revisions', {
      ...request,
      brokenSpecimens: [kept.body.id],
    });
    expect(published.body.brokenSpecimens).toEqual(['A held one']);
    // Broken before as it is broken now: the next publishing is not asked again.
    expect((await client.get<DraftView>('/revisions/draft')).body.broken).toEqual([]);
  });
});
