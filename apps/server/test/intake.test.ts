import { randomUUID } from 'node:crypto';
import type { AgentView, IntakeAnswer, IntakeVerdict, NewAgent, WaitingView } from '@lantern/contracts';
import { SubmissionEntity } from '../src/movements/submission.entity.js';
import { IncidentEntity, MovementEntity } from '../src/incidents/incident.entity.js';
import { agentOf, CARDS, type Client, publish, ruleOf, type Running, start } from './harness.js';

describe('the intake for agents', () => {
  let running: Running;
  let client: Client;
  let agent: NewAgent;

  beforeAll(async () => {
    running = await start();
    client = await running.client();
    agent = (await client.send<NewAgent>('POST', '/agents', { name: 'Laptops of the north' })).body;
    await publish(
      client,
      'Bookings',
      [
        ruleOf({
          when: { kind: 'taken-from', spots: [{ kind: 'application', name: 'Booking system' }] },
          unless: { kind: 'put-into', spots: [{ kind: 'application', name: 'Manifest editor' }] },
          override: { mayAsk: {}, decides: 'approvers' },
        }),
        ruleOf({
          answer: 'hold',
          when: {
            kind: 'put-into',
            spots: [{ kind: 'device', device: 'plugged-in', trusted: false }],
          },
        }),
        ruleOf({
          answer: 'ask',
          ask: { reasons: [{ words: 'Wrong page', leads: 'stays' }], minutes: 5, otherwise: 'stays' },
        }),
      ],
      { channels: ['endpoint', 'browser'] },
    );
  });
  afterAll(() => running.stop());

  const call = (path: string, init: RequestInit = {}, key = agent.key) =>
    agentOf(running, key).call(path, init);
  const hand = (...movements: readonly object[]) => agentOf(running, agent.key).hand(...movements);
  const movement = (over: object = {}) => ({
    key: randomUUID(),
    channel: 'endpoint',
    activity: 'copy',
    person: 'orla.fenwick@merrowstrait.example',
    texts: [{ text: 'a booking' }],
    ...over,
  });
  const booking = { takenFrom: [{ kind: 'application', name: 'Booking system' }] };

  it('judges each movement on its own and says which were refused, and why', async () => {
    const results = await hand(
      movement(booking),
      movement({ ...booking, putInto: [{ kind: 'application', name: 'Manifest editor' }] }),
      movement({ ...booking, colour: 'red' }),
      movement({ texts: [] }),
      movement({ at: new Date(Date.now() + 3_600_000).toISOString() }),
      movement({ channel: 'pigeon' }),
      movement({ files: [{ name: 'a', base64: '!!' }] }),
    );
    expect(results).toMatchObject([
      {
        status: 'judged',
        answer: 'block',
        state: 'refused',
        notice: { policyName: 'Bookings', ruleNumber: 1 },
      },
      { status: 'judged', answer: null, state: 'went-on', notice: null, incident: null },
      { status: 'refused', code: 'invalid-request', message: expect.stringContaining('colour') },
      { status: 'refused', code: 'empty-movement' },
      { status: 'refused', code: 'from-the-future' },
      { status: 'refused', code: 'invalid-request', message: expect.stringContaining('channel') },
      { status: 'refused', code: 'invalid-request' },
    ]);
  });

  it('judges the same once, however often and at once it is handed in', async () => {
    const one = movement(booking);
    const before = await running.database.getRepository(MovementEntity).count();
    const all = await Promise.all(Array.from({ length: 6 }, () => hand(one)));
    const ids = new Set(all.flat().map((result) => (result.status === 'judged' ? result.id : result.code)));
    expect(ids.size).toBe(1);
    expect(await running.database.getRepository(MovementEntity).count()).toBe(before + 1);
    expect(await hand({ ...one, texts: [{ text: 'something else' }] })).toMatchObject([
      { status: 'refused', code: 'key-used' },
    ]);
  });

  it('takes what happened while an agent was away, at its own time', async () => {
    const at = new Date(Date.now() - 3 * 3_600_000);
    const [result] = await hand(movement({ ...booking, at: at.toISOString() }));
    if (result?.status !== 'judged') throw new Error('refused');
    const incident = await running.database
      .getRepository(IncidentEntity)
      .findOneByOrFail({ number: result.incident ?? 0 });
    expect(incident.at.getTime()).toBe(at.getTime());
  });

  it('keeps what waits until somebody decides, and tells its agent', async () => {
    const stick = { kind: 'device', device: 'plugged-in', name: 'Stick 4', trusted: false };
    const [held] = await hand(movement({ putInto: [stick] }));
    if (held?.status !== 'judged') throw new Error('refused');
    expect(held).toMatchObject({ answer: 'hold', state: 'waiting' });
    const second = await running.client('second@merrowstrait.example');
    const { body: waiting } = await second.get<WaitingView[]>('/waiting');
    expect(waiting.find(({ id }) => id === held.id)).toMatchObject({ channel: 'endpoint', refusal: null });
    await second.send('POST', `/waiting/${held.id}/decision`, { goesOn: true, words: 'It is our own stick' });
    const { body } = await call(`movements/${held.id}`);
    expect(body).toMatchObject({ state: 'went-on', notice: { decision: { words: 'It is our own stick' } } });
    const row = await running.database.getRepository(MovementEntity).findOneByOrFail({
      id: (await running.database.getRepository(SubmissionEntity).findOneByOrFail({ id: held.id }))
        .movementId,
    });
    expect(row.way).toMatchObject({ activity: 'copy', into: [stick] });
    expect(row.recipients).toEqual([{ address: 'Stick 4', outside: true }]);
  });

  it('counts a site that is not ours as outside, whoever gets it', async () => {
    const paste = (host: string) =>
      movement({
        channel: 'browser',
        activity: 'paste',
        texts: [{ text: CARDS }],
        putInto: [{ kind: 'host', host }],
      });
    expect(await hand(paste('askmarlow.example'), paste('intranet.merrowstrait.example'))).toMatchObject([
      { answer: 'ask', state: 'waiting' },
      { answer: null },
    ]);
  });

  it('judges people whom the directory does not know, and machines it has never seen', async () => {
    const [result] = await hand(
      movement({
        ...booking,
        person: 'temp@agency.example',
        machine: 'NEVER-SEEN',
        texts: [{ text: 'x'.repeat(900_000) }],
      }),
    );
    expect(result).toMatchObject({ status: 'judged', answer: 'block', notice: { override: null } });
  });

  describe('what the person says', () => {
    const asked = async () => {
      const host = { kind: 'host', host: 'askmarlow.example' };
      const paste = { channel: 'browser', activity: 'paste', texts: [{ text: CARDS }], putInto: [host] };
      const [result] = await hand(movement(paste));
      if (result?.status !== 'judged') throw new Error('refused');
      return result;
    };
    const say = (id: string, what: string, body: object, key?: string) =>
      call(`movements/${id}/${what}`, { method: 'POST', body: JSON.stringify(body) }, key);

    it('lets a movement go, or takes it back, and stands with the incident word for word', async () => {
      const one = await asked();
      const words = 'These numbers are made up';
      expect((await say(one.id, 'reply', { leads: 'goes-on', words })).body).toMatchObject({
        state: 'went-on',
      });
      const { body: incident } = await client.get<{ history: { text: string | null }[] }>(
        `/incidents/${one.incident}`,
      );
      expect(incident.history.some(({ text }) => text?.includes(words))).toBe(true);
      expect((await say(one.id, 'reply', { leads: 'stays', words })).status).toBe(409);
      const two = await asked();
      expect((await say(two.id, 'reply', { leads: 'stays', words: 'Wrong page' })).body).toMatchObject({
        state: 'taken-back',
      });
    });

    it('asks somebody to let it go, who decides', async () => {
      const [blocked] = await hand(movement(booking));
      if (blocked?.status !== 'judged') throw new Error('refused');
      expect((await say(blocked.id, 'override', { words: 'The ship needs it' })).body).toMatchObject({
        state: 'waiting',
      });
      const second = await running.client('second@merrowstrait.example');
      await second.send('POST', `/waiting/${blocked.id}/decision`, { goesOn: true, words: 'Once' });
      expect((await call(`movements/${blocked.id}`)).body).toMatchObject({ state: 'went-on' });
    });

    it('calls what was found a false finding', async () => {
      const one = await asked();
      expect((await say(one.id, 'report', { words: 'From the training book' })).status).toBe(204);
      const { body } = await client.get<{ reported: boolean }>(`/incidents/${one.incident}`);
      expect(body.reported).toBe(true);
    });

    it('is taken from nobody but the agent that handed it in, and from nobody unknown', async () => {
      const one = await asked();
      const { body: other } = await client.send<NewAgent>('POST', '/agents', { name: 'Another one' });
      const reply = { leads: 'goes-on', words: 'Mine' };
      expect((await say(one.id, 'reply', reply, other.key)).status).toBe(404);
      expect((await say(one.id, 'reply', { leads: 'up', words: '' })).status).toBe(400);
      const [strange] = await hand(movement({ ...booking, person: 'temp@agency.example' }));
      if (strange?.status !== 'judged') throw new Error('refused');
      expect((await say(strange.id, 'override', { words: 'Please' })).status).toBe(403);
    });
  });

  it('opens nothing without a key, with a wrong one, or with one that was taken back', async () => {
    const refused = await call('movements', { method: 'POST', body: '{"movements":[]}' }, 'x'.repeat(40));
    expect(refused).toMatchObject({ status: 401, body: { code: 'unknown-agent' } });
    const { body: other } = await client.send<NewAgent>('POST', '/agents', { name: 'Old machine' });
    const [kept] = await hand(movement(booking));
    if (kept?.status !== 'judged') throw new Error('refused');
    expect(await call(`movements/${kept.id}`, {}, other.key)).toMatchObject({ status: 404 });
    await client.send('DELETE', `/agents/${other.id}`);
    expect(await call(`movements/${kept.id}`, {}, other.key)).toMatchObject({ status: 401 });
    const { body: agents } = await client.get<AgentView[]>('/agents');
    expect(JSON.stringify(agents)).not.toContain(agent.key);
    expect(agents.find(({ id }) => id === other.id)?.revokedAt).not.toBeNull();
  });

  it('refuses a movement that is larger than anything it reads, and a batch that is longer', async () => {
    const huge = await fetch(`${running.address}/api/intake/movements`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', authorization: `Bearer ${agent.key}` },
      body: `{"movements":[{"key":"k","files":[{"name":"a","base64":"${'A'.repeat(50 * 1024 * 1024)}"}]}]}`,
    });
    expect(huge.status).toBe(413);
    const long = await call('movements', {
      method: 'POST',
      body: JSON.stringify({ movements: Array.from({ length: 51 }, () => movement()) }),
    });
    expect(long.status).toBe(400);
  });

  describe('an agent with limits', () => {
    const submit = async (key: string, over: object) => {
      const movements = [movement({ texts: [{ text: 'Good morning' }], ...over })];
      const { body } = await call('movements', { method: 'POST', body: JSON.stringify({ movements }) }, key);
      return (body as IntakeAnswer).results[0];
    };
    const hoursAgo = (hours: number) => new Date(Date.now() - hours * 3_600_000).toISOString();

    it('speaks only for its people and its time, and each refusal keeps nothing', async () => {
      const people = {
        with: [{ kind: 'person', address: 'orla.fenwick@merrowstrait.example' }],
        without: [],
      };
      const made = await client.send<NewAgent>('POST', '/agents', { name: 'Desk 12', people, hoursBack: 24 });
      const { key } = made.body;
      const before = await running.database.getRepository(MovementEntity).count();
      expect(await submit(key, {})).toMatchObject({ status: 'judged' });
      expect(await submit(key, { at: hoursAgo(23) })).toMatchObject({ status: 'judged' });
      for (const over of [{ person: 'bea.lindqvist@merrowstrait.example' }, { at: hoursAgo(25) }])
        expect(await submit(key, over)).toMatchObject({ status: 'refused', code: 'not-permitted' });
      expect(await running.database.getRepository(MovementEntity).count()).toBe(before + 2);
      const listed = (await client.get<AgentView[]>('/agents')).body.find(({ name }) => name === 'Desk 12');
      expect(listed).toMatchObject({ people, hoursBack: 24, movements: 2 });
    });

    it('answers a judged movement again under its key when its hours have passed', async () => {
      const made = await client.send<NewAgent>('POST', '/agents', { name: 'Desk 14', hoursBack: 24 });
      const first = await submit(made.body.key, { key: 'told-twice', at: hoursAgo(1) });
      expect(first).toMatchObject({ status: 'judged' });
      expect(await submit(made.body.key, { key: 'told-twice', at: hoursAgo(40) })).toEqual(first);
      expect(await submit(made.body.key, { key: 'told-late', at: hoursAgo(40) })).toMatchObject({
        status: 'refused',
        code: 'not-permitted',
      });
    });

    it('is refused where its limits are of no shape', async () => {
      for (const over of [{ people: { with: 'everybody' } }, { hoursBack: 0 }, { hoursBack: 1.5 }])
        expect((await client.send('POST', '/agents', { name: 'Desk 13', ...over })).status).toBe(400);
    });
  });

  it('publishes the shape of a movement to everybody', async () => {
    const response = await fetch(`${running.address}/api/intake/schema`);
    expect(await response.json()).toMatchObject({ required: ['key', 'channel', 'activity', 'person'] });
  });

  it('lets an account without the right to it neither make keys nor change a channel', async () => {
    const auditor = await running.client('auditor@merrowstrait.example');
    expect((await auditor.send('POST', '/agents', { name: 'Mine' })).status).toBe(403);
    expect((await auditor.send('PUT', '/channels/mail', { unfinished: 'let-go' })).status).toBe(403);
    expect((await client.send('PUT', '/channels/chat', { unfinished: 'hold' })).status).toBe(400);
    expect(
      (await client.send<unknown[]>('PUT', '/channels/mail', { unfinished: 'block' })).body,
    ).toContainEqual({
      channel: 'mail',
      unfinished: 'block',
      seconds: 30,
      choices: ['hold', 'block', 'let-go'],
    });
  });

  it('knows where each movement stands for its own agent alone', async () => {
    const [result] = await hand(movement(booking));
    const verdict = result?.status === 'judged' ? (result as IntakeVerdict) : null;
    expect((await call(`movements/${verdict?.id ?? ''}`)).body).toMatchObject({ key: verdict?.key });
    expect((await call(`movements/${randomUUID()}`)).status).toBe(404);
  });
});
