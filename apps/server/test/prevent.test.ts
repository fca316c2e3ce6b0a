/** From a false positive to a better rule: what is computed comes true when it is published. */
import type {
  ErrorBody,
  IncidentDetail,
  IncidentPage,
  PatternDetail,
  PolicyView,
  SavedWordList,
  SendMailResult,
  SpecimenView,
} from '@lantern/contracts';
import type { PreventionView, PreventView, WeightsLearnedView } from '@lantern/contracts/insight';
import { type Client, mailForm, OUTSIDE, publish, ruleOf, type Running, start } from './harness.js';

const BROKER = 'declarations@customs-broker.example';
let running: Running;
let client: Client;
let list: PatternDetail;

const send = async (person: string, to: string, body: string): Promise<SendMailResult> => {
  const { id } = await running.person(person);
  const form = mailForm({ person: id, to: [to], subject: 'A mail', body });
  return (await client.send<SendMailResult>('POST', '/stand-ins/mail/messages', form)).body;
};
const incidents = async (filter = ''): Promise<IncidentPage['rows']> =>
  (await client.get<IncidentPage>(`/incidents?order=number&${new URLSearchParams({ filter }).toString()}`))
    .body.rows;
const decide = async (number: number, version: number, lookedFor: boolean) => {
  await client.send('POST', `/incidents/${number}/acts`, {
    act: 'answer-looked-for',
    yes: lookedFor,
    version,
  });
  if (lookedFor)
    await client.send('POST', `/incidents/${number}/acts`, {
      act: 'answer-all-right',
      yes: false,
      version: version + 1,
    });
};
const options = (request: object) => client.send<PreventView>('POST', '/insight/prevent', request);

beforeAll(async () => {
  running = await start();
  client = await running.client();
  const created = await client.send<SavedWordList>('POST', '/patterns', {
    ...{ name: 'Ship', about: '' },
    words: 'slackwater\nproject slackwater\ncorrigan bay',
  });
  list = created.body.pattern;
  const rule = ruleOf({
    name: 'Ship',
    when: {
      kind: 'all',
      of: [
        { kind: 'findings', pattern: list.id, atLeast: 1, distinct: true, certainty: 80 },
        { kind: 'recipient', quantity: 'any', side: 'outside' },
      ],
    },
  });
  await publish(client, 'Ship', [rule]);
  for (const hour of ['07:20', '09:05', '11:40'])
    await send('Orla Fenwick', OUTSIDE, `The barge turns at slackwater, ${hour}.`);
  await send('Bea Lindqvist', BROKER, 'MV Corrigan Bay is bought in spring, keep it to yourself.');
  await send('Bea Lindqvist', OUTSIDE, 'Divers work around slackwater.');
  const rows = await incidents();
  for (const [index, { number, version }] of rows.slice(0, 4).entries())
    await decide(number, version, index === 3);
});
afterAll(() => running.stop());

it('offers changes with what they prevent, miss and let through, harmful ones last', async () => {
  const [first] = await incidents('outcome eq "false-positive"');
  const { status, body } = await options({ incident: first?.number });
  expect(status).toBe(200);
  expect(body).toMatchObject({ matches: 5, judged: 5, drafted: false, rule: { name: 'Ship' } });
  const word = body.options.find(({ change }) => change.kind === 'remove-word');
  expect(word).toMatchObject({
    change: { word: 'slackwater' },
    targets: { gone: 1, of: 1 },
    effect: {
      falsePositives: { gone: 3, of: 3 },
      harm: { missed: 0, of: 1 },
      undecided: { missed: 1, of: 1 },
    },
    letThrough: [{ outcome: null }],
  });
  const certainty = body.options.findIndex(({ change }) => change.kind === 'raise-certainty');
  expect(body.options[certainty]?.effect.harm.missed).toBe(1);
  expect(certainty).toBeGreaterThan(body.options.indexOf(word!));
});

it('takes one into the draft, keeps specimens from both sides, and says afterwards whether it kept its promise', async () => {
  const [first] = await incidents('outcome eq "false-positive"');
  const { body } = await options({ incident: first?.number });
  const option = body.options.findIndex(({ change }) => change.kind === 'remove-word');
  const taken = await client.send<PreventionView[]>('POST', '/insight/prevent/take', {
    computed: body.computed,
    option,
  });
  expect(taken.body).toMatchObject([{ state: 'not-published', revision: null, incident: first?.number }]);
  const changed = (await client.get<PatternDetail>(`/patterns/${list.id}`)).body;
  expect(changed.own?.text.split('\n').sort()).toEqual(['corrigan bay', 'project slackwater']);
  const specimens = (await client.get<SpecimenView[]>(`/specimens?pattern=${list.id}`)).body;
  const values = specimens.map(({ expected }) => expected[0]?.values.length ?? -1);
  expect(values.sort()).toEqual([0, 0, 1]);
  const detail = (await client.get<IncidentDetail>(`/incidents/${first?.number}`)).body;
  expect(detail.history.map(({ kind }) => kind)).toContain('prevented');
  // What was computed comes true.
  await client.send('POST', '/revisions', { name: 'Quieter', reason: 'Tides are not the ship' });
  const before = (await incidents()).length;
  await send('Orla Fenwick', OUTSIDE, 'The barge turns at slackwater, 14:10.');
  await send('Orla Fenwick', OUTSIDE, 'Nothing about Project Slackwater, please.');
  expect((await incidents()).length).toBe(before + 1);
  const { rule } = body;
  const [view] = (await client.get<PreventionView[]>(`/insight/prevent/rules/${rule.id}`)).body;
  expect(view).toMatchObject({
    state: 'too-early',
    revision: { number: 2 },
    since: { incidents: 1, falsePositives: 0 },
  });
});

it('changes a rule, and an exchange that it refers to, from where the draft stands', async () => {
  const [first] = await incidents('outcome eq "false-positive"');
  // The word is gone: what the draft no longer matches needs no change.
  expect((await options({ incident: first?.number })).body).toMatchObject({ options: [], drafted: false });
  await send('Orla Fenwick', OUTSIDE, 'A boat called Corrigan Bay sails past.');
  const [newest] = (await incidents('status eq "new"')).slice(-1);
  await decide(newest?.number ?? 0, newest?.version ?? 0, false);
  const { body } = await options({ filter: `number eq ${newest?.number}` });
  const option = body.options.findIndex(({ change }) => change.kind === 'enter-exchange');
  await client.send('POST', '/insight/prevent/take', { computed: body.computed, option });
  const policy = (await client.get<PolicyView[]>('/policies')).body[0]?.policy;
  expect(policy?.rules[0]?.unless).toMatchObject({ kind: 'exchange', exchanges: [expect.any(String)] });
  const again = await options({ incident: newest?.number });
  expect(again.body).toMatchObject({ drafted: true, options: [] });
});

it.each([
  [
    'an incident that is no false positive',
    async () => ({ incident: (await incidents('outcome eq "harm"'))[0]?.number }),
    404,
  ],
  ['an incident that does not exist', () => Promise.resolve({ incident: 9_999 }), 404],
  [
    'a filter without false positives',
    () => Promise.resolve({ filter: 'severity eq "low" and person eq "nobody"' }),
    404,
  ],
  ['a wrong filter', () => Promise.resolve({ filter: 'colour eq "red"' }), 400],
])('refuses %s, and says why', async (_what, request, status) => {
  const answer = await client.send<ErrorBody>('POST', '/insight/prevent', await request());
  expect([answer.status, answer.body.message.length > 10]).toEqual([status, true]);
});

it('takes no change that it did not compute', async () => {
  const computed = '00000000-0000-4000-8000-000000000000';
  expect((await client.send('POST', '/insight/prevent/take', { computed, option: 0 })).status).toBe(404);
});

describe('weights from decisions', () => {
  it('are learned from evidence, held against decisions that were held out, and taken into the draft', async () => {
    await publish(client, 'Cards', [ruleOf({ name: 'Cards' })]);
    const first = (await incidents()).length;
    for (let sent = 0; sent < 24; sent += 1) {
      const words = sent % 2 === 0 ? 'Please charge the card' : 'Reference numbers of the tickets, no card';
      await send('Orla Fenwick', OUTSIDE, `${words} ${sent}: 4539 1488 0343 6467 and 6011 0009 9013 9424.`);
    }
    const rows = (await incidents()).slice(first);
    for (const [index, { number, version }] of rows.entries()) await decide(number, version, index % 2 === 0);
    const { body } = await client.send<WeightsLearnedView>('POST', '/insight/weights/of/payment-card');
    expect(body.decided).toBe(rows.length);
    expect(body.read).toBe(rows.length);
    expect(body.learned?.learnedFrom).toBeGreaterThan(10);
    expect((body.learned?.learnedFrom ?? 0) + (body.learned?.heldOut ?? 0)).toBe(rows.length);
    const moved = body.learned?.weights.filter(({ now, learned }) => now !== learned) ?? [];
    expect(moved.length).toBeGreaterThan(0);
    const taken = await client.send<PatternDetail>('POST', '/insight/weights/take', {
      computed: body.computed,
    });
    expect(taken.status).toBe(200);
    for (const { name, learned } of moved) expect(taken.body.ready?.draftWeights[name]).toBe(learned);
  });

  it('are refused for a pattern that has none, and say how many decisions are missing', async () => {
    expect((await client.send('POST', `/insight/weights/of/${list.id}`)).status).toBe(404);
    const { body } = await client.send<WeightsLearnedView>('POST', '/insight/weights/of/iban');
    expect(body).toMatchObject({ decided: 0, learned: null, needed: 20 });
  });
});
