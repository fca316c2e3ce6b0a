import { execFile } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { promisify } from 'node:util';
import type { EventsAnswer, IntakeVerdict, NewAgent, PhoneView } from '@lantern/contracts';
import { CloudEvent, HTTP } from 'cloudevents';
import { IncidentEntity, MovementEntity } from '../src/incidents/incident.entity.js';
import { PendingEntity } from '../src/movements/pending/pending.entity.js';
import { type Client, publish, ruleOf, type Running, start, TEXT_ID } from './harness.js';

const run = promisify(execFile);

/** The door for real systems: CloudEvents 1.0.2 over HTTP, by the SDK of the standard's own project and by curl. */
describe('events of business applications', () => {
  let running: Running;
  let client: Client;
  let agent: NewAgent;

  beforeAll(async () => {
    running = await start();
    client = await running.client();
    agent = (await client.send<NewAgent>('POST', '/agents', { name: 'Freight system' })).body;
    await publish(
      client,
      'Exports',
      [
        ruleOf({
          when: { kind: 'fields', pattern: 'payment-card', certainty: 80, atLeast: 1 },
          answer: 'block',
        }),
        ruleOf({
          when: { kind: 'rows', atLeast: 5_001 },
          bands: [
            {
              ...{ answer: 'note', severity: 'medium', text: TEXT_ID },
              treatments: [{ kind: 'ask-who', minutes: 0, trusts: 'everywhere' }],
            },
          ],
        }),
      ],
      { channels: ['business'] },
    );
  });
  afterAll(() => running.stop());

  const event = (over: object = {}, data: object = {}) =>
    new CloudEvent({
      id: randomUUID(),
      source: '/freight/ledger',
      type: 'uncut-lantern.use.asked',
      data: {
        application: 'Freight system',
        person: 'orla.fenwick@merrowstrait.example',
        use: { deed: 'export', by: 'screen', objects: ['customers'], rows: 20 },
        ...data,
      },
      ...over,
    });
  const post = async (message: { headers: object; body: unknown }) => {
    const response = await fetch(`${running.address}/api/intake/events`, {
      method: 'POST',
      headers: { ...(message.headers as Record<string, string>), authorization: `Bearer ${agent.key}` },
      body: message.body as string,
    });
    return { status: response.status, body: (await response.json()) as EventsAnswer & { message?: string } };
  };
  const large = { use: { deed: 'export', by: 'interface', rows: 9_000 } };

  it.each([
    ['structured', (given: CloudEvent<unknown>) => HTTP.structured(given)],
    ['binary', (given: CloudEvent<unknown>) => HTTP.binary(given)],
  ])('answers one event in %s mode', async (_mode, wrap) => {
    const given = event();
    const { status, body } = await post(wrap(given));
    expect(status).toBe(200);
    expect(body).toMatchObject({
      results: [
        { status: 'judged', source: '/freight/ledger', id: given.id, answer: null, state: 'went-on' },
      ],
      seconds: 30,
      unfinished: 'hold',
    });
  });

  it('answers several in their order, each on its own', async () => {
    const good = event();
    const batch = [
      good,
      { ...event().toJSON(), specversion: '0.3' },
      { ...event().toJSON(), type: 'somebody.elses' },
      { ...event().toJSON(), 'Bad Name': 1 },
      event({}, { colour: 'red' }),
      event({}, { use: { by: 'screen' } }),
      event({ time: new Date(Date.now() + 3_600_000).toISOString() }),
      { id: 'x', specversion: '1.0', type: 'uncut-lantern.use.asked' },
      event({}, large),
    ];
    const { body } = await post({
      headers: { 'content-type': 'application/cloudevents-batch+json; charset=utf-8' },
      body: JSON.stringify(batch),
    });
    expect(body.results.map((each) => (each.status === 'judged' ? each.state : each.message))).toEqual([
      'went-on',
      'The event must be of specversion 1.0.',
      expect.stringContaining('type must be one of uncut-lantern.use.asked'),
      expect.stringContaining('no CloudEvent 1.0'),
      expect.stringContaining('colour'),
      expect.stringContaining('use.deed'),
      expect.stringContaining('in the future'),
      'The event has no source.',
      'waiting',
    ]);
  });

  it('gives the first answer again to an event that comes twice, and refuses another of the same name', async () => {
    const given = event({}, large);
    const [first] = (await post(HTTP.structured(given))).body.results;
    const [again] = (await post(HTTP.binary(given))).body.results;
    expect(again).toEqual(first);
    const other = event({ id: given.id });
    expect((await post(HTTP.structured(other))).body.results).toMatchObject([
      { status: 'refused', code: 'key-used' },
    ]);
    const elsewhere = event({ id: given.id, source: '/freight/copy' });
    expect((await post(HTTP.structured(elsewhere))).body.results).toMatchObject([{ status: 'judged' }]);
  });

  it('lets the application hand in the code of the person, by the movement it was told', async () => {
    const [asked] = (await post(HTTP.structured(event({}, large)))).body.results;
    expect(asked).toMatchObject({ state: 'waiting', notice: { proof: { triesLeft: 3 } } });
    const { id } = await running.person('Orla Fenwick');
    const { code } = (await client.get<PhoneView>(`/stand-ins/phone/${id}`)).body;
    const movement = asked?.status === 'judged' ? asked.movement : '';
    const response = await fetch(`${running.address}/api/intake/movements/${movement}/proof`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', authorization: `Bearer ${agent.key}` },
      body: JSON.stringify({ code }),
    });
    expect((await response.json()) as IntakeVerdict).toMatchObject({ state: 'went-on' });
  });

  it('records what happened already, with its incident, and holds or asks nothing', async () => {
    const { manager } = running.database;
    const waited = await manager.count(PendingEntity);
    const [taken] = (await post(HTTP.structured(event({ type: 'uncut-lantern.use.happened' }, large)))).body
      .results;
    expect(taken).toMatchObject({ status: 'judged', answer: 'note', state: 'went-on', notice: null });
    const incident = taken?.status === 'judged' ? taken.incident : null;
    expect(await manager.existsBy(IncidentEntity, { number: incident ?? 0 })).toBe(true);
    const moved = await manager.findOneByOrFail(MovementEntity, { incidentNumber: incident ?? 0 });
    expect(moved).toMatchObject({ wentOn: true, channel: 'business' });
    expect(await manager.count(PendingEntity)).toBe(waited);
  });

  it('looks into what is exported, column by column', async () => {
    const sheet = (card: string) =>
      ['Booking,Name,Paid by card', `B-1,Ann,${card}`, `B-2,Bea,${card}`, `B-3,Cid,${card}`].join('\n');
    const files = (text: string) => ({
      files: [{ name: 'bookings.csv', base64: Buffer.from(text).toString('base64') }],
    });
    const [held] = (await post(HTTP.structured(event({}, files(sheet('4539 1488 0343 6467')))))).body.results;
    expect(held).toMatchObject({ answer: 'block', state: 'refused' });
    const [free] = (await post(HTTP.structured(event({}, files(sheet('none')))))).body.results;
    expect(free).toMatchObject({ answer: null, state: 'went-on' });
  });

  it('speaks with curl', async () => {
    const body = JSON.stringify(event().toJSON());
    const { stdout } = await run('curl', [
      ...['--silent', '--show-error', '--fail', '--data-binary', body],
      ...['--header', 'content-type: application/cloudevents+json'],
      ...['--header', `authorization: Bearer ${agent.key}`, `${running.address}/api/intake/events`],
    ]);
    expect(JSON.parse(stdout) as EventsAnswer).toMatchObject({ results: [{ status: 'judged' }] });
  });

  it('refuses what is no event, too many, and whoever has no key', async () => {
    const headers = { 'content-type': 'application/cloudevents-batch+json' };
    expect((await post({ headers, body: '[' })).status).toBe(400);
    expect((await post({ headers, body: '[]' })).status).toBe(400);
    const many = JSON.stringify(Array.from({ length: 51 }, () => event()));
    expect((await post({ headers, body: many })).body.message).toContain('50');
    const stranger = await fetch(`${running.address}/api/intake/events`, {
      method: 'POST',
      headers,
      body: '[]',
    });
    expect(stranger.status).toBe(401);
    expect((await fetch(`${running.address}/api/intake/events/schema`)).status).toBe(200);
  });
});
