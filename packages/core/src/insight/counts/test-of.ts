import type { FieldName } from '../../incidents/filter/fields.js';
import { type Codes, isPlainText } from './codes.js';
import type { Column } from './column.js';
import type { DeskColumns } from './desk-columns.js';
import { type Link, linkOf, type Looking, someTrait, type Whereabouts, whereabouts } from './looked-at.js';
import { holds, type Plan } from './plan.js';

/** Whether a row passes: the row of a movement or an incident, and where the block of its match begins (0 for none). */
export type Test = (row: number, match: number) => boolean;

/** Codes that pass, over a column alone: what loops fastest. */
export interface CodeTest {
  readonly data: ArrayLike<number>;
  readonly marks: Uint8Array;
}

/** The test of a plan; null where these columns cannot answer it. */
export function testOf(columns: DeskColumns, looking: Looking, plan: Plan): Test | null {
  switch (plan.kind) {
    case 'and':
    case 'or': {
      const tests = plan.parts.map((part) => testOf(columns, looking, part));
      if (!tests.every((test) => test !== null)) return null;
      return plan.kind === 'and'
        ? (row, match) => tests.every((test) => test(row, match))
        : (row, match) => tests.some((test) => test(row, match));
    }
    case 'not': {
      const test = testOf(columns, looking, plan.part);
      return test && ((row, match) => !test(row, match));
    }
    case 'overdue':
      return overdue(columns, looking, plan.now);
    default: {
      const found = whereabouts(columns, looking, plan.field, plan.kind === 'among' && plan.ofIncident);
      return found && leaf(columns, looking, plan, found);
    }
  }
}

/** The marks of a plan that asks for codes of one column; null for any other. */
export function codeTestOf(columns: DeskColumns, looking: Looking, plan: Plan): CodeTest | null {
  const isNot = plan.kind === 'not';
  const inner = isNot ? plan.part : plan;
  if (inner.kind !== 'among' && inner.kind !== 'text' && inner.kind !== 'present') return null;
  const found = whereabouts(columns, looking, inner.field, inner.kind === 'among' && inner.ofIncident);
  if (found?.kind !== 'column' || !found.column.codes || found.link) return null;
  const marks = marksOf(inner, found.column.codes);
  return marks && { data: found.column.data, marks: isNot ? marks.map((mark) => 1 - mark) : marks };
}

type Leaf = Extract<Plan, { readonly field: FieldName }>;

function leaf(columns: DeskColumns, looking: Looking, plan: Leaf, found: Whereabouts): Test | null {
  if (found.kind === 'column' && !found.column.codes)
    return linked(numberTest(plan, found.column), found.link);
  const codes = found.kind === 'column' ? found.column.codes : found.codes;
  const marks = codes && marksOf(plan, codes);
  if (!marks) return null;
  switch (found.kind) {
    case 'column': {
      const { data } = found.column;
      return linked((row) => marks[data[row] ?? 0] === 1, found.link);
    }
    case 'match': {
      const { offset, shift, mask } = found;
      const { data } = columns.matches;
      return (_, match) => marks[((data[match + offset] ?? 0) >>> shift) & mask] === 1;
    }
    case 'trait':
      return linked(
        (row) => someTrait(columns, row, { at: found.at, silent: looking.silent }, marks),
        found.link,
      );
  }
}

function numberTest(plan: Leaf, { data }: Column): Test | null {
  if (plan.kind === 'present') return (row) => !Number.isNaN(data[row]);
  if (plan.kind !== 'order') return null;
  const { operator, value } = plan;
  return (row) => holds(operator, data[row] ?? Number.NaN, value);
}

/** A test of the incident of a movement; those without one do not pass. */
function linked(test: Test | null, link: Link | undefined): Test | null {
  if (!test || !link) return test;
  return (row, match) => {
    const incident = link(row);
    return incident >= 0 && test(incident, match);
  };
}

/** Codes of a column by what a plan asks of them; null where letters beyond ASCII are to be compared. */
function marksOf(plan: Leaf, codes: Codes): Uint8Array | null {
  if (plan.kind === 'order') return null;
  if (plan.kind === 'present') return new Uint8Array(codes.size).fill(1, 1);
  const wanted = plan.kind === 'among' ? plan.values : [plan.value];
  if (!codes.isPlain || !wanted.every(isPlainText)) return null;
  if (plan.kind === 'text') {
    const { operator, value } = plan;
    if (operator === 'co') return codes.matching((text) => text.includes(value));
    return codes.matching((text) => (operator === 'sw' ? text.startsWith(value) : text.endsWith(value)));
  }
  const marks = new Uint8Array(codes.size);
  for (const value of wanted) {
    const code = codes.find(value);
    if (code !== undefined) marks[code] = 1;
  }
  return marks;
}

function overdue(columns: DeskColumns, { listed, silent }: Looking, now: number): Test | null {
  const status = columns.incidents.column('status');
  const due = columns.incidents.column('due');
  const decided = status.codes?.find('decided') ?? -1;
  const test: Test = (row) => status.data[row] !== decided && (due.data[row] ?? Number.NaN) < now;
  return listed === 'movements' ? linked(test, linkOf(columns, silent)) : test;
}
