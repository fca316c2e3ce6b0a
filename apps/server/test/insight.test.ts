/** Insight: every figure equals what the list behind it counts, and a recount by hand. */
import type {
  ErrorBody,
  IncidentPage,
  LabelChangePage,
  ListCounts,
  SendMailResult,
} from '@lantern/contracts';
import type {
  ChangesQuery,
  ChangesView,
  GuardView,
  ImprovementsView,
  MostView,
  RuleCostView,
  WhyView,
} from '@lantern/contracts/insight';
import { CUT_FIELDS } from '@lantern/contracts/insight';
import { LISTED, parseFilter, printFilter } from '@lantern/core/incidents';
import { behind, inWeekHour } from '@lantern/core/insight';
import { chance } from '@lantern/testkit';
import { IncidentEntity, MatchEntity, MovementEntity } from '../src/incidents/incident.entity.js';
import { Changes } from '../src/insight/figures/changes.service.js';
import { LabelChangeEntity } from '../src/labels/label-change.entity.js';
import { TraitEntity } from '../src/incidents/queue/trait.entity.js';
import { CARDS, type Client, mailForm, OUTSIDE, publish, ruleOf, type Running, start } from './harness.js';

const SEED = 22;
const random = chance(SEED);
const DAY = 86_400_000;
const now = Date.now();
const FROM = now - 60 * DAY;

let running: Running;
let client: Client;
let incidents: IncidentEntity[];
let matches: MatchEntity[];

beforeAll(async () => {
  running = await start();
  client = await running.client();
  await publish(client, 'Cards outside', [
    ruleOf({ name: 'Cards', answer: 'advise' }),
    ruleOf({ name: 'Cards again', severity: 'critical', answer: 'note' }),
  ]);
  const people = await Promise.all(['Orla Fenwick', 'Bea Lindqvist'].map((name) => running.person(name)));
  for (let sent = 0; sent < 60; sent += 1) {
    const body = random.happens(0.8) ? `${CARDS} ${sent}` : `Nothing to see ${sent}`;
    const form = mailForm({ person: random.pick(people).id, to: [OUTSIDE], subject: 'Refunds', body });
    expect((await client.send<SendMailResult>('POST', '/stand-ins/mail/messages', form)).status).toBeLessThan(
      300,
    );
  }
  const { rows } = (await client.get<IncidentPage>('/incidents?limit=500&order=number')).body;
  for (const { number, version } of rows) {
    const act = random.pick(['answer-all-right', 'answer-looked-for', 'mark-test', null] as const);
    if (act)
      await client.send('POST', `/incidents/${number}/acts`, { act, yes: random.happens(0.5), version });
  }
  await overTime();
  incidents = await running.database.getRepository(IncidentEntity).find();
  matches = await running.database.getRepository(MatchEntity).find();
});
afterAll(() => running.stop());

/** Spreads what was recorded over the last 60 days, a third of it on one day. */
async function overTime(): Promise<void> {
  for (const { id } of await running.database.getRepository(MovementEntity).find()) {
    const at = new Date(
      random.happens(0.35) ? now - 10 * DAY + random.next() * 1_000_000 : FROM + random.next() * 59 * DAY,
    );
    await running.database.getRepository(MovementEntity).update({ id }, { at });
    await running.database.getRepository(IncidentEntity).update({ movementId: id }, { at });
  }
}

const asked = (more: Record<string, string> = {}): string =>
  new URLSearchParams({
    from: new Date(FROM).toISOString(),
    to: new Date(now).toISOString(),
    zone: 'Europe/Berlin',
    ...more,
  }).toString();
const listed = async (filter: string): Promise<ListCounts> =>
  (await client.get<ListCounts>(`/incidents/counts?${new URLSearchParams({ filter }).toString()}`)).body;
const changes = async (more: Record<string, string>): Promise<ChangesView> =>
  (await client.get<ChangesView>(`/insight/changes?${asked(more)}`)).body;
const read = (line: string) => {
  const parsed = parseFilter(line);
  if (parsed.status !== 'read') throw new Error(`Not a filter: ${line}`);
  return parsed.filter;
};

describe('what changed', () => {
  it.each(LISTED)('counts %s as the list behind every figure and every bar does', async (kind) => {
    const view = await changes({ listed: kind, by: 'rule', filter: 'person co "fenwick"' });
    for (const figure of view.figures) {
      expect([figure.code, (await listed(figure.filter))[figure.listed]]).toEqual([
        figure.code,
        figure.count,
      ]);
      expect([figure.code, (await listed(figure.filterBefore))[figure.listed]]).toEqual([
        figure.code,
        figure.before,
      ]);
    }
    const [total] = view.series;
    expect(total?.counts.reduce((sum, count) => sum + count, 0)).toBe(total?.count);
    for (const [index, bucket] of view.buckets.entries()) {
      const period = { from: Date.parse(bucket.from), to: Date.parse(bucket.to) };
      if ((total?.counts[index] ?? 0) > 0)
        expect((await listed(printFilter(behind(read(view.filter), period))))[kind]).toBe(
          total?.counts[index],
        );
    }
  });

  it.each(CUT_FIELDS)('divides by %s as the lists do', async (by) => {
    const view = await changes({ listed: 'incidents', by });
    const period = { from: FROM, to: now };
    for (const { value, count, counts } of view.series.slice(1)) {
      expect(counts.reduce((sum, each) => sum + each, 0)).toBe(count);
      const line = printFilter(behind(read(view.filter), period, { field: by, value: value?.value ?? null }));
      expect([line, (await listed(line)).incidents]).toEqual([line, count]);
    }
  });

  it('equals a recount of the rows', async () => {
    const view = await changes({ listed: 'incidents' });
    const real = incidents.filter(({ test }) => !test);
    const figure = (code: string) => view.figures.find((each) => each.code === code)?.count;
    expect(figure('incidents')).toBe(real.length);
    expect(figure('false-positives')).toBe(real.filter(({ outcome }) => outcome === 'false-positive').length);
    expect(figure('matches')).toBe(
      matches.filter(({ incidentNumber }) => real.some(({ number }) => number === incidentNumber)).length,
    );
  });

  it('counts our own tests where the filter asks for them', async () => {
    const view = await changes({ listed: 'incidents', filter: 'test eq true' });
    expect(view.figures[0]?.count).toBe(incidents.filter(({ test }) => test).length);
  });

  it('points out the loud day and explains it', async () => {
    const view = await changes({ listed: 'incidents' });
    const loud = view.spikes.find(({ direction }) => direction === 'more');
    const bucket = view.buckets[loud?.bucket ?? 0];
    expect(loud?.count).toBeGreaterThan(10);
    const why = (await client.get<WhyView>(`/insight/why?${asked({ ...bucket, listed: 'incidents' })}`)).body;
    expect(why.count).toBe(loud?.count);
    expect(why.parts.find(({ field }) => field === 'domain')?.value.value).toBe('islandholidays.example');
    for (const part of why.parts) expect((await listed(part.filter)).incidents).toBe(part.count);
  });
});

it('counts rules as their matches are, and tests apart', async () => {
  const costs = (await client.get<RuleCostView[]>(`/insight/rules?${asked()}`)).body;
  expect(costs.map(({ rule }) => rule.name).sort()).toEqual(['Cards', 'Cards again']);
  for (const { rule, figures, filter } of costs) {
    const own = matches.filter(({ ruleId }) => ruleId === rule.id);
    const of = new Map(incidents.map((incident) => [incident.number, incident]));
    const real = own.flatMap(({ incidentNumber }) => {
      const incident = of.get(incidentNumber);
      return incident && !incident.test ? [incident] : [];
    });
    expect(figures).toMatchObject({
      matches: real.length,
      tests: own.length - real.length,
      decided: real.filter(({ outcome }) => outcome !== null).length,
      falsePositives: real.filter(({ outcome }) => outcome === 'false-positive').length,
      people: rule.name === 'Cards' ? new Set(real.map(({ personAddress }) => personAddress)).size : 0,
    });
    expect((await listed(filter)).incidents).toBe(real.length);
  }
});

it('knows advices that were repeated within a week', async () => {
  const costs = (await client.get<RuleCostView[]>(`/insight/rules?${asked()}`)).body;
  const real = incidents
    .filter(({ test }) => !test)
    .sort((one, other) => one.at.getTime() - other.at.getTime() || one.number - other.number);
  const repeated = real.filter((incident, index) =>
    real
      .slice(index + 1)
      .some(
        (later) =>
          later.personAddress === incident.personAddress &&
          later.at.getTime() - incident.at.getTime() <= 7 * DAY,
      ),
  );
  const known = real.filter(
    (incident) => repeated.includes(incident) || incident.at.getTime() < Date.now() - 7 * DAY,
  );
  expect(costs.find(({ rule }) => rule.name === 'Cards')?.figures).toMatchObject({
    repeatedAfterAdvice: repeated.length,
    advicesKnown: known.length,
  });
});

it('says who and where most of it is, and links each count', async () => {
  const most = (await client.get<MostView>(`/insight/most?${asked({ listed: 'incidents' })}`)).body;
  expect(most.total).toBe(incidents.filter(({ test }) => !test).length);
  for (const { values } of most.fields)
    for (const { value, filter } of values) expect((await listed(filter)).incidents).toBe(value.count);
  expect(most.hours.reduce((sum, { count }) => sum + count, 0)).toBe(most.total);
  for (const { weekday, hour, count } of most.hours.slice(0, 5)) {
    const filter = inWeekHour({ from: FROM, to: now }, 'Europe/Berlin', { weekday, hour })!;
    expect((await listed(`(${printFilter(filter)}) and test eq false`)).incidents).toBe(count);
  }
});

it('holds each count to the usual one of the days before', async () => {
  const from = now - 20 * DAY;
  const query = asked({ listed: 'incidents', from: new Date(from).toISOString() });
  const most = (await client.get<MostView>(`/insight/most?${query}`)).body;
  const [row] = await running.database.query<{ first: Date }[]>('SELECT MIN(at) AS first FROM movement');
  const since = new Date(row?.first ?? 0).getTime();
  const real = incidents.filter(({ test, at }) => !test && at.getTime() >= since && at.getTime() < from);
  const people = most.fields.find(({ field }) => field === 'person')?.values ?? [];
  expect(people.length).toBeGreaterThan(0);
  for (const { value, usual } of people) {
    const before = real.filter(({ personAddress }) => personAddress === value.value).length;
    expect(usual).toBeCloseTo((before / (from - since)) * 20 * DAY, 6);
  }
  const domain = most.fields.find(({ field }) => field === 'domain')?.values[0];
  expect(domain?.usual).toBeCloseTo((real.length / (from - since)) * 20 * DAY, 6);
});

it('shows nothing that silent rules found to those who may not see it', async () => {
  const traits = running.database.getRepository(TraitEntity);
  const [hidden] = incidents;
  await running.database
    .getRepository(IncidentEntity)
    .update({ number: hidden?.number ?? 0 }, { silent: true, test: false });
  await traits.update({ incidentNumber: hidden?.number ?? 0 }, { silent: true });
  const all = (await client.get<ChangesView>(`/insight/changes?${asked({ listed: 'incidents' })}`)).body;
  const query = Object.fromEntries(
    new URLSearchParams(asked({ listed: 'incidents' })),
  ) as unknown as ChangesQuery;
  const open = await running.application.get(Changes).view(query, { silent: false, limits: null });
  expect((all.figures[0]?.count ?? 0) - (open.figures[0]?.count ?? 0)).toBe(1);
});

it.each([
  ['ends before it begins', { from: '2026-11-02T00:00:00Z', to: '2026-11-01T00:00:00Z' }, 'ends before'],
  ['is longer than 20 years', { from: '1990-01-01T00:00:00Z', to: '2026-01-01T00:00:00Z' }, '20 years'],
  ['names no zone', { zone: 'Mars/Olympus' }, 'zone'],
  ['has a date that does not exist', { from: '2026-02-31T00:00:00Z' }, 'from'],
  ['has a wrong filter', { filter: 'colour eq "red"' }, 'filter'],
])('refuses a period that %s, and says why', async (_what, more, said) => {
  const answer = await client.get<ErrorBody>(`/insight/changes?${asked({ listed: 'incidents', ...more })}`);
  expect(answer.status).toBe(400);
  expect(JSON.stringify(answer.body)).toContain(said);
});

it.each([
  ['one second', new Date(now - 10 * DAY).toISOString(), new Date(now - 10 * DAY + 1_000).toISOString()],
  ['20 years', '2007-01-01T00:00:00Z', '2026-12-31T00:00:00Z'],
  ['a time before anything was known', '2001-01-01T00:00:00Z', '2001-02-01T00:00:00Z'],
])('has figures for %s', async (_what, from, to) => {
  const view = await changes({ listed: 'movements', from, to, by: 'person' });
  expect(view.series[0]?.counts.reduce((sum, count) => sum + count, 0)).toBe(view.series[0]?.count);
});

it('says how well what is sensitive is guarded, each figure as its list counts', async () => {
  const manager = running.database.manager;
  const change = {
    by: 'a',
    carrier: 'document',
    item: 'Plan',
    itemId: null,
    runId: null,
    before: null,
    after: null,
    reason: '',
  };
  for (const [how, shift, days] of [
    ['by-hand', 'raised', 3],
    ['by-hand', 'raised', 5],
    ['automatically', 'set', 400],
  ] as const)
    await manager.insert(LabelChangeEntity, {
      ...change,
      how,
      shift,
      at: new Date(now - days * DAY),
    } as never);
  const { body } = await client.get<GuardView>(`/insight/guard?${asked()}`);
  expect(body.labelChanges).toMatchObject([{ how: 'by-hand', shift: 'raised' }]);
  expect(body.labelChanges[0]?.counts.reduce((sum, count) => sum + count, 0)).toBe(2);
  const query = new URLSearchParams({
    shift: 'raised',
    how: 'by-hand',
    from: new Date(FROM).toISOString(),
    to: new Date(now).toISOString(),
  });
  expect((await client.get<LabelChangePage>(`/labels/changes?${query.toString()}`)).body.total).toBe(2);
  expect((await listed(body.sensitive.filter)).incidents).toBe(body.sensitive.count);
  expect((await listed(body.labelled.filter)).incidents).toBe(body.labelled.count);
  const mail = body.channels.find(({ channel }) => channel === 'mail');
  expect(mail).toMatchObject({ kinds: 1, guarded: 1, guardedForAll: 1 });
  expect((await listed(mail?.filter ?? '')).movements).toBe(mail?.movements);
  expect(body.people.guarded).toBe(body.people.all);
  expect(body.days).toMatchObject([
    { day: new Date().toISOString().slice(0, 10), kinds: 1, guarded: 1, of: 6 },
  ]);
});

it('names what to improve, and counts what was done', async () => {
  const [open] = incidents
    .filter(({ status, test, silent }) => status !== 'decided' && !test && !silent)
    .slice(-1);
  const repository = running.database.getRepository(IncidentEntity);
  await repository.update({ number: open?.number ?? 0 }, { dueAt: new Date(Date.now() - 1_000) });
  const read = async () => (await client.get<ImprovementsView>('/insight/improve')).body;
  const found = (await read()).open.find(({ improvement }) => improvement.code === 'incidents-overdue');
  expect(found?.improvement).toMatchObject({ count: expect.any(Number) });
  await repository.createQueryBuilder().update().set({ dueAt: null }).execute();
  await new Promise((resolve) => setTimeout(resolve, 2_100));
  const after = await read();
  expect(after.open.some(({ improvement }) => improvement.code === 'incidents-overdue')).toBe(false);
  expect(after.weeks.at(-1)?.done).toBe(1);
});
