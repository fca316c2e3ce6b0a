/** Columns in memory against counting one by one, with movements that come, change and go. */
import { chance, type Chance } from '@lantern/testkit';
import { type FieldName, fieldOf, type Listed, operatorsOf } from '../../incidents/filter/fields.js';
import type { Filter, FilterValue } from '../../incidents/filter/filter.js';
import { type FilterFacts, filterHolds } from '../../incidents/filter/holds.js';
import { NO_RULE_FIGURES } from '../rules/rule-cost.js';
import { jest } from '@jest/globals';
import { answerFrom, type CountQuestion } from './answer.js';
import type { Dimension } from './axis.js';
import { DeskColumns } from './desk-columns.js';
import type { IncidentFacts, MovementFacts } from './facts.js';
import { KeptStretches } from './kept-stretches.js';
import type { CountedRule } from './rule-figures.js';
import { NEVER } from './page.js';
import { planOf } from './plan.js';
import { RowIndex } from './row-index.js';

const SEED = Number(process.env['SEED'] ?? 31);
const NOW = Date.UTC(2026, 10, 30, 12);
const DAY = 86_400_000;
const SEVERITIES = ['low', 'medium', 'high', 'critical'];
const idsOf = (_: string, __: string, value: FilterValue) => [String(value)];

interface Known {
  readonly movement: MovementFacts;
  readonly incident: IncidentFacts | null;
}

const id = (at: number): string => `${at.toString(16).padStart(8, '0')}-0000-4000-8000-000000000000`;

/** Some movement, often with an incident; `number` says which. */
function someMovement(random: Chance, at: number): Known {
  const maybe = <Value>(value: Value): Value | null => (random.whole(0, 4 - 1) === 0 ? null : value);
  const shared = {
    time: NOW - random.whole(0, 30 * DAY - 1),
    person: random.pick(['ada@merrow.example', 'ben@merrow.example', 'cy@merrow.example']),
    department: random.pick(['Fares', 'Crew', 'Harbour office']),
    machine: maybe(random.pick(['DESK-1', 'DESK-2'])),
    channel: random.pick(['mail', 'chat', 'drive']),
    managed: maybe(random.pick([0, 1])),
    test: Number(random.whole(0, 8 - 1) === 0),
    answer: random.pick(['note', 'advise', 'ask', 'block']),
  };
  const number = random.whole(0, 3 - 1) === 0 ? null : at + 1;
  const severity = random.pick(SEVERITIES);
  const silent = Number(random.whole(0, 6 - 1) === 0);
  return {
    movement: { id: id(at), incident: number, values: shared },
    incident:
      number === null
        ? null
        : {
            number,
            values: {
              ...shared,
              ...{
                severity,
                openSeverity: silent ? null : severity,
                openAnswer: silent ? null : shared.answer,
              },
              ...{
                urgency: random.whole(0, 5 - 1),
                openUrgency: silent ? null : random.whole(0, 5 - 1),
                silent,
              },
              status: random.pick(['new', 'decided']),
              outcome: maybe(random.pick(['false-positive', 'allowed', 'harm'])),
              due: maybe(NOW + random.whole(0, 4 * DAY - 1) - 2 * DAY),
              decided: maybe(NOW - random.whole(0, DAY - 1)),
            },
            traits: Array.from({ length: random.whole(0, 5 - 1) }, () => ({
              field: random.pick(['domain', 'rule', 'policy', 'reply']),
              value: random.pick(['a.example', 'b.example', 'work', 'one']),
              silent: random.whole(0, 5 - 1) === 0,
            })),
            matches: Array.from({ length: 1 + random.whole(0, 3 - 1) }, () => ({
              policy: random.pick(['one', 'two']),
              rule: maybe(random.pick(['a', 'b', 'c'])),
              answer: random.pick(['note', 'advise', 'ask', 'block']),
              severity: random.pick(SEVERITIES),
              silent: Number(random.whole(0, 5 - 1) === 0),
              reducedBy: maybe('ceiling'),
            })),
          },
  };
}

const FIELDS: readonly FieldName[] = [
  ...([
    'time',
    'person',
    'department',
    'machine',
    'channel',
    'managed',
    'test',
    'severity',
    'answer',
  ] as const),
  ...([
    'status',
    'outcome',
    'urgency',
    'domain',
    'rule',
    'policy',
    'reply',
    'due',
    'silent',
    'overdue',
  ] as const),
];
/** What movements are not counted by: places of findings that those without an incident have as well, and what is overdue. */
const NOT_OF_MOVEMENTS: readonly FieldName[] = ['domain', 'overdue'];
const MOVEMENT_FIELDS = FIELDS.filter((field) => !NOT_OF_MOVEMENTS.includes(field));

function someFilter(random: Chance, fields: readonly FieldName[], depth = 0): Filter {
  const kind = random.whole(0, depth > 2 ? 0 : 3);
  const part = () => someFilter(random, fields, depth + 1);
  if (kind === 1) return { kind: 'and', parts: [part(), part()] };
  if (kind === 2) return { kind: 'or', parts: [part(), part()] };
  if (kind === 3) return { kind: 'not', part: part() };
  const field = random.pick(fields);
  const { named } = fieldOf(field);
  const operator = named ? 'eq' : random.pick(operatorsOf(field));
  if (operator === 'pr') return { kind: 'present', field };
  return { kind: 'compare', field, operator, value: valueFor(random, field) };
}

function valueFor(random: Chance, field: FieldName): FilterValue {
  const { kind, choices, named } = fieldOf(field);
  if (named) return random.pick(['one', 'two', 'a', 'b']);
  if (kind === 'yes-no') return random.whole(0, 2 - 1) === 0;
  if (kind === 'number') return random.whole(0, 5 - 1);
  if (kind === 'time') return new Date(NOW - random.whole(0, 30 * DAY - 1)).toISOString();
  if (choices) return random.pick(choices);
  return random.pick(['Ada@', 'merrow.example', 'fares', 'DESK-1', 'a.example', 'office']);
}

/** What a list shows of one row, for a viewer: the plain way. */
function factsOf(known: Known, listed: Listed, silent: boolean, match?: IncidentFacts['matches'][number]) {
  const { movement, incident } = known;
  const facts: Record<string, FilterValue | FilterValue[]> = {};
  const put = (name: string, value: string | number | null | undefined) => {
    const field = FIELDS.find((one) => one === name);
    if (!field || value === null || value === undefined) return;
    facts[field] = fieldOf(field).kind === 'yes-no' ? value === 1 : value;
  };
  const isSeen = incident && (silent || incident.values.silent !== 1);
  const values: Readonly<Record<string, string | number | null>> =
    listed !== 'movements' || isSeen ? (incident?.values ?? {}) : {};
  for (const [name, value] of Object.entries(values)) put(name, value);
  if (listed === 'movements')
    for (const [name, value] of Object.entries({
      ...movement.values,
      answer: silent ? movement.values.answer : null,
    }))
      put(name, value);
  if (!incident) return facts as FilterFacts;
  if (!silent)
    for (const [name, from] of Object.entries({
      severity: 'openSeverity',
      urgency: 'openUrgency',
      answer: 'openAnswer',
    })) {
      delete facts[name];
      put(name, values[from]);
    }
  for (const trait of incident.traits)
    if (silent || !trait.silent)
      facts[trait.field] = [...((facts[trait.field] as string[] | undefined) ?? []), trait.value];
  for (const name of match ? (['policy', 'rule', 'answer', 'severity', 'silent'] as const) : []) {
    delete facts[name];
    put(name, match?.[name]);
  }
  if (listed !== 'movements')
    facts['overdue'] = values['status'] !== 'decided' && Number(values['due'] ?? Infinity) < NOW;
  return facts as FilterFacts;
}

/** Rows that a viewer sees under a filter, one by one. */
function rowsOf(all: readonly Known[], listed: Listed, silent: boolean, filter: Filter): FilterFacts[] {
  const rows = all.flatMap((known): FilterFacts[] => {
    if (listed === 'movements') return [factsOf(known, listed, silent)];
    const { incident } = known;
    if (!incident || (!silent && incident.values.silent === 1)) return [];
    if (listed === 'incidents') return [factsOf(known, listed, silent)];
    return incident.matches
      .filter((match) => silent || match.silent === 0)
      .map((match) => factsOf(known, listed, silent, match));
  });
  return rows.filter((row) => filterHolds(filter, row, NOW));
}

const keyOf = (facts: FilterFacts, field: FieldName): (string | number | null)[] => {
  const value = facts[field];
  if (value === undefined) return [null];
  const { kind } = fieldOf(field);
  const one = (single: FilterValue) =>
    kind === 'yes-no'
      ? Number(single)
      : kind === 'time'
        ? new Date(Number(single)).toISOString().slice(0, 10)
        : single;
  return typeof value === 'object' ? ([...new Set(value.map(one))] as string[]) : [one(value) as string];
};

function countsBy(rows: readonly FilterFacts[], fields: readonly FieldName[]): Record<string, number> {
  const counts: Record<string, number> = {};
  for (const row of rows) {
    const [first = [null], second] = fields.map((field) => keyOf(row, field));
    for (const one of first)
      for (const other of second ?? [undefined]) {
        const key = JSON.stringify(second ? [one, other] : [one]);
        counts[key] = (counts[key] ?? 0) + 1;
      }
  }
  return counts;
}

/** Columns after some hundred movements came, changed and went, and what they hold. */
function someDesk(random: Chance): { readonly columns: DeskColumns; readonly all: readonly Known[] } {
  const columns = new DeskColumns();
  const all = new Map<number, Known>();
  for (let act = 0; act < 400; act += 1) {
    const at = random.whole(0, 150 - 1);
    if (random.whole(0, 5 - 1) === 0) {
      columns.removeMovement(id(at));
      all.delete(at);
      continue;
    }
    const known = someMovement(random, at);
    columns.putMovement(known.movement);
    if (known.incident) columns.putIncident(known.incident);
    all.set(at, known);
    if (act % 50 === 0) columns.tidy();
  }
  return { columns, all: [...all.values()] };
}

const planFor = (filter: Filter) => {
  const plan = planOf(filter, { now: NOW, idsOf });
  if (!plan) throw new Error('The filter has no plan');
  return plan;
};

it.each(['incidents', 'matches', 'movements'] as const)('counts %s as one by one', (listed) => {
  const random = chance(SEED);
  const { columns, all } = someDesk(random);
  const fields = listed === 'movements' ? MOVEMENT_FIELDS : FIELDS;
  for (let round = 0; round < 250; round += 1) {
    const silent = random.whole(0, 2 - 1) === 0;
    const filter = someFilter(random, fields);
    const by = [random.pick(fields), random.pick(fields)];
    const dimensions = by.map((field) => ({ kind: 'field' as const, field, now: NOW }));
    const question: CountQuestion = {
      ...{ kind: 'tally', listed, silent, plan: planFor(filter) },
      by: [[], dimensions.slice(0, 1), dimensions],
    };
    const answer = answerFrom(columns, question) as { keys: unknown[]; count: number }[][];
    const rows = rowsOf(all, listed, silent, filter);
    const found = answer.map((tallied) =>
      Object.fromEntries(tallied.map(({ keys, count }) => [JSON.stringify(keys), count])),
    );
    const wanted = [{ '[]': rows.length }, countsBy(rows, by.slice(0, 1)), countsBy(rows, by)];
    expect({ seed: SEED, filter, by, silent, found }).toEqual({
      seed: SEED,
      filter,
      by,
      silent,
      found: wanted,
    });
  }
});

it('counts by buckets, whose first instant is theirs, and by half hours', () => {
  const { columns, all } = someDesk(chance(SEED + 1));
  const times = all.map(({ movement }) => Number(movement.values.time));
  const starts = [times[3] ?? 0, NOW - 5 * DAY]
    .sort((one, other) => one - other)
    .map((at) => Math.floor(at / 1_000) * 1_000);
  const [buckets, halves] = answerFrom(columns, {
    ...{ kind: 'tally', listed: 'movements', silent: true, plan: { kind: 'and', parts: [] } },
    by: [[{ kind: 'buckets', starts }], [{ kind: 'half-hours' }]],
  }) as { keys: number[]; count: number }[][];
  const count = (test: (time: number) => boolean) => times.filter(test).length;
  expect(Object.fromEntries((buckets ?? []).map(({ keys, count: n }) => [keys[0], n]))).toEqual({
    0: count((time) => time < (starts[0] ?? 0)),
    1: count((time) => time >= (starts[0] ?? 0) && time < (starts[1] ?? 0)),
    2: count((time) => time >= (starts[1] ?? 0)),
  });
  expect(halves?.reduce((sum, { count: n }) => sum + n, 0)).toBe(times.length);
});

it.each(['urgency', 'severity', 'time', 'number', 'due'] as const)(
  'pages by %s meet without gap or repetition',
  (by) => {
    const { columns, all } = someDesk(chance(SEED + 2));
    for (const descending of [true, false]) {
      const found: number[] = [];
      let after: { key: number; number: number } | null = null;
      for (;;) {
        const page = answerFrom(columns, {
          ...{
            kind: 'page',
            silent: true,
            plan: { kind: 'and', parts: [] },
            by,
            descending,
            after,
            limit: 7,
          },
        }) as { key: number; number: number }[];
        found.push(...page.map(({ number }) => number));
        if (page.length < 7) break;
        after = page.at(-1) ?? null;
      }
      const keyed = all.flatMap(({ incident }) => {
        if (!incident) return [];
        const { values, number } = incident;
        const key = {
          urgency: values.urgency,
          severity: SEVERITIES.indexOf(String(values.severity)),
          time: values.time,
          number,
          due: values.due ?? NEVER,
        }[by];
        return [{ number, key: Number(key) }];
      });
      const sign = descending ? -1 : 1;
      keyed.sort((one, other) => sign * (one.key - other.key || one.number - other.number));
      expect(found).toEqual(keyed.map(({ number }) => number));
    }
  },
);

it('leaves to the database what it does not hold, and text beyond ASCII', () => {
  const { columns } = someDesk(chance(SEED));
  const tallied = (filter: Filter, listed: Listed = 'incidents') =>
    answerFrom(columns, { kind: 'tally', listed, silent: true, plan: planFor(filter), by: [[]] });
  const compare = (field: FieldName, value: string): Filter => ({
    kind: 'compare',
    field,
    operator: 'eq',
    value,
  });
  expect(
    planOf({ kind: 'compare', field: 'any', operator: 'co', value: 'a' }, { now: NOW, idsOf }),
  ).toBeNull();
  expect(tallied(compare('domain', 'a.example'), 'movements')).toBeNull();
  expect(tallied(compare('department', 'Fähre'))).toBeNull();
  expect(tallied(compare('department', 'Fares'))).not.toBeNull();
  const known = someMovement(chance(1), 200);
  columns.putMovement(known.movement);
  columns.putIncident({
    number: 900,
    values: { ...known.movement.values, department: 'Färja' },
    traits: [],
    matches: [],
  });
  expect(tallied(compare('department', 'Fares'))).toBeNull();
});

it('gives the figures of a rule that were worked out by hand', () => {
  const columns = new DeskColumns();
  const at = NOW - 20 * DAY;
  const add = (
    number: number,
    time: number,
    more: Partial<IncidentFacts['values']>,
    answer: string,
    reply?: string,
  ) => {
    const values = { time, person: 'ada', test: 0, silent: 0, status: 'new', ...more };
    columns.putMovement({ id: id(number), incident: number, values: {} });
    columns.putIncident({
      ...{ number, values },
      traits: reply ? [{ field: 'reply', value: reply, silent: false }] : [],
      matches: [{ policy: 'one', rule: 'a', answer, severity: 'low', silent: 0, reducedBy: null }],
    });
  };
  add(1, at, {}, 'advise');
  // Within a week of the first: a repeat. Itself followed by nothing for more than a week.
  add(2, at + 6 * DAY, { outcome: 'harm', decided: at + 6 * DAY + 90_000 }, 'advise');
  add(
    3,
    at + 14 * DAY,
    { person: 'ben', outcome: 'false-positive', decided: at + 14 * DAY + 3_600_000 },
    'ask',
    'work',
  );
  add(4, at + 14 * DAY, { outcome: 'harm', decided: at + 14 * DAY + 600_000 }, 'block');
  add(5, at + 14 * DAY, { test: 1 }, 'block');
  // Its week is not over, and nothing followed yet.
  add(6, NOW - DAY, { person: 'cy' }, 'advise');
  const [rule] = answerFrom(columns, {
    ...{ kind: 'rules', silent: false, plan: { kind: 'and', parts: [] }, from: at, to: NOW, now: NOW },
  }) as readonly CountedRule[];
  expect(rule?.figures).toEqual({
    ...NO_RULE_FIGURES,
    ...{ matches: 5, people: 3, advised: 3, asked: 1, blocked: 1, forWork: 1, tests: 1 },
    ...{ decided: 3, falsePositives: 1, harm: 2, harmStopped: 1, advicesKnown: 2, repeatedAfterAdvice: 1 },
  });
  // 1, 10 and 60 whole minutes.
  expect(rule?.minutes).toBe(10);
});

it('finds every row by its id after thousands came and went', () => {
  const index = new RowIndex();
  const random = chance(SEED);
  const rows: string[] = [];
  for (let act = 0; act < 30_000; act += 1) {
    if (rows.length > 0 && random.whole(0, 3 - 1) === 0) {
      const row = random.whole(0, rows.length - 1);
      const last = rows.length - 1;
      index.forget(row);
      if (row < last) {
        index.moved(last, row);
        rows[row] = rows[last] ?? '';
      }
      rows.pop();
    } else {
      index.set(id(act), rows.length);
      rows.push(id(act));
    }
  }
  expect(rows.every((one, row) => index.find(one) === row)).toBe(true);
  expect(index.find(id(99_999))).toBe(-1);
});

describe('sums that are kept', () => {
  const MANY = 56_000;
  const STEP = Math.floor((30 * DAY) / MANY);
  const spread = (random: Chance, at: number): Known => {
    const known = someMovement(random, at);
    const time = NOW - 30 * DAY + at * STEP;
    return {
      movement: { ...known.movement, values: { ...known.movement.values, time } },
      incident: known.incident && {
        ...known.incident,
        values: { ...known.incident.values, time },
      },
    };
  };
  const put = (columns: DeskColumns, { movement, incident }: Known) => {
    columns.putMovement(movement);
    if (incident) columns.putIncident(incident);
  };
  const fields: readonly FieldName[] = [
    'person',
    'department',
    'severity',
    'rule',
    'time',
    'silent',
    'reply',
  ];
  const someDimensions = (random: Chance): Dimension[] => {
    const field = { kind: 'field' as const, field: random.pick(fields), now: NOW };
    const buckets = {
      kind: 'buckets' as const,
      starts: [20, 12, 5, 1].map((days) => NOW - days * DAY + random.whole(0, 1) * 1_800_000),
    };
    return random.pick<Dimension[]>([
      [],
      [field],
      [buckets],
      [{ kind: 'half-hours' }],
      [field, buckets],
      [field, { ...field, field: random.pick(fields) }],
    ]);
  };
  const someGroups = (random: Chance): Dimension[] =>
    random
      .pick<readonly FieldName[]>([['person'], ['department', 'severity'], ['rule', 'person'], ['reply']])
      .map((field) => ({ kind: 'field', field, now: NOW }));
  const during = (from: number, to: number): Filter => ({
    kind: 'and',
    parts: [
      { kind: 'compare', field: 'time', operator: 'ge', value: new Date(from).toISOString() },
      { kind: 'compare', field: 'time', operator: 'lt', value: new Date(to).toISOString() },
    ],
  });
  const random = chance(SEED + 9);
  const columns = new DeskColumns();
  for (let at = 0; at < MANY; at += 1) put(columns, spread(random, at));

  it('are counted anew only where something changed', () => {
    const kept = new KeptStretches(columns);
    const question: CountQuestion = {
      ...{ kind: 'tally', listed: 'movements', silent: true, plan: planFor(during(NOW - 29 * DAY, NOW)) },
      by: [[{ kind: 'field', field: 'person', now: NOW }]],
    };
    answerFrom(columns, question, kept);
    const room = jest.spyOn(columns, 'room');
    answerFrom(columns, question, kept);
    const ends = room.mock.calls.length;
    expect(ends).toBeLessThanOrEqual(2);
    put(columns, spread(random, 30_000));
    answerFrom(columns, question, kept);
    expect(room.mock.calls.length).toBe(ends * 2 + 1);
    room.mockRestore();
  });

  it.each([
    ['all of them', undefined],
    ['as many as there is room for', 150_000],
  ])('count as rows do while rows come, change and go: %s', (_, most) => {
    const kept = new KeptStretches(columns, most);
    const take = jest.spyOn(kept, 'take');
    for (let round = 0; round < 180; round += 1) {
      const listed = random.pick(['incidents', 'matches', 'movements'] as const);
      const filter = random.pick<Filter>([
        during(NOW - 29 * DAY - random.whole(0, DAY), NOW),
        during(NOW - 28 * DAY, NOW - random.whole(0, 2 * DAY)),
        {
          kind: 'and',
          parts: [
            during(NOW - 30 * DAY, NOW + DAY),
            { kind: 'compare', field: 'department', operator: 'ne', value: 'Crew' },
          ],
        },
      ]);
      const asked = { silent: random.whole(0, 1) === 0, plan: planFor(filter) };
      const question = random.pick<CountQuestion>([
        { ...asked, kind: 'tally', listed, by: [someDimensions(random), []] },
        // What is overdue turns on the clock, which goes on between two questions.
        { ...asked, kind: 'groups', by: someGroups(random), now: NOW + round * 3_600_000, limit: 1_000 },
        { ...asked, kind: 'page', by: 'urgency', descending: true, after: null, limit: 200 },
      ]);
      const [first, again, plain] = [kept, kept, null].map((sums) => answerFrom(columns, question, sums));
      // Values of one count come in any order, rows of a page do not.
      const inOrder = (answer: unknown) =>
        question.kind === 'page'
          ? answer
          : (answer as unknown[])
              .flat()
              .map((row) => JSON.stringify(row))
              .sort();
      expect({ round, question, found: inOrder(first) }).toEqual({ round, question, found: inOrder(plain) });
      expect(inOrder(again)).toEqual(inOrder(plain));
      for (let change = random.whole(0, 30); change > 0; change -= 1) {
        const at = random.whole(0, MANY + 200);
        if (random.whole(0, 3) === 0) columns.removeMovement(id(at));
        else put(columns, spread(random, at));
      }
    }
    const taken = take.mock.results.filter(({ value }) => value === true).length;
    expect(taken).toBeGreaterThan(120);
    expect(kept.size).toBeLessThanOrEqual(most ?? 20_000_000);
    expect(kept.size).toBeGreaterThan(0);
  });
});
