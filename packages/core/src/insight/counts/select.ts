import type { FieldName } from '../../incidents/filter/fields.js';
import type { DeskColumns } from './desk-columns.js';
import { MATCH_COLUMNS } from './facts.js';
import type { Looking } from './looked-at.js';
import { conjunctsOfPlan, type Plan, type TimeRange, timesOfPlan } from './plan.js';
import { SPAN_ROWS, type Spans } from './spans.js';
import { type CodeTest, codeTestOf, type Test, testOf } from './test-of.js';

/**
 * Rows that pass a plan, until the next selection from the same columns in the same room; for matches also where each match's
 * block begins, side by side.
 */
export interface Selection {
  readonly looking: Looking;
  readonly rows: Uint32Array;
  readonly matches: Uint32Array | null;
  /** Times between which all of the rows lie. */
  readonly extent: TimeRange;
}

/** A plan that is made ready to select rows by. */
export interface Chooser {
  readonly looking: Looking;
  /** Times that it asks for, of which one has to hold, and whatever else it asks for. */
  readonly ranges: readonly TimeRange[];
  readonly others: readonly Plan[];
  /** Selects among the rows from `first` up to `end`, in a room by that name. */
  readonly choose: (stretch: Stretch, room: string) => Selection;
}

/** Some rows that follow each other, the end left out. */
export interface Stretch {
  readonly first: number;
  readonly end: number;
}

/** The table of what is listed, with the times of its rows; matches stand with their incidents. */
export const tableOf = (columns: DeskColumns, { listed }: Looking) =>
  listed === 'movements'
    ? { table: columns.movements, spans: columns.movementSpans, stamps: columns.movementStamps }
    : { table: columns.incidents, spans: columns.incidentSpans, stamps: columns.incidentStamps };

/** Selects rows; null where these columns cannot answer the plan. */
export function select(columns: DeskColumns, looking: Looking, plan: Plan): Selection | null {
  const chooser = chooserOf(columns, looking, plan);
  return chooser && chooser.choose({ first: 0, end: tableOf(columns, looking).table.length }, 'whole');
}

/** Makes a plan ready; null where these columns cannot answer it. */
export function chooserOf(columns: DeskColumns, looking: Looking, plan: Plan): Chooser | null {
  const seen: Plan = looking.silent || looking.listed === 'movements' ? plan : withoutSilent(plan, looking);
  const conjuncts = conjunctsOfPlan(seen);
  const ofMatches = looking.listed === 'matches' ? conjuncts.filter(asksMatches) : [];
  const { ranges, others } = timesOfPlan(conjuncts.filter((part) => !ofMatches.includes(part)));
  const ofRows = testsOf(columns, looking, others);
  const tests = ofMatches.map((part) => testOf(columns, looking, part));
  if (!ofRows || !tests.every((test) => test !== null)) return null;
  return {
    ...{ looking, ranges, others: [...others, ...ofMatches] },
    choose: (stretch, room) => {
      const found = rowsOf(columns, { looking, ranges, stretch, room }, ofRows);
      return looking.listed === 'matches'
        ? matchesOf(columns, found, tests, room)
        : { ...found, matches: null };
    },
  };
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

/** Tests of rows: those over a column alone, and the others. */
interface RowTests {
  readonly codeTests: readonly CodeTest[];
  readonly tests: readonly Test[];
}

function testsOf(columns: DeskColumns, looking: Looking, parts: readonly Plan[]): RowTests | null {
  const codeTests: CodeTest[] = [];
  const tests: Test[] = [];
  for (const part of parts) {
    const codeTest = codeTestOf(columns, looking, part);
    const test = codeTest ? null : testOf(columns, looking, part);
    if (codeTest) codeTests.push(codeTest);
    else if (test) tests.push(test);
    else return null;
  }
  // What leaves the fewest comes first.
  return { codeTests: codeTests.sort((one, other) => passing(one) - passing(other)), tests };
}

const passing = ({ marks }: CodeTest): number => marks.reduce((sum, mark) => sum + mark, 0) / marks.length;

interface Choosing {
  readonly looking: Looking;
  readonly ranges: readonly TimeRange[];
  readonly stretch: Stretch;
  readonly room: string;
}

type Found = Pick<Selection, 'looking' | 'rows' | 'extent'>;

function rowsOf(columns: DeskColumns, choosing: Choosing, { codeTests, tests }: RowTests): Found {
  const [first, ...more] = codeTests;
  const found = rowsWithin(columns, choosing, first ?? null);
  let { rows } = found;
  for (const codeTest of more) rows = rows.subarray(0, keepByCode(rows, 0, rows.length, codeTest));
  for (const test of tests) rows = kept(rows, test);
  return { ...found, rows };
}

/** Rows within some ranges of times that pass the first test. */
function rowsWithin(
  columns: DeskColumns,
  { looking, ranges, stretch, room }: Choosing,
  test: CodeTest | null,
): Found {
  const { table, spans } = tableOf(columns, looking);
  const times = table.column('time').data;
  const rows = columns.room(`${room}-rows`, stretch.end - stretch.first);
  let found = 0;
  for (let { first } = stretch; first < stretch.end; first += SPAN_ROWS) {
    const span = first / SPAN_ROWS;
    const holding = spans.holds(span, ranges);
    if (holding === 'none') continue;
    const end = Math.min(first + SPAN_ROWS, stretch.end);
    const begun = found;
    if (holding === 'some')
      found = addWithin(rows, found, { times, first, end, ranges: spans.meeting(span, ranges) });
    else if (test) found = addByCode(rows, found, { first, end }, test);
    else for (let row = first; row < end; row += 1) rows[found++] = row;
    if (test && holding === 'some') found = keepByCode(rows, begun, found, test);
  }
  return { looking, rows: rows.subarray(0, found), extent: extentOf(spans, ranges, stretch) };
}

/** Times between which all rows of a stretch lie that are within some ranges. */
export function extentOf(spans: Spans, ranges: readonly TimeRange[], { first, end }: Stretch): TimeRange {
  let [from, to] = [Infinity, -Infinity];
  for (let span = first / SPAN_ROWS; span * SPAN_ROWS < end; span += 1) {
    if (spans.holds(span, ranges) === 'none') continue;
    from = Math.min(from, spans.earliest(span));
    to = Math.max(to, spans.latest(span));
  }
  return {
    from: Math.max(from, Math.min(...ranges.map((range) => range.from))),
    to: Math.min(to, Math.max(...ranges.map((range) => range.to))),
  };
}

const ALL_TIMES: TimeRange = { from: -Infinity, to: Infinity };

/** Puts the rows of a span that pass a test behind the first `found`; returns how many there are then. */
function addByCode(
  rows: Uint32Array,
  found: number,
  { first, end }: Stretch,
  { data, marks }: CodeTest,
): number {
  let next = found;
  for (let row = first; row < end; row += 1) {
    // Written in any case, and kept by going on: no branch that a processor could guess wrong.
    rows[next] = row;
    next += marks[data[row] ?? 0] ?? 0;
  }
  return next;
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
  const [{ from, to } = ALL_TIMES, ...more] = ranges;
  if (more.length > 0) {
    for (let row = first; row < end; row += 1) {
      const time = times[row] ?? 0;
      if (ranges.some((range) => time >= range.from && time < range.to)) rows[next++] = row;
    }
    return next;
  }
  for (let row = first; row < end; row += 1) {
    const time = times[row] ?? 0;
    rows[next] = row;
    next += time >= from && time < to ? 1 : 0;
  }
  return next;
}

/** Keeps of the rows from place `begun` to `end` those that pass; returns how many there are then. */
function keepByCode(rows: Uint32Array, begun: number, end: number, { data, marks }: CodeTest): number {
  let next = begun;
  for (let at = begun; at < end; at += 1) {
    const row = rows[at] ?? 0;
    rows[next] = row;
    next += marks[data[row] ?? 0] ?? 0;
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
  { looking, rows: incidents, extent }: Found,
  tests: readonly Test[],
  name: string,
): Selection {
  const { starts, counts, width } = columns.matches;
  let room = 0;
  for (let at = 0; at < incidents.length; at += 1) room += counts[incidents[at] ?? 0] ?? 0;
  const rows = columns.room(`${name}-match-rows`, room);
  const matches = columns.room(`${name}-matches`, room);
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
  return { looking, rows: rows.subarray(0, found), matches: matches.subarray(0, found), extent };
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
