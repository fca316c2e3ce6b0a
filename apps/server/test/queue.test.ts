/** Lists of the desk: what the database finds is held to the plain evaluation of the same filter in the core. */
import type {
  ErrorBody,
  FieldValue,
  GroupPage,
  IncidentPage,
  ListCounts,
  MovementPage,
  SendMailResult,
} from '@lantern/contracts';
import {
  FIELD_NAMES,
  type FieldName,
  fieldOf,
  type Filter,
  type FilterFacts,
  filterHolds,
  operatorsOf,
  printFilter,
} from '@lantern/core/incidents';
import { chance } from '@lantern/testkit';
import { IncidentEntity } from '../src/incidents/incident.entity.js';
import { KnownNames } from '../src/incidents/known-names.service.js';
import { columnOf } from '../src/incidents/queue/columns.js';
import { Queue } from '../src/incidents/queue/queue.service.js';
import { TraitEntity } from '../src/incidents/queue/trait.entity.js';
import { CARDS, type Client, mailForm, OUTSIDE, publish, ruleOf, type Running, start } from './harness.js';

const SEED = 19;
const random = chance(SEED);
const WITHOUT = new Set<FieldName>(['any', 'title', 'silent', 'overdue', 'due', 'time', 'decided']);
const SIGHT = { silent: true, limits: null };

let running: Running;
let client: Client;
let queue: Queue;
let facts: Map<number, FilterFacts>;

const people = ['Orla Fenwick', 'Bea Lindqvist'];
const subjects = ['Refunds of the week', 'A question about berth 4', 'Formula =1+1'];

beforeAll(async () => {
  running = await start();
  client = await running.client();
  queue = running.application.get(Queue);
  await publish(client, 'Cards outside', [
    ruleOf(),
    ruleOf({ name: 'Many', severity: 'critical', answer: 'advise' }),
  ]);
  const ids = new Map<string, string>();
  for (const name of people) ids.set(name, (await running.person(name)).id);
  for (let sent = 0; sent < 40; sent += 1) {
    const person = ids.get(random.pick(people)) ?? '';
    const to = random.pick([
      [OUTSIDE],
      [OUTSIDE, 'bea.lindqvist@merrowstrait.example'],
      ['bea.lindqvist@merrowstrait.example'],
    ]);
    const body = random.happens(0.7) ? `${CARDS} ${sent}` : `Nothing to see ${sent}`;
    const form = mailForm({ person, to, subject: random.pick(subjects), body });
    expect((await client.send<SendMailResult>('POST', '/stand-ins/mail/messages', form)).status).toBeLessThan(
      300,
    );
  }
  const { rows } = (await client.get<IncidentPage>('/incidents?limit=500')).body;
  for (const { number, version } of rows) {
    const act = random.pick(['take', 'answer-all-right', 'answer-looked-for', null] as const);
    if (act)
      await client.send('POST', `/incidents/${number}/acts`, { act, yes: random.happens(0.5), version });
  }
  facts = await readFacts();
});
afterAll(() => running.stop());

/** Values of every field of every incident, read from the tables without the code under test. */
async function readFacts(): Promise<Map<number, FilterFacts>> {
  const names = running.application.get(KnownNames);
  const incidents = await running.database.getRepository(IncidentEntity).find();
  const traits = await running.database.getRepository(TraitEntity).find();
  return new Map(
    incidents.map((incident) => {
      const found: Record<string, unknown[]> = {};
      for (const name of FIELD_NAMES) {
        const column = columnOf(name, { listed: 'incidents', sight: SIGHT, now: new Date() });
        const value = column ? incident[column.slice(2) as keyof IncidentEntity] : null;
        if (value !== null && value !== undefined)
          found[name] = [fieldOf(name).kind === 'yes-no' ? Boolean(Number(value)) : value];
      }
      for (const { incidentNumber, field, value } of traits) {
        if (incidentNumber !== incident.number) continue;
        const { named } = fieldOf(field);
        (found[field] ??= []).push(...(named ? [names.nameOf(named, value), value] : [value]));
      }
      return [incident.number, found as FilterFacts];
    }),
  );
}

/** A filter of values that occur, and of some that do not. */
function anyFilter(depth = 0): Filter {
  const kind =
    depth > 2 ? 'compare' : random.pick(['compare', 'compare', 'present', 'not', 'and', 'or'] as const);
  if (kind === 'not') return { kind, part: anyFilter(depth + 1) };
  if (kind === 'and' || kind === 'or')
    return { kind, parts: Array.from({ length: random.whole(2, 3) }, () => anyFilter(depth + 1)) };
  const field = random.pick(FIELD_NAMES.filter((name) => !WITHOUT.has(name)));
  if (kind === 'present' && operatorsOf(field).includes('pr')) return { kind, field };
  const operator = random.pick(operatorsOf(field).filter((one) => one !== 'pr'));
  const occurring = [...facts.values()].flatMap((one) => one[field] ?? []);
  const { kind: type, choices } = fieldOf(field);
  const strange = choices ? random.pick(choices) : type === 'number' ? 3 : type === 'yes-no' ? true : 'x%_\\';
  const whole = occurring.length > 0 && random.happens(0.8) ? random.pick(occurring) : strange;
  const value =
    typeof whole === 'string' && !choices && operator !== 'eq' && operator !== 'ne'
      ? whole.slice(operator === 'ew' ? -4 : 0, operator === 'ew' ? undefined : 4)
      : whole;
  return { kind: 'compare', field, operator, value };
}

it(`finds what the plain evaluation finds, over 500 random filters of seed ${SEED}`, async () => {
  expect(facts.size).toBeGreaterThan(15);
  const now = new Date();
  let some = 0;
  for (let made = 0; made < 500; made += 1) {
    const filter = anyFilter();
    const line = printFilter(filter);
    const found = await queue.numbers(queue.read(line), SIGHT, 1_000, now);
    const plain = [...facts].flatMap(([number, one]) =>
      filterHolds(filter, one, now.getTime()) ? [number] : [],
    );
    expect({ line, found: [...found].sort() }).toEqual({ line, found: plain.sort() });
    if (found.length > 0 && found.length < facts.size) some += 1;
  }
  // Filters that keep nothing or everything would prove little.
  expect(some).toBeGreaterThan(60);
});

it.each(['-urgency', 'time', '-severity', 'person', 'assignee', '-due', 'status', '-number', 'matches'])(
  'gives every incident once over pages in the order of %s',
  async (order) => {
    const numbers: number[] = [];
    let after = '';
    for (let pages = 0; pages < 50; pages += 1) {
      const path = `/incidents?order=${order}&limit=7${after && `&after=${after}`}`;
      const { rows, next } = (await client.get<IncidentPage>(path)).body;
      numbers.push(...rows.map(({ number }) => number));
      if (!next) break;
      after = next;
    }
    expect([...numbers].sort((one, other) => one - other)).toEqual([...facts.keys()]);
    const whole = (await client.get<IncidentPage>(`/incidents?order=${order}&limit=500`)).body.rows;
    expect(numbers).toEqual(whole.map(({ number }) => number));
  },
);

it('counts values as filters by them do, whatever that field is narrowed to', async () => {
  const other = 'status ne "decided"';
  for (const field of ['person', 'severity', 'rule', 'pattern', 'domain', 'reported', 'assignee'] as const) {
    const narrowed = fieldOf(field).kind === 'words' ? `${other} and ${field} eq "nobody"` : other;
    const path = `/incidents/values?field=${field}&filter=${encodeURIComponent(narrowed)}`;
    const values = (await client.get<FieldValue[]>(path)).body;
    expect(values.length).toBeGreaterThan(0);
    for (const { value, count } of values) {
      const asks = value === null ? `not (${field} pr)` : `${field} eq ${JSON.stringify(value)}`;
      const counts = await client.get<ListCounts>(
        `/incidents/counts?filter=${encodeURIComponent(`${other} and ${asks}`)}`,
      );
      expect({ field, value, count }).toEqual({ field, value, count: counts.body.incidents });
    }
  }
});

it('groups by two fields, and the groups add up', async () => {
  const { groups } = (await client.get<GroupPage>('/incidents/groups?by=person,status')).body;
  expect(groups.reduce((sum, group) => sum + group.incidents, 0)).toBe(facts.size);
  for (const { values, incidents, open } of groups) {
    const line = `person eq ${JSON.stringify(values[0]?.value)} and status eq ${JSON.stringify(values[1]?.value)}`;
    const { body } = await client.get<ListCounts>(`/incidents/counts?filter=${encodeURIComponent(line)}`);
    expect(body.incidents).toBe(incidents);
    expect(open).toBe(values[1]?.value === 'decided' ? 0 : incidents);
  }
});

it('counts four matches, two incidents and two movements of two rules', async () => {
  const { body } = await client.get<ListCounts>('/incidents/counts');
  expect(body.incidents).toBe(facts.size);
  expect(body.movements).toBe(40);
  expect(body.matches).toBeGreaterThan(body.incidents);
});

it('lists movements that tripped no rule, and finds titles by words only', async () => {
  const quiet = (await client.get<MovementPage>('/movements?filter=not%20(number%20pr)&limit=500')).body.rows;
  expect(quiet.length).toBe(40 - facts.size);
  expect(quiet.every(({ incident, answer }) => incident === null && answer === null)).toBe(true);
  const by = async (line: string) =>
    (await client.get<ListCounts>(`/incidents/counts?filter=${encodeURIComponent(line)}`)).body.movements;
  const titled = quiet.filter(({ title }) => title === subjects[1]).length;
  expect(await by('title co "BERTH question" and not (number pr)')).toBe(titled);
  expect(await by('any co "berth" and not (number pr)')).toBe(titled);
  expect(await by('title co "ber"')).toBe(0);
});

it.each([
  ['/incidents?after=nonsense', 'invalid-request'],
  ['/incidents?filter=%22%22%22', 'bad-filter'],
  [`/incidents?filter=${'('.repeat(5_000)}`, 'bad-filter'],
  [`/incidents/counts?filter=${'x'.repeat(7_000)}`, 'invalid-request'],
  ['/incidents/values?field=colour', 'invalid-request'],
  ["/incidents?filter=person%20eq%20%22'%20or%201=1%20--%22", undefined],
])('answers %.40s plainly', async (path, code) => {
  const { status, body } = await client.get<ErrorBody & { rows?: unknown[] }>(path);
  expect(status).toBe(code ? 400 : 200);
  if (code) expect(body.code).toBe(code);
  else expect(body.rows).toEqual([]);
});
