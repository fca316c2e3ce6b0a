/** What may cross between services: drafts, publishing, the door for other systems, and what is in breach. */
import type { DraftView, MailSummary, NewAgent } from '@lantern/contracts';
import type {
  AutomationKept,
  AutomationSummary,
  BreachesView,
  CrossingsView,
  OwnersTold,
} from '@lantern/contracts/crossings';
import type { AutomationVerdict, CrossingSet } from '@lantern/core/automations';
import { AUTOMATIONS, CROSSINGS, STARTER_LABELS } from '@lantern/demo';
import ExcelJS from 'exceljs';
import { CrossingDrafts } from '../src/crossings/crossing-drafts.service.js';
import { Automations } from '../src/crossings/automations.service.js';
import { type Client, publish, ruleOf, type Running, start } from './harness.js';

let running: Running;
let client: Client;
let agent: NewAgent;

beforeAll(async () => {
  running = await start();
  client = await running.client();
  const text = JSON.stringify({ format: 'uncut-lantern labels 1', ...STARTER_LABELS, automatic: [] });
  await client.send('POST', '/labels/text', { text, onlyLook: false });
  await publish(client, 'Cards', [ruleOf()]);
  agent = (await client.send<NewAgent>('POST', '/agents', { name: 'Pipeline' })).body;
});
afterAll(() => running.stop());

const revise = () =>
  client.send<{ number: number; message: string }>('POST', '/revisions', { name: 'r', reason: 't' });
const view = async () => (await client.get<CrossingsView>('/crossings')).body;
const breaches = async (by: string, search = '') =>
  (await client.get<BreachesView>(`/crossings/breaches?by=${by}&search=${search}`)).body;
const hand = async (path: string, body: object, key = agent.key) => {
  const response = await fetch(`${running.address}/api/intake/automations${path}`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', authorization: `Bearer ${key}` },
    body: JSON.stringify(body),
  });
  return {
    status: response.status,
    body: (await response.json()) as AutomationKept & AutomationVerdict & { code: string },
  };
};
const flow = (over: object = {}) => ({
  ...{
    kind: 'flow',
    id: 'guests',
    name: 'Guests',
    owner: 'jun.abara@merrowstrait.example',
    workspace: 'live',
  },
  steps: [
    { id: 'a', service: 'ledger', operation: 'read' },
    { id: 'b', service: 'poster', operation: 'post', after: ['a'] },
  ],
  ...over,
});

describe('what may cross', () => {
  it('is drafted part by part, with versions and names of its own', async () => {
    await running.application.get(CrossingDrafts).replace(CROSSINGS, { name: 'demo' });
    const { sets, services } = await view();
    expect(sets.every(({ state, problems }) => state === 'new' && problems.length === 0)).toBe(true);
    const [first] = services;
    const { id, ...definition } = first?.service ?? { id: '' };
    const put = (body: object) => client.send<{ code: string }>('PUT', `/crossings/service/${id}`, body);
    expect((await put({ definition: { ...definition, owner: 'x@y.example' }, version: 1 })).status).toBe(200);
    expect((await put({ definition, version: 1 })).body.code).toBe('changed-meanwhile');
    expect((await put({ definition: { name: 'Crew roster' }, version: 2 })).body.code).toBe('name-taken');
    const wrong = { name: 'X', operations: [{ id: 'a', does: ['flies'] }] };
    expect(
      (await client.send<{ code: string }>('POST', '/crossings/service', { definition: wrong })).body.code,
    ).toBe('invalid-request');
  });

  it('cannot be published while it contradicts itself', async () => {
    const set = (await view()).sets[0]?.set as CrossingSet;
    const { id, ...definition } = set;
    const twice = {
      ...definition,
      circles: [...definition.circles, { id: 'z', name: 'Second', services: ['ledger'] }],
    };
    await client.send('PUT', `/crossings/crossing-set/${id}`, { definition: twice });
    expect((await view()).sets.flatMap(({ problems }) => problems.map(({ code }) => code))).toEqual([
      'in-two-circles',
    ]);
    expect((await revise()).status).toBe(422);
    await client.send('PUT', `/crossings/crossing-set/${id}`, { definition });
    const draft = (await client.get<DraftView>('/revisions/draft')).body;
    expect(draft.changes.filter(({ subject }) => subject === 'crossing-set')).toHaveLength(2);
  });

  it('stops what runs and may no longer as it is published, and says so beforehand', async () => {
    for (const automation of AUTOMATIONS)
      await running.application.get(Automations).keep(automation, { isOn: true, by: automation.owner });
    const before = await breaches('published');
    expect(before).toMatchObject({ judged: AUTOMATIONS.length, inBreach: 0 });
    const drafted = await breaches('drafts');
    expect(drafted).toMatchObject({ inBreach: 5, wouldStop: 5 });
    expect(drafted.rows.map(({ name, breach }) => `${name}: ${breach.reason.code}`)).toEqual([
      'Ask about port security: audience',
      'Ask about port security: outlet',
      'Good news: no-arrow',
      'Guest list to a partner: address-refused',
      'Guest list to a partner: no-arrow',
      'Notes into the ledger: service-off',
      'Rosters as a page: operation-off',
    ]);
    expect((await revise()).status).toBe(201);
    const now = await breaches('published');
    expect(now).toMatchObject({ inBreach: 5, wouldStop: 0 });
    const list = (await client.get<AutomationSummary[]>('/automations?by=published')).body;
    expect(list.filter(({ isOn }) => isOn).map(({ name }) => name)).toEqual([
      'Departures at the terminal',
      'Fares and times',
      'Refunds to the desk',
      'Tides on the site',
      'Weather for the bridge',
    ]);
    expect((await breaches('published', 'crew roster')).rows.map(({ name }) => name)).toEqual([
      'Rosters as a page',
    ]);
  });

  it('goes out as CSV and as a workbook in which nothing runs', async () => {
    const odd = { ...flow(), id: 'odd', name: '=1+1' };
    await hand('', { automation: odd, isOn: false });
    const file = async (format: string) =>
      Buffer.from(
        await (
          await fetch(`${running.address}/api/crossings/breaches/export?by=published&format=${format}`, {
            headers: { cookie: client.cookie },
          })
        ).arrayBuffer(),
      );
    const csv = (await file('csv')).toString('utf8');
    expect(csv).toContain("'=1+1");
    expect(csv).toContain(
      'Data from Booking ledger may not go to Social poster: no arrow leads from Aboard to Ashore.',
    );
    const book = new ExcelJS.Workbook();
    await book.xlsx.load((await file('xlsx')) as never);
    const names = book.worksheets[0]?.getColumn(1).values.map(String) ?? [];
    expect(names).toContain('=1+1');
    expect(book.worksheets[0]?.getCell('A2').formula).toBeUndefined();
  });
});

describe('owners of what is in breach', () => {
  it('are told once each, with their own, and by when', async () => {
    const until = new Date(Date.now() + 86_400_000).toISOString().slice(0, 10);
    const tell = (over: object) =>
      client.send<OwnersTold & { code: string }>('POST', '/crossings/breaches/told', {
        ...{ by: 'published', search: 'good news', until, words: 'Ask the desk.' },
        ...over,
      });
    expect((await tell({ until: '2020-01-01' })).body.code).toBe('invalid-request');
    const { body } = await tell({});
    expect(body).toEqual({ told: ['orla.fenwick@merrowstrait.example'], notTold: [] });
    const orla = await running.person('Orla Fenwick');
    const mails = (await client.get<MailSummary[]>(`/stand-ins/mail/${orla.id}/messages`)).body;
    expect(JSON.stringify(mails)).toContain('Your automations');
  });
});

describe('the door for other systems', () => {
  it('answers before anything is built, keeps nothing then, and needs a key', async () => {
    const before = (await client.get<AutomationSummary[]>('/automations?by=published')).body.length;
    const judged = await hand('/judged', { automation: flow() });
    expect(judged.body).toMatchObject({
      runs: false,
      breaches: [{ set: 'hull', steps: ['a', 'b'], from: 'ledger', to: 'poster' }],
      trace: [
        { set: 'hull', binds: 'yes', breaches: 1 },
        { set: 'trials', binds: 'other-workspace', breaches: 0 },
      ],
    });
    expect((await client.get<AutomationSummary[]>('/automations?by=published')).body).toHaveLength(before);
    expect((await hand('/judged', { automation: flow() }, 'lantern-nobody-has-this-key-0000')).status).toBe(
      401,
    );
  });

  it('keeps what is in breach without switching it on; mended, it runs', async () => {
    const kept = await hand('', { automation: flow(), isOn: true });
    expect([kept.status, kept.body.isOn, kept.body.verdict.runs]).toEqual([200, false, false]);
    const mended = flow({
      steps: [
        { id: 'a', service: 'ledger', operation: 'read' },
        { id: 'b', service: 'chat', operation: 'post', after: ['a'] },
      ],
    });
    const again = await hand('', { automation: mended, isOn: true });
    expect([again.body.id, again.body.isOn, again.body.version]).toEqual([kept.body.id, true, 2]);
  });

  it.each([
    ['a flow without steps', { steps: undefined }],
    ['an operation as a number', { steps: [{ id: 'a', service: 'ledger', operation: 7 }] }],
    ['another kind', { kind: 'spell' }],
    [
      'too many steps',
      {
        steps: Array.from({ length: 2_001 }, (_each, at) => ({
          id: `${at}`,
          service: 'mail',
          operation: 'read',
        })),
      },
    ],
  ])('refuses %s in words', async (_what, over) => {
    const { status, body } = await hand('', { automation: flow(over), isOn: true });
    expect([status, body.code]).toEqual([400, 'invalid-request']);
  });

  it('lets no agent change what another one handed in', async () => {
    const other = (await client.send<NewAgent>('POST', '/agents', { name: 'Other' })).body;
    const theirs = await hand('', { automation: flow({ name: 'Theirs' }), isOn: false }, other.key);
    const ours = await hand('', { automation: flow(), isOn: false });
    expect(theirs.body.id).not.toBe(ours.body.id);
  });
});
