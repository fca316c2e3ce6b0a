/** Flows that run against the stand-ins, and assistants that are asked: everything they move is judged. */
import { randomUUID } from 'node:crypto';
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import type { IncidentDetail, MailSummary, WaitingView, RoomView, ThingView } from '@lantern/contracts';
import type {
  AssistantOffer,
  AssistantTalk,
  AutomationKept,
  FlowRunView,
} from '@lantern/contracts/crossings';
import { CROSSINGS, STARTER_LABELS } from '@lantern/demo';
import { CrossingDrafts } from '../src/crossings/crossing-drafts.service.js';
import { PlaceEntity } from '../src/directory/place.entity.js';
import { DiscoveryPlaceEntity } from '../src/discovery/places/discovery-place.entity.js';
import { MovementEntity } from '../src/incidents/incident.entity.js';
import { FlowRunner } from '../src/stand-ins/automations/runs/flow-runner.service.js';
import { FlowRunEntity } from '../src/stand-ins/automations/runs/flow-run.entity.js';
import { parted } from '../src/stand-ins/automations/assistants/assistant-sources.service.js';
import { type Client, OUTSIDE, publish, ruleOf, type Running, start } from './harness.js';

const ASK = { reasons: [{ words: 'It is meant', leads: 'goes-on' }], minutes: 30, otherwise: 'stays' };
let running: Running;
let client: Client;
let bea: string;
let jun: string;
let room: RoomView;

beforeAll(async () => {
  running = await start();
  client = await running.client();
  [bea = '', jun = ''] = (
    await Promise.all(['Bea Lindqvist', 'Jun Abara'].map((name) => running.person(name)))
  ).map(({ id }) => id);
  const text = JSON.stringify({ format: 'uncut-lantern labels 1', ...STARTER_LABELS, automatic: [] });
  await client.send('POST', '/labels/text', { text, onlyLook: false });
  await running.application.get(CrossingDrafts).replace(CROSSINGS, { name: 'tests' });
  const cards = { kind: 'findings', pattern: 'payment-card', atLeast: 1, distinct: false, certainty: 80 };
  await publish(client, 'Cards in rooms', [ruleOf({ when: cards, answer: 'ask', ask: ASK })], {
    channels: ['chat'],
  });
  const used = (deeds: readonly string[]) => ({ kind: 'use', deeds, by: null, objects: [], reports: [] });
  await publish(
    client,
    'Assistants',
    [
      ruleOf({ when: { kind: 'all', of: [used(['question']), cards] } }),
      ruleOf({ when: { kind: 'all', of: [used(['answer']), cards] }, answer: 'hold' }),
    ],
    { channels: ['business'] },
  );
  const made = await client.send<RoomView>('POST', `/stand-ins/chat/${bea}/rooms`, {
    name: 'Refund desk',
    members: ['jun.abara@merrowstrait.example'],
  });
  room = made.body;
  const root = join(running.config.places, 'timetables');
  mkdirSync(join(root, 'summer'), { recursive: true });
  writeFileSync(
    join(root, 'summer/ferries.txt'),
    'The last ferry to Carrow leaves at 22:40 in July.\n\nBicycles travel free.',
  );
  writeFileSync(join(root, 'refunds.csv'), 'name,card\nAnna Hale,4539 1488 0343 6467\n');
  const owner = 'bea.lindqvist@merrowstrait.example';
  const placeId = randomUUID();
  await running.database.getRepository(PlaceEntity).insert({
    ...{ id: placeId, name: 'Timetables', about: '', folder: 'timetables', owner },
    ...{ sharedOutside: [], members: [] },
  });
  const place = await client.send<{ id: string }>('POST', '/discovery/places', {
    ...{ name: 'Timetables', store: 'folder', address: { at: root }, group: 'none' },
    ...{ owner, reach: 'organisation', unmanaged: false, unwanted: [] },
  });
  await running.database
    .getRepository(DiscoveryPlaceEntity)
    .update({ id: place.body.id }, { directoryPlaceId: placeId });
});
afterAll(() => running.stop());

const base = (player: string): string => `/stand-ins/automations/${encodeURIComponent(player)}`;
const save = async (player: string, automation: object, isOn = true) =>
  (
    await client.send<AutomationKept>('PUT', `${base(player)}/automations`, {
      isOn,
      automation: { ...{ id: 'new', name: 'A flow', owner: '', workspace: 'live' }, ...automation },
    })
  ).body;
const flow = (...steps: readonly object[]) => ({
  kind: 'flow',
  steps: steps.map((step, at) => ({
    ...{ id: `s${at}`, name: `Step ${at}`, after: at === 0 ? [] : [`s${at - 1}`] },
    ...step,
  })),
});
const run = async (id: string, player = bea) =>
  client.send<FlowRunView & { message: string }>('POST', `${base(player)}/automations/${id}/runs`);
const runsOf = async (id: string, player = bea) =>
  (await client.get<FlowRunView[]>(`${base(player)}/automations/${id}/runs`)).body;
async function until(id: string, state: FlowRunView['state'], player = bea): Promise<FlowRunView> {
  for (let tries = 0; tries < 300; tries += 1) {
    const [last] = await runsOf(id, player);
    if (last?.state === state) return last;
    await wait(100);
  }
  throw new Error(`The run is ${JSON.stringify((await runsOf(id, player))[0])} and not ${state}`);
}
const movements = (where: object) => running.database.getRepository(MovementEntity).findBy(where);
const posted = async () =>
  (await client.get<ThingView[]>(`/stand-ins/chat/${jun}/rooms/${room.id}/things`)).body;

describe('a flow that runs', () => {
  it('reads from one stand-in and writes into the next, each a movement of its owner', async () => {
    const { id } = await save(
      bea,
      flow(
        { service: 'ledger', operation: 'export', target: 'freight' },
        { service: 'sheets', operation: 'write', target: 'Freight of the week' },
        { service: 'mail', operation: 'send', target: 'jun.abara@merrowstrait.example' },
      ),
    );
    const before = (await movements({ channel: 'business', activity: 'export' })).length;
    expect((await run(id)).body.state).toBe('running');
    const done = await until(id, 'done');
    expect(done.steps.map(({ name, state }) => `${name}: ${state}`)).toEqual([
      'Step 0: done',
      'Step 1: done',
      'Step 2: done',
    ]);
    expect(done.steps[0]?.words).toContain('Exported "Freight by route"');
    expect(await movements({ channel: 'business', activity: 'export' })).toHaveLength(before + 1);
    const [mail] = (await client.get<MailSummary[]>(`/stand-ins/mail/${jun}/messages`)).body;
    expect(mail).toMatchObject({ subject: 'A flow' });
  });

  it('waits where its movement waits, and goes on from there', async () => {
    const { id } = await save(
      bea,
      flow(
        { service: 'ledger', operation: 'read', target: 'bookings' },
        { service: 'chat', operation: 'post', target: 'refund desk' },
        { service: 'sheets', operation: 'write', target: 'After the post' },
      ),
    );
    await run(id);
    const waiting = await until(id, 'waiting');
    expect(waiting.steps.map(({ state }) => state)).toEqual(['done', 'waiting']);
    expect(waiting.steps[1]?.incident).toBeGreaterThan(0);
    expect(await posted()).toEqual([]);
    // A second run beside it is refused.
    expect((await run(id)).body.message).toContain('running already');
    const mine = (await client.get<ThingView[]>(`/stand-ins/chat/${bea}/rooms/${room.id}/things`)).body;
    await client.send('POST', `/stand-ins/things/${bea}/${mine[0]?.id ?? ''}/reply`, {
      leads: 'goes-on',
      words: 'It is meant',
    });
    const done = await until(id, 'done');
    expect(done.steps.map(({ state }) => state)).toEqual(['done', 'done', 'done']);
    expect((await posted())[0]?.text).toContain('B-400000');
    // Rules that ask where it was taken from see the service that it was read out of.
    const [moved] = await movements({ channel: 'chat' });
    expect(moved?.way?.from).toEqual([{ kind: 'application', name: 'Booking and freight ledger' }]);
  });

  it('stops where its movement is turned back, and names the step', async () => {
    const { id } = await save(
      bea,
      flow(
        { service: 'ledger', operation: 'read' },
        { service: 'chat', operation: 'post' },
        { service: 'crew', operation: 'read' },
      ),
    );
    await run(id);
    await until(id, 'waiting');
    const mine = (await client.get<ThingView[]>(`/stand-ins/chat/${bea}/rooms/${room.id}/things`)).body;
    const asked = mine.find(({ state }) => state === 'waiting');
    const answered = await client.send('POST', `/stand-ins/things/${bea}/${asked?.id ?? ''}/reply`, {
      leads: 'stays',
      words: 'I turn back',
    });
    expect(answered).toMatchObject({ status: 204 });
    const stopped = await until(id, 'stopped');
    expect(stopped.steps.map(({ state }) => state)).toEqual(['done', 'refused']);
    expect([stopped.stepsInAll, stopped.endedAt === null]).toEqual([3, false]);
  });

  it('lets its owner answer from the run, and nobody else', async () => {
    const told = (act: string, of: string, body: object, player = bea) =>
      client.send(`POST`, `${base(player)}/automations/${of}/runs/${act}`, body);
    const chat = await save(
      bea,
      flow({ service: 'ledger', operation: 'read' }, { service: 'chat', operation: 'post' }),
    );
    await run(chat.id);
    const waiting = await until(chat.id, 'waiting');
    expect(waiting.notice).toMatchObject({ state: 'waiting', ask: { reasons: ASK.reasons } });
    const reply = { leads: 'goes-on', words: 'It is meant' };
    expect((await told(`${waiting.id}/reply`, chat.id, reply, jun)).status).toBe(403);
    expect((await told(`${randomUUID()}/reply`, chat.id, reply)).status).toBe(404);
    expect((await told(`${waiting.id}/reply`, chat.id, reply)).status).toBe(204);
    expect((await until(chat.id, 'done')).notice).toBeNull();
  });

  it('says which step cannot be done here, and what a step was refused for', async () => {
    const cases = [
      [{ service: 'mail', operation: 'send', target: 'nobody' }, 'failed', 'is not a mail address'],
      [{ service: 'sheets', operation: 'read', target: 'Of nobody' }, 'failed', 'no sheet named "Of nobody'],
      [
        { service: 'chat', operation: 'read', target: 'Engine room' },
        'failed',
        'no room named "Engine room"',
      ],
      [{ service: 'ledger', operation: 'export', target: 'Pigeons' }, 'failed', 'no report "pigeons"'],
      [{ service: 'ledger', operation: 'read', target: 'pigeons' }, 'failed', 'no records "pigeons"'],
      [{ service: 'crew', operation: 'write' }, 'not-here', 'No stand-in of this demo'],
    ] as const;
    for (const [step, state, words] of cases) {
      const { id } = await save(bea, flow(step));
      await run(id);
      const [told] = (await until(id, 'stopped')).steps;
      expect([told?.state, told?.words]).toEqual([state, expect.stringContaining(words)]);
    }
  });

  it('runs a ring once, and hands on what every step before gave once', async () => {
    const { id } = await save(bea, {
      kind: 'flow',
      steps: [
        { id: 'a', name: '', service: 'tides', operation: 'read', after: ['c'] },
        { id: 'b', name: '', service: 'crew', operation: 'read', after: ['a'] },
        { id: 'c', name: '', service: 'sheets', operation: 'write', target: 'Ring', after: ['a', 'b'] },
      ],
    });
    await run(id);
    const done = await until(id, 'done');
    expect(done.steps.map(({ step }) => step)).toEqual(['a', 'b', 'c']);
    const files = (await client.get<{ id: string; name: string }[]>(`/stand-ins/drive/${bea}/files`)).body;
    const sheet = files.find(({ name }) => name === 'Ring.csv');
    const opened = await client.get<{ text: string }>(`/stand-ins/drive/${bea}/files/${sheet?.id ?? ''}`);
    const written = JSON.stringify(opened.body);
    expect(written.split('Merrow Sound')).toHaveLength(2);
    expect(written.split('Name,Department')).toHaveLength(2);
  });

  it('writes sheets of one name for two people', async () => {
    for (const player of [bea, jun]) {
      const steps = flow(
        { service: 'tides', operation: 'read' },
        { service: 'sheets', operation: 'write', target: 'Tides' },
      );
      const { id } = await save(player, steps);
      await run(id, player);
      expect((await until(id, 'done', player)).steps[1]?.words).toBe('Wrote the sheet "Tides.csv"');
    }
  });

  it('runs only what is switched on, by its owner', async () => {
    const breach = flow({ service: 'ledger', operation: 'read' }, { service: 'poster', operation: 'post' });
    const { id, isOn } = await save(bea, breach);
    expect(isOn).toBe(false);
    expect((await run(id)).body.message).toContain('switched off');
    expect((await run(id, jun)).status).toBe(403);
    expect(await runsOf(id)).toEqual([]);
  });

  it('ends a run that the server left in the middle of a step', async () => {
    const { id } = await save(bea, flow({ service: 'tides', operation: 'read' }));
    const repository = running.database.getRepository(FlowRunEntity);
    await repository.insert({
      ...{ id: randomUUID(), automationId: id, player: bea, startedAt: new Date(), endedAt: null },
      ...{ state: 'running', steps: [], stepsInAll: 1 },
    });
    await running.application.get(FlowRunner).onApplicationBootstrap();
    const stopped = await until(id, 'stopped');
    expect(stopped.steps[0]?.words).toContain('in the middle of this run');
    await run(id);
    await until(id, 'done');
  });
});

describe('an assistant that is asked', () => {
  const assistant = (over: object = {}) => ({
    ...{ kind: 'assistant', name: 'Ask the timetables', steps: [], published: ['chat'] },
    ...{ audience: 'signed-in', sources: [{ kind: 'place', name: 'Timetables', label: null }] },
    ...over,
  });
  const ask = async (id: string, question: string, player = jun) =>
    client.send<AssistantTalk & { code: string; message: string }>(
      'POST',
      `${base(player)}/assistants/${id}/talks`,
      { question },
    );
  const offered = async (player: string) =>
    (await client.get<AssistantOffer[]>(`${base(player)}/assistants`)).body.map(({ name }) => name);

  it('answers out of what it reads; question and answer are movements', async () => {
    const { id } = await save(bea, assistant());
    const { body } = await ask(id, 'When does the last ferry to Carrow leave?');
    expect(body.answer?.text).toContain('leaves at 22:40');
    expect(body.answer?.text).toContain('ferries.txt:');
    const by = { personAddress: 'jun.abara@merrowstrait.example' };
    expect(await movements({ ...by, activity: 'question' })).toHaveLength(1);
    expect(await movements({ ...by, activity: 'answer' })).toHaveLength(1);
    expect((await ask(id, 'zzz')).body.answer?.text).toContain('found nothing');
    // What changes in the place is answered from then on.
    writeFileSync(
      join(running.config.places, 'timetables/winter.txt'),
      'In winter the quay closes at 18:00.',
    );
    expect((await ask(id, 'When does the quay close in winter?')).body.answer?.text).toContain('18:00');
  });

  it('is stopped like anybody: what it is asked, and what it would answer', async () => {
    const { id } = await save(bea, assistant({ name: 'Ask about refunds' }));
    const asked = (await ask(id, 'Is the credit card 4539 1488 0343 6467 refunded?')).body;
    expect([asked.question.state, asked.answer]).toEqual(['refused', null]);
    const held = (await ask(id, 'Which card has Anna Hale?')).body;
    expect(held.answer).toEqual({ state: 'waiting', text: null });
    expect(JSON.stringify(held)).not.toContain('4539');
    const number = held.notice?.incident ?? 0;
    const { body } = await client.get<IncidentDetail>(`/incidents/${number}`);
    expect(body.person.address).toBe('jun.abara@merrowstrait.example');
    const waiting = (await client.get<WaitingView[]>('/waiting')).body.find(
      ({ incident }) => incident === number,
    );
    await client.send('POST', `/waiting/${waiting?.id ?? ''}/decision`, { goesOn: true, words: 'Checked' });
    const [talk] = (await client.get<AssistantTalk[]>(`${base(jun)}/assistants/${id}/talks`)).body;
    expect([talk?.answer?.state, talk?.answer?.text]).toEqual(['went-on', expect.stringContaining('4539')]);
  });

  it('answers only those whom it is for', async () => {
    const named = await save(
      bea,
      assistant({ name: 'For Jun', audience: 'named', people: ['JUN.ABARA@merrowstrait.example'] }),
    );
    const open = await save(
      bea,
      assistant({ name: 'For anybody', audience: 'anybody', published: ['site'] }),
    );
    const guest = OUTSIDE;
    expect(await offered(jun)).toEqual(expect.arrayContaining(['For Jun', 'For anybody']));
    expect(await offered(guest)).toEqual(['For anybody']);
    expect((await ask(named.id, 'ferry', guest)).status).toBe(403);
    expect((await ask(open.id, 'ferry to Carrow', guest)).body.answer?.text).toContain('22:40');
    expect((await ask(named.id, 'ferry to Carrow', jun)).body.answer?.text).toContain('22:40');
    await save(bea, { ...assistant({ name: 'For anybody' }), id: open.id }, false);
    expect((await ask(open.id, 'ferry', jun)).body.message).toContain('switched off');
  });

  it('is judged by the label that its place carries now, whatever was handed in about it', async () => {
    const bridge = STARTER_LABELS.labels.find(({ name }) => name === 'Bridge only')?.id ?? '';
    const places = running.database.getRepository(DiscoveryPlaceEntity);
    const open = await save(
      bea,
      assistant({ name: 'Open to all', audience: 'anybody', published: ['chat'] }),
    );
    expect(open.isOn).toBe(true);
    await places.update({ name: 'Timetables' }, { labelId: String(bridge) });
    // At once, without anybody saving or publishing anything.
    expect((await ask(open.id, 'ferry')).body.message).toContain('switched off');
    const claimed = assistant({ name: 'Claims nothing', audience: 'anybody', published: ['chat'] });
    expect((await save(bea, claimed)).verdict.breaches.map(({ reason }) => reason.code)).toEqual([
      ...['audience', 'audience', 'outlet'],
    ]);
    await places.update({ name: 'Timetables' }, { labelId: null });
    expect((await ask(open.id, 'ferry to Carrow')).body.answer?.text).toContain('22:40');
  });

  it('names what it does not read', async () => {
    const sources = [
      { kind: 'site', address: 'https://www.merrowstrait.example/fares' },
      { kind: 'place', name: 'A place that is gone', label: null },
    ];
    const { id } = await save(bea, assistant({ name: 'Blind', sources }));
    const text = (await ask(id, 'ferry')).body.answer?.text ?? '';
    expect(text).toContain('nothing outside of this machine can be reached');
    expect(text).toContain('A place that is gone');
  });
});

it('parts a text into passages of whole lines, and cuts what is one endless line', () => {
  expect(parted('a\nb\n\nc')).toEqual(['a\nb', 'c']);
  expect(parted('')).toEqual([]);
  expect(parted('x'.repeat(1_100)).map(({ length }) => length)).toEqual([500, 500, 100]);
  const lines = Array.from({ length: 50 }, (_each, at) => `line ${at} ${'y'.repeat(30)}`);
  expect(parted(lines.join('\n')).join('\n')).toBe(lines.join('\n'));
});
