/** Counts from columns in memory, held to a recount in the database after random acts, for random readers. */
import type { IncidentPage } from '@lantern/contracts';
import {
  FIELD_NAMES,
  type FieldName,
  fieldOf,
  type Filter,
  type Listed,
  printFilter,
} from '@lantern/core/incidents';
import type { Period } from '@lantern/core/insight';
import { chance } from '@lantern/testkit';
import { DeskCounts } from '../src/incidents/counts/desk-counts.service.js';
import { RowCounts } from '../src/incidents/counts/row-counts.service.js';
import { KnownNames } from '../src/incidents/known-names.service.js';
import { Queue } from '../src/incidents/queue/queue.service.js';
import { RuleCosts } from '../src/insight/figures/rule-costs.service.js';
import { Reading } from '../src/insight/figures/reading.service.js';
import { Tally } from '../src/insight/figures/tally.service.js';
import type { Sight } from '../src/platform/auth/sight.js';
import { PublishedRevision } from '../src/published/published-revision.js';
import { CARDS, type Client, mailForm, OUTSIDE, publish, ruleOf, type Running, start } from './harness.js';

const SEED = Number(process.env['SEED'] ?? 7);
const random = chance(SEED);
const DAY_MS = 86_400_000;

let running: Running;
let client: Client;
let columns: DeskCounts;
let fast: Counting;
let plain: Counting;
/** Questions that the columns answered. */
let answered = 0;

interface Counting {
  readonly queue: Queue;
  readonly tally: Tally;
  readonly costs: RuleCosts;
}

/** Everything that counts, over the columns or without them. */
function counting(ask: DeskCounts['ask']): Counting {
  const { application, database, config } = running;
  const names = application.get(KnownNames);
  const rows = new RowCounts(database.manager, config, names, { ask } as DeskCounts);
  const queue = new Queue(database.manager, config, names, rows);
  return {
    queue,
    tally: new Tally(rows),
    costs: new RuleCosts(
      database.manager,
      new Reading(queue),
      queue,
      rows,
      names,
      application.get(PublishedRevision),
    ),
  };
}

const people = ['Orla Fenwick', 'Bea Lindqvist', 'Tomas Reave'];

beforeAll(async () => {
  running = await start();
  client = await running.client();
  await publish(client, 'Cards outside', [
    ruleOf(),
    ruleOf({ name: 'Many', severity: 'critical', answer: 'advise' }),
  ]);
  columns = running.application.get(DeskCounts);
  await columns.ready();
  fast = counting(async (question) => {
    const answer = await columns.ask(question);
    if (answer) answered += 1;
    return answer;
  });
  plain = counting(() => Promise.resolve(null));
});
afterAll(() => running.stop());

async function send(given?: string): Promise<void> {
  const person = (await running.person(random.pick(people))).id;
  const body =
    given ?? (random.happens(0.7) ? `${CARDS} ${random.next()}` : `Nothing to see ${random.next()}`);
  const to = random.happens(0.8) ? [OUTSIDE] : ['bea.lindqvist@merrowstrait.example'];
  await client.send('POST', '/stand-ins/mail/messages', mailForm({ person, to, subject: 'Berths', body }));
}

/** One act of those that change what is counted. */
async function act(): Promise<void> {
  const kind = random.pick([
    'send',
    'send',
    'send',
    'decide',
    'decide',
    'test',
    'answer',
    'move',
    'hide',
    'remove',
  ] as const);
  if (kind === 'send') return send();
  const { rows } = (await client.get<IncidentPage>('/incidents?limit=500')).body;
  if (rows.length === 0) return;
  const { number, version } = random.pick(rows);
  const { manager } = running.database;
  if (kind === 'decide')
    await client.send('POST', `/incidents/${number}/acts`, {
      ...{
        act: random.pick(['take', 'answer-all-right', 'answer-looked-for']),
        yes: random.happens(0.5),
        version,
      },
    });
  if (kind === 'test')
    await client.send('POST', `/incidents/${number}/acts`, {
      act: 'mark-test',
      yes: random.happens(0.5),
      version,
    });
  if (kind === 'answer')
    await manager.query(
      `INSERT INTO movement_trait (movementId, incidentNumber, field, value, silent)
       SELECT movementId, number, 'reply', ?, 0 FROM incident WHERE number = ?`,
      [random.pick(['work', 'mistake']), number],
    );
  // As if it had happened earlier, for periods.
  if (kind === 'move')
    for (const [table, key] of [
      ['movement', 'incidentNumber'],
      ['incident', 'number'],
    ] as const)
      await manager.query(`UPDATE ${table} SET at = at - INTERVAL ? HOUR WHERE ${key} = ?`, [
        random.whole(1, 400),
        number,
      ]);
  // As if only silent rules had found it.
  if (kind === 'hide') {
    await manager.query(
      'UPDATE incident SET silent = 1, openSeverity = NULL, openAnswer = NULL WHERE number = ?',
      [number],
    );
    for (const table of ['rule_match', 'movement_trait'])
      await manager.query(`UPDATE ${table} SET silent = 1 WHERE incidentNumber = ?`, [number]);
  }
  if (kind === 'remove' && random.happens(0.4)) await remove(number);
}

/** Takes an incident away with all that hangs on it, as retention does. */
async function remove(number: number): Promise<void> {
  await running.database.transaction(async (manager) => {
    const [{ movementId = '' } = {}] = await manager.query<{ movementId?: string }[]>(
      'SELECT movementId FROM incident WHERE number = ?',
      [number],
    );
    await manager.query('SET foreign_key_checks = 0');
    for (const table of ['movement_trait', 'rule_match', 'incident_history'])
      await manager.query(`DELETE FROM ${table} WHERE incidentNumber = ?`, [number]);
    await manager.query('DELETE FROM incident WHERE number = ?', [number]);
    await manager.query('DELETE FROM movement WHERE id = ?', [movementId]);
    await manager.query('SET foreign_key_checks = 1');
  });
}

const FIELDS = FIELD_NAMES.filter((name) => !['any', 'title', 'number', 'urgency'].includes(name));

/** A filter of values that occur, over some fields. */
async function someFilter(): Promise<Filter> {
  const field = random.pick(FIELDS.filter((name) => !['time', 'due', 'decided'].includes(name)));
  const values = await plain.queue.values({ field, listed: 'incidents' }, ALL);
  const value = values.length > 0 ? random.pick(values).value : null;
  const one: Filter =
    value === null || fieldOf(field).kind === 'time'
      ? {
          kind: 'compare',
          field: 'time',
          operator: 'ge',
          value: new Date(Date.now() - 5 * DAY_MS).toISOString(),
        }
      : { kind: 'compare', field, operator: random.pick(['eq', 'ne'] as const), value };
  if (random.happens(0.5)) return one;
  const other = await someFilter();
  return random.happens(0.3)
    ? { kind: 'not', part: other }
    : { kind: random.pick(['and', 'or'] as const), parts: [one, other] };
}

const ALL: Sight = { silent: true, limits: null };
const NO_LIMITS = { departments: [], channels: [], severities: [], policies: [], ownTeam: false, holder: '' };

async function someReader(): Promise<Sight> {
  const silent = random.happens(0.5);
  if (random.happens(0.4)) return { silent, limits: null };
  const of = async (field: FieldName) =>
    (await plain.queue.values({ field, listed: 'incidents' }, ALL)).flatMap(({ value }) =>
      typeof value === 'string' ? [value] : [],
    );
  const [policy] = await running.database.manager.query<{ policyId: string }[]>(
    'SELECT policyId FROM rule_match LIMIT 1',
  );
  const limits = {
    departments: random.happens(0.4) ? (await of('department')).slice(0, 1) : [],
    channels: random.happens(0.3) ? ['mail'] : [],
    severities: random.happens(0.4) ? ['critical'] : [],
    policies: random.happens(0.3) && policy ? [policy.policyId] : [],
  };
  return { silent, limits: [{ ...NO_LIMITS, ...limits }] } as unknown as Sight;
}

/** All kinds of counts under one filter for one reader, in an order that does not matter. */
async function countsOf(
  { queue, tally, costs }: Counting,
  { filter, sight, listed, fields, period, now }: Asked,
): Promise<unknown> {
  const counted = { listed, filter, sight };
  const line = printFilter(filter);
  const sorted = (rows: readonly unknown[]) => rows.map((row) => JSON.stringify(row)).sort();
  const buckets = [0, 1, 2, 3].map((at) => ({
    from: period.from + at * DAY_MS,
    to: period.from + (at + 1) * DAY_MS,
  }));
  const [first = 'person', second = 'status'] = fields;
  const earlier: Filter = {
    kind: 'compare',
    field: 'time',
    operator: 'lt',
    value: new Date(period.from).toISOString(),
  };
  const named = fields.filter((field) => fieldOf(field).kind !== 'time' && fieldOf(field).kind !== 'number');
  const largest = await tally.largest(counted, { period, earlier }, named, 1_000);
  const rules = await costs.figures(line, period, sight);
  return {
    counts: await queue.counts(line, sight, now),
    values: sorted(await queue.values({ field: first, listed, filter: line }, sight, now)),
    groups: sorted((await queue.groups({ by: [first, second], filter: line }, sight, now)).groups),
    count: await tally.count(counted, period),
    buckets: await tally.byBucket(counted, buckets),
    halfHours: sorted(await tally.byHalfHour(counted, period)),
    spread: sorted([...(await tally.byValueAndBucket(counted, buckets, 'severity', ['high', 'critical']))]),
    largest: largest.map(({ values, counts }) => [sorted(values), Array.from(counts)]),
    byValues: (await tally.byValues(counted, period, fields, 1_000)).map(sorted),
    pages: await pagesOf(queue, line, sight, now),
    rules: sorted([...rules]),
  };
}

/** Numbers of every incident, page by page, in an order that columns hold and in one that they do not. */
async function pagesOf(queue: Queue, filter: string, sight: Sight, now: Date): Promise<number[][]> {
  const orders = ['-urgency', 'severity', '-time', 'due', 'number', 'person'] as const;
  return Promise.all(
    orders.map(async (order) => {
      const numbers: number[] = [];
      let after: string | null = null;
      do {
        const page = await queue.incidents({ filter, order, limit: 9, ...(after && { after }) }, sight, now);
        numbers.push(...page.rows.map(({ number }) => number));
        after = page.next;
      } while (after);
      return numbers;
    }),
  );
}

interface Asked {
  readonly filter: Filter;
  readonly sight: Sight;
  readonly listed: Listed;
  readonly fields: FieldName[];
  readonly period: Period;
  readonly now: Date;
}

it(`counts as the database does after random acts, for random readers (seed ${SEED})`, async () => {
  for (let sent = 0; sent < 12; sent += 1) await send();
  for (let round = 0; round < 40; round += 1) {
    await act();
    const asked: Asked = {
      filter: await someFilter(),
      sight: await someReader(),
      listed: random.pick(['incidents', 'matches', 'movements'] as const),
      fields: [random.pick(FIELDS), random.pick(FIELDS)],
      period: { from: Date.now() - random.whole(1, 20) * DAY_MS, to: Date.now() + DAY_MS },
      now: new Date(),
    };
    const told = {
      line: printFilter(asked.filter),
      sight: JSON.stringify(asked.sight),
      listed: asked.listed,
    };
    expect({ told, found: await countsOf(fast, asked) }).toEqual({
      told,
      found: await countsOf(plain, asked),
    });
  }
  // Left to the database everything would agree.
  expect(answered).toBeGreaterThan(150);
}, 240_000);

it('begins anew when it is told to, and counts the same', async () => {
  const asked = {
    filter: { kind: 'and', parts: [] },
    sight: ALL,
    listed: 'incidents',
    fields: ['person', 'rule'],
  } as const;
  const period = { from: Date.now() - 30 * DAY_MS, to: Date.now() + DAY_MS };
  const whole: Asked = {
    ...asked,
    fields: [...asked.fields],
    filter: { kind: 'and', parts: [] },
    period,
    now: new Date(),
  };
  await columns.rebuild();
  // Whoever asks first is answered by the database; from then on everything is in memory again.
  await fast.queue.counts('', ALL);
  await columns.ready();
  const before = answered;
  expect(await countsOf(fast, whole)).toEqual(await countsOf(plain, whole));
  expect(answered).toBeGreaterThan(before);
});

it('counts what was committed late under an earlier number of the list of changes', async () => {
  const before = (await fast.queue.counts('', ALL)).incidents;
  const runner = running.database.createQueryRunner();
  await runner.startTransaction();
  const [{ number = 0, movementId = '' } = {}] = (await runner.query(
    'SELECT number, movementId FROM incident ORDER BY number LIMIT 1',
  )) as { number?: number; movementId?: string }[];
  await runner.query('UPDATE incident SET test = 1 - test WHERE number = ?', [number]);
  await runner.query('UPDATE movement SET test = 1 - test WHERE id = ?', [movementId]);
  // Somebody else takes later numbers and commits first; the columns read those. It joins no case, which would wait for a lock.
  await send('Nothing to see');
  const tests = (await fast.queue.counts('test eq true', ALL)).incidents;
  await runner.commitTransaction();
  await runner.release();
  expect(Math.abs((await fast.queue.counts('test eq true', ALL)).incidents - tests)).toBe(1);
  expect((await fast.queue.counts('', ALL)).incidents).toBeGreaterThanOrEqual(before);
});

it('takes in as many changes as a long night leaves', async () => {
  await running.database.manager.query(
    'INSERT INTO counted_change (movementId) SELECT m.id FROM seq_1_to_150000 JOIN (SELECT id FROM movement LIMIT 1) m',
  );
  const before = answered;
  expect(await fast.queue.counts('', ALL)).toEqual(await plain.queue.counts('', ALL));
  expect(answered).toBeGreaterThan(before);
});

it('leaves to the database what a transaction counts of its own', async () => {
  await running.database.transaction(async () => {
    expect(
      await columns.ask({
        kind: 'tally',
        listed: 'incidents',
        silent: true,
        plan: { kind: 'and', parts: [] },
        by: [[]],
      }),
    ).toBeNull();
  });
});
