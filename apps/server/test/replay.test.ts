/** Drafts over the journal: the same as judging one by one, what cannot be judged, stopping, and being cut off. */
import { randomUUID } from 'node:crypto';
import type {
  ErrorBody,
  JournalView,
  PatternDetail,
  PolicyView,
  ReplayItem,
  ReplayView,
} from '@lantern/contracts';
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { PlaceEntity } from '../src/directory/place.entity.js';
import { type Policy, windowsAsked } from '@lantern/core/policy';
import { MovementEntity } from '../src/incidents/incident.entity.js';
import { PastAmounts } from '../src/movements/past/past-amounts.service.js';
import { JournalEntity } from '../src/journal/journal.entity.js';
import { ReplayEntity } from '../src/replay/replay.entity.js';
import { ReplayService } from '../src/replay/replay.service.js';
import {
  CARDS,
  type Client,
  mailForm,
  OUTSIDE,
  policyOf,
  publish,
  ruleOf,
  type Running,
  start,
  TEXT_ID,
} from './harness.js';

let running: Running;
let client: Client;
let policy: PolicyView;
let orla: string;

const PERIOD = { since: '2000-01-01T00:00:00Z', until: '2099-01-01T00:00:00Z' };
const send = (body: string, to = OUTSIDE) =>
  client.send('POST', '/stand-ins/mail/messages', mailForm({ person: orla, to: [to], body }));
const done = async (id: string): Promise<ReplayView> => {
  // A replay that never ends ends with the time of its test.
  for (;;) {
    const { body } = await client.get<ReplayView>(`/replays/${id}`);
    if (body.state !== 'waiting' && body.state !== 'running') return body;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
};
const replay = async (over: object = {}) => {
  const { body } = await client.send<ReplayView>('POST', '/replays', { ...PERIOD, ...over });
  return done(body.id);
};
const change = async (rules: readonly object[], over: object = {}) => {
  const now = (await client.get<PolicyView>(`/policies/${policy.policy.id}`)).body;
  const { id, ...fields } = now.policy;
  const saved = await client.send('PUT', `/policies/${id}`, {
    policy: { ...fields, rules, ...over },
    version: now.version,
  });
  expect(saved.status).toBe(200);
};

beforeAll(async () => {
  running = await start();
  client = await running.client();
  orla = (await running.person('Orla Fenwick')).id;
  await client.send('POST', '/patterns', { name: 'Ships', about: '', words: 'Slackwater' });
  policy = await publish(client, 'Cards', [ruleOf()]);
  for (const text of [CARDS, `${CARDS} again`, 'no cards here', 'we buy Slackwater next week'])
    await send(text);
  await send(CARDS, 'bea.lindqvist@merrowstrait.example');
});
afterAll(() => running.stop());

describe('a replay', () => {
  it('finds no difference where nothing was changed', async () => {
    expect(await replay()).toMatchObject({
      state: 'done',
      total: 5,
      judged: 5,
      notJudged: 0,
      detectedAgain: 0,
      difference: { shifts: { same: 5, 'newly-stopped': 0 }, interrupted: { before: 1, after: 1 } },
    });
  });

  it('shows what a change lets through and what it newly stops, with the movements', async () => {
    const inside = {
      kind: 'all',
      of: [
        { kind: 'findings', pattern: 'payment-card' },
        { kind: 'recipient', side: 'inside' },
      ],
    };
    await change([ruleOf({ answer: 'note' }), ruleOf({ when: inside })]);
    const view = await replay();
    expect(view.difference?.shifts).toEqual({
      'newly-stopped': 1,
      'newly-let-through': 2,
      'otherwise-answered': 0,
      same: 2,
    });
    const items = await client.get<ReplayItem[]>(`/replays/${view.id}/items?shift=newly-stopped`);
    expect(items.body).toMatchObject([
      {
        before: null,
        after: 'block',
        person: 'Orla Fenwick',
        destinations: ['merrowstrait.example'],
        incident: null,
      },
    ]);
    expect(Object.values(view.rules)).toContain('Cards, rule 2');
    expect(JSON.stringify([view, items.body])).not.toMatch(/4539|Slackwater/);
  });

  it('counts over stretches that no rule asked about when it moved', async () => {
    const sum = { kind: 'sum', of: 'movements', over: 'every-channel', atLeast: 3, hours: 24 };
    await change([ruleOf({ when: sum })]);
    const view = await replay();
    // Two mails were stopped then and count for nothing: only the last one is the third that went on.
    expect(view.difference?.shifts).toMatchObject({ 'newly-stopped': 1, 'newly-let-through': 2 });
    const items = await client.get<ReplayItem[]>(`/replays/${view.id}/items?shift=newly-stopped`);
    expect(items.body).toMatchObject([{ destinations: ['merrowstrait.example'] }]);
  });

  it('counts the same before a kept movement as it counted before it moved', async () => {
    const over = { over: 'every-channel', hours: 24 } as const;
    const asked = windowsAsked({
      policies: [
        policyOf('x', [
          ruleOf({ when: { kind: 'sum', of: 'kilobytes', atLeast: 1, ...over } }),
          ruleOf({ when: { kind: 'usual', of: 'movements', times: 2, atLeast: 1, ...over } }),
          ruleOf({
            when: {
              kind: 'values',
              pattern: 'payment-card',
              certainty: 80,
              atLeast: 1,
              ...over,
              over: 'outside',
            },
          }),
          ruleOf({ when: { kind: 'values', pattern: 'payment-card', certainty: 80, atLeast: 1, ...over } }),
        ]).policy as Policy,
      ],
    });
    const moved = await running.database.getRepository(MovementEntity).find({ order: { at: 'ASC' } });
    const past = await running.application.get(PastAmounts).before(
      moved.map(({ id }) => id),
      asked,
    );
    const by = (key: RegExp) =>
      moved.map(({ id }) => {
        const found = Object.entries(past.get(id) ?? {}).find(([name]) => key.test(name));
        return found?.[1].amount ?? 0;
      });
    expect(by(/^kilobytes/u)).toEqual([0, 0, 0, 1, 2]);
    expect(by(/usual/u)).toEqual([0, 0, 0, 1, 2]);
    expect(by(/values.*every|every.*values|payment-card.*every/u)).toEqual([0, 0, 0, 0, 0]);
    await send('The credit card is 5555 5555 5555 4444', 'bea.lindqvist@merrowstrait.example');
    const last = await running.database
      .getRepository(MovementEntity)
      .findOneOrFail({ where: {}, order: { at: 'DESC' } });
    const before = (await running.application.get(PastAmounts).before([last.id], asked)).get(last.id) ?? {};
    // Two cards went on inside before; nothing went outside.
    expect(
      Object.entries(before).flatMap(([key, { amount }]) =>
        /payment-card/u.test(key) ? [[/outside/u.test(key), amount]] : [],
      ),
    ).toEqual([[false, 2]]);
    await running.database.getRepository(JournalEntity).delete({ movementId: last.id });
  });

  it('names a rule of a policy that has no name yet', async () => {
    await client.send('POST', '/policies', policyOf('', [ruleOf({ answer: 'note' })]));
    const view = await replay();
    expect(Object.values(view.rules).join()).not.toMatch(/(?:^|,), rule/);
    for (const { policy: each } of (await client.get<PolicyView[]>('/policies')).body)
      if (each.name === '') await client.send('DELETE', `/policies/${each.id}`);
  });

  it('shows what would happen without a ceiling', async () => {
    await change([ruleOf()], { ceilings: [{ answer: 'note' }] });
    expect((await replay()).difference?.shifts['newly-let-through']).toBe(2);
    expect((await replay({ unlimited: policy.policy.id })).difference?.shifts).toMatchObject({ same: 5 });
    await change([ruleOf()], { ceilings: [] });
  });

  it('looks again at what was kept when a pattern changed, and finds what it holds', async () => {
    const list = (await client.get<PatternDetail[]>('/patterns')).body.find(({ name }) => name === 'Ships');
    const when = { kind: 'findings', pattern: list?.id ?? '', atLeast: 1 };
    await client.send('PUT', `/patterns/${list?.id ?? ''}`, {
      name: 'Ships',
      about: '',
      words: 'Slackwater\nbuy',
      version: 1,
    });
    await change([ruleOf(), ruleOf({ when, answer: 'block' })]);
    const view = await replay();
    expect(view.difference?.shifts).toMatchObject({ 'newly-stopped': 1, same: 4 });
    expect(view.detectedAgain).toBe(5);
  });

  it('says which movements it cannot judge because only findings were kept', async () => {
    const set = await client.send<JournalView[]>('PUT', '/journal/mail', { keeps: 'findings', days: 30 });
    expect(set.body[0]).toMatchObject({ keeps: 'findings', days: 30, movements: 5, withContent: 5 });
    await send('Slackwater once more');
    expect(await replay()).toMatchObject({ total: 6, judged: 6, notJudged: 1, difference: { judged: 5 } });
    await client.send('PUT', '/journal/mail', { keeps: 'content', days: 30 });
  });

  it('counts decisions that the draft would lose', async () => {
    const number = 1;
    await client.send('POST', `/incidents/${number}/acts`, {
      act: 'answer-looked-for',
      yes: false,
      version: 1,
    });
    await change([ruleOf({ when: { kind: 'findings', pattern: 'iban' }, answer: 'note' })]);
    expect((await replay()).difference).toMatchObject({
      falsePositives: { gone: 1, kept: 0 },
      harm: { missed: 0 },
    });
  });

  it('has an answer for an empty period, and for one that ends before it begins', async () => {
    expect(await replay({ since: '2000-01-01', until: '2000-02-01' })).toMatchObject({
      state: 'done',
      total: 0,
      difference: { judged: 0, interrupted: { days: 0 } },
    });
    const wrong = await client.send<ErrorBody>('POST', '/replays', {
      since: '2000-02-01',
      until: '2000-01-01',
    });
    expect(wrong).toMatchObject({ status: 400, body: { code: 'invalid-request' } });
    expect((await client.send('POST', '/replays', { since: 'yesterday', until: 'x' })).status).toBe(400);
  });

  it('can be stopped, and keeps what it had judged', async () => {
    const { body } = await client.send<ReplayView>('POST', '/replays', PERIOD);
    await client.send('POST', `/replays/${body.id}/stop`);
    expect(['stopped', 'done']).toContain((await done(body.id)).state);
  });

  it('says that it was cut off when the server died under it', async () => {
    const entities = running.database.getRepository(ReplayEntity);
    const [some] = await entities.find({ take: 1 });
    const id = randomUUID();
    await entities.insert({ ...some, id, state: 'running', startedAt: new Date() } as ReplayEntity);
    await running.application.get(ReplayService).onModuleInit();
    expect((await client.get<ReplayView>(`/replays/${id}`)).body.state).toBe('cut-off');
  });

  it('is read and begun by those who may replay: it names people and what they moved', async () => {
    const auditor = await running.client('auditor@merrowstrait.example');
    for (const path of ['/replays', `/replays/${randomUUID()}`, `/replays/${randomUUID()}/items`])
      expect((await auditor.get(path)).status).toBe(403);
    expect((await auditor.send('POST', '/replays', PERIOD)).status).toBe(403);
    expect((await auditor.send('PUT', '/journal/mail', { keeps: 'content', days: 9 })).status).toBe(403);
  });
});

describe('the journal', () => {
  it('lets go of what is too old, and shows no content in its rows', async () => {
    const rows = running.database.getRepository(JournalEntity);
    const [row] = await rows.find({ take: 1 });
    expect(row?.sealed.toString('latin1')).not.toContain('4539');
    const old = {
      ...row,
      movementId: randomUUID(),
      at: new Date(Date.now() - 40 * 86_400_000),
    } as JournalEntity;
    await rows.insert(old);
    const before = await rows.count();
    await client.send('PUT', '/journal/mail', { keeps: 'content', days: 30 });
    expect(await rows.count()).toBe(before - 1);
    expect((await client.send('PUT', '/journal/pigeon', { keeps: 'content', days: 30 })).status).toBe(404);
    expect(TEXT_ID).toBeTruthy();
  });
});

describe('over stored items', () => {
  it('says which files of places would be answered otherwise if they were opened outside', async () => {
    const place = {
      id: randomUUID(),
      name: 'Refund desk',
      about: '',
      folder: 'refund-desk',
      owner: '',
      sharedOutside: [],
    };
    await running.database.getRepository(PlaceEntity).insert(place);
    const folder = join(running.config.places, place.folder, '2026');
    mkdirSync(folder, { recursive: true });
    writeFileSync(join(folder, 'cards.txt'), CARDS);
    writeFileSync(join(folder, 'words.txt'), 'The ramp is closed on Sunday.');
    writeFileSync(join(folder, 'broken.zip'), Buffer.from('PK\u0003\u0004 nothing more'));
    await client.send('POST', '/policies', policyOf('Stored', [ruleOf()], { channels: ['drive'] }));
    const { body: begun } = await client.send<ReplayView>('POST', '/replays', { over: 'stored' });
    const view = await done(begun.id);
    expect(view).toMatchObject({
      state: 'done',
      over: 'stored',
      total: 3,
      judged: 3,
      difference: { shifts: { 'newly-stopped': 1, same: 2 }, byChannel: { drive: { 'newly-stopped': 1 } } },
    });
    const { body: items } = await client.get<ReplayItem[]>(`/replays/${begun.id}/items?shift=newly-stopped`);
    expect(items).toMatchObject([
      { department: 'Refund desk', person: '2026/cards.txt', before: null, after: 'block', incident: null },
    ]);
  });
});
