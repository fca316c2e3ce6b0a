import type { FieldName } from '../../incidents/filter/fields.js';
import type { DeskColumns } from './desk-columns.js';
import { MATCH_COLUMNS } from './facts.js';
import type { Looking } from './looked-at.js';
import { conjunctsOfPlan, type Plan, type TimeRange, timesOfPlan } from './plan.js';
import { SPAN_ROWS } from './spans.js';
import { type CodeTest, codeTestOf, type Test, testOf } from './test-of.js';

/** Rows that pass a plan, until the next selection from the same columns; for matches also where each match's block begins, side by side. */
export interface Selection {
  readonly looking: Looking;
  readonly rows: Uint32Array;
  readonly matches: Uint32Array | null;
}

/** Selects rows; null where these columns cannot answer the plan. */
export function select(columns: DeskColumns, looking: Looking, plan: Plan): Selection | null {
  const seen: Plan = looking.silent || looking.listed === 'movements' ? plan : withoutSilent(plan, looking);
  const conjuncts = conjunctsOfPlan(seen);
  const ofMatches = looking.listed === 'matches' ? conjuncts.filter(asksMatches) : [];
  const rows = rowsOf(
    columns,
    looking,
    conjuncts.filter((part) => !ofMatches.includes(part)),
  );
  if (!rows || looking.listed !== 'matches') return rows && { looking, rows, matches: null };
  const tests = ofMatches.map((part) => testOf(columns, looking, part));
  return tests.every((test) => test !== null) ? matchesOf(columns, looking, rows, tests) : null;
}

const isOpen = (ofIncident: boolean): Plan => ({
  ...{ kind: 'among', field: 'silent', values: ['0'] },
  ...(ofIncident && { ofIncident: true }),
});

/** Hides what only silent rules found. */
function withoutSilent(plan: Plan, { listed }: Looking): Plan {
  const parts = listed === 'matches' ? [isOpen(true), isOpen(false)] : [isOpen(false)];
  return { kind: 'and', parts: [plan, ...parts] };
}

/** Whether a plan asks for something that each match has for itself. */
function asksMatches(plan: Plan): boolean {
  switch (plan.kind) {
    case 'and':
    case 'or':
      return plan.parts.some(asksMatches);
    case 'not':
      return asksMatches(plan.part);
    case 'overdue':
      return false;
    default:
      return isOfMatches(plan.field) && !(plan.kind === 'among' && plan.ofIncident);
  }
}

const isOfMatches = (field: FieldName): boolean => field in MATCH_COLUMNS;

function rowsOf(columns: DeskColumns, looking: Looking, conjuncts: readonly Plan[]): Uint32Array | null {
  const { ranges, others } = timesOfPlan(conjuncts);
  const codeTests: CodeTest[] = [];
  const tests: Test[] = [];
  for (const part of others) {
    const codeTest = codeTestOf(columns, looking, part);
    const test = codeTest ? null : testOf(columns, looking, part);
    if (codeTest) codeTests.push(codeTest);
    else if (test) tests.push(test);
    else return null;
  }
  const [first, ...more] = codeTests;
  let rows = rowsWithin(columns, looking, ranges, first ?? null);
  for (const codeTest of more) rows = rows.subarray(0, keepByCode(rows, 0, rows.length, codeTest));
  for (const test of tests) rows = kept(rows, test);
  return rows;
}

/** Rows within some ranges of times that pass the first test. */
function rowsWithin(
  columns: DeskColumns,
  { listed }: Looking,
  ranges: readonly TimeRange[],
  test: CodeTest | null,
): Uint32Array {
  const [table, spans] =
    listed === 'movements'
      ? [columns.movements, columns.movementSpans]
      : [columns.incidents, columns.incidentSpans];
  const times = table.column('time').data;
  const rows = columns.room('rows', table.length);
  let found = 0;
  for (let first = 0; first < table.length; first += SPAN_ROWS) {
    const holding = spans.holds(first / SPAN_ROWS, ranges);
    if (holding === 'none') continue;
    const end = Math.min(first + SPAN_ROWS, table.length);
    const begun = found;
    if (holding === 'all') for (let row = first; row < end; row += 1) rows[found++] = row;
    else found = addWithin(rows, found, { times, first, end, ranges });
    if (test) found = keepByCode(rows, begun, found, test);
  }
  return rows.subarray(0, found);
}

/** Puts rows of a span behind the first `found`, where their time is within one of the ranges; returns how many there are then. */
function addWithin(
  rows: Uint32Array,
  found: number,
  {
    times,
    first,
    end,
    ranges,
  }: {
    readonly times: ArrayLike<number>;
    readonly first: number;
    readonly end: number;
    readonly ranges: readonly TimeRange[];
  },
): number {
  let next = found;
  for (let row = first; row < end; row += 1) {
    const time = times[row] ?? 0;
    if (ranges.some(({ from, to }) => time >= from && time < to)) rows[next++] = row;
  }
  return next;
}

/** Keeps of the rows from place `begun` to `end` those that pass; returns how many there are then. */
function keepByCode(rows: Uint32Array, begun: number, end: number, { data, marks }: CodeTest): number {
  let next = begun;
  for (let at = begun; at < end; at += 1) {
    const row = rows[at] ?? 0;
    if (marks[data[row] ?? 0] === 1) rows[next++] = row;
  }
  return next;
}

function kept(rows: Uint32Array, test: Test): Uint32Array {
  let found = 0;
  for (let at = 0; at < rows.length; at += 1) {
    const row = rows[at] ?? 0;
    if (test(row, 0)) rows[found++] = row;
  }
  return rows.subarray(0, found);
}

function matchesOf(
  columns: DeskColumns,
  looking: Looking,
  incidents: Uint32Array,
  tests: readonly Test[],
): Selection {
  const { starts, counts, width } = columns.matches;
  let room = 0;
  for (let at = 0; at < incidents.length; at += 1) room += counts[incidents[at] ?? 0] ?? 0;
  const rows = columns.room('match-rows', room);
  const matches = columns.room('matches', room);
  let found = 0;
  for (let at = 0; at < incidents.length; at += 1) {
    const row = incidents[at] ?? 0;
    const start = starts[row] ?? 0;
    const end = start + (counts[row] ?? 0) * width;
    for (let match = start; match < end; match += width) {
      rows[found] = row;
      matches[found] = match;
      found += 1;
    }
  }
  for (const test of tests) found = keepMatches(rows, matches, found, test);
  return { looking, rows: rows.subarray(0, found), matches: matches.subarray(0, found) };
}

function keepMatches(rows: Uint32Array, matches: Uint32Array, end: number, test: Test): number {
  let next = 0;
  for (let at = 0; at < end; at += 1) {
    const row = rows[at] ?? 0;
    const match = matches[at] ?? 0;
    if (!test(row, match)) continue;
    rows[next] = row;
    matches[next] = match;
    next += 1;
  }
  return next;
}
