import { type Axis, axisOf, type Dimension, type Looked, NOTHING, type RawValue } from './axis.js';
import { grown } from './column.js';
import type { DeskColumns } from './desk-columns.js';
import { whereabouts } from './looked-at.js';
import { DENSE, everyPair, PAIR } from './pairs.js';
import type { Selection } from './select.js';

/** How the incidents of a group stand. */
export interface GroupFigures {
  readonly incidents: number;
  readonly open: number;
  readonly overdue: number;
  readonly falsePositive: number;
  readonly allowed: number;
  readonly harm: number;
  /** Milliseconds since 1970. */
  readonly newest: number;
  /** Place of the worst severity, from 1. */
  readonly worst: number;
  readonly urgency: number;
}

/** What groups are made by. */
export interface GroupingWanted {
  readonly by: readonly Dimension[];
  readonly now: number;
  /** From the least to the worst. */
  readonly severities: readonly string[];
}

/** Figures of each group, by the numbers of its values in one. */
export interface GroupsBy {
  readonly groups: ReadonlyMap<number, GroupFigures>;
  readonly valuesOf: (key: number) => RawValue[];
}

/** Figures of the rows of a selection; null where these columns do not hold a field. */
export function figuresBy(
  columns: DeskColumns,
  selection: Selection,
  wanted: GroupingWanted,
): GroupsBy | null {
  const axes = axesOf(columns, selection, wanted.by);
  if (!axes) return null;
  const grouped = groupedBy(columns, selection, ...axes);
  const sums = sumsOf(columns, selection, grouped, wanted);
  return {
    groups: new Map(grouped.keys.map((key, group) => [key, sums(group)])),
    valuesOf: valuesOf(axes, wanted.by.length),
  };
}

export type Axes = readonly [Axis, Axis];

export function axesOf(columns: DeskColumns, looked: Looked, by: readonly Dimension[]): Axes | null {
  const axes = by.map((dimension) => axisOf(columns, looked, dimension));
  const [first = null, second = NOTHING] = axes;
  return first && second ? [first, second] : null;
}

export const valuesOf =
  ([first, second]: Axes, count: number) =>
  (key: number): RawValue[] =>
    [first.valueOf(Math.floor(key / PAIR)), second.valueOf(key % PAIR)].slice(0, count);

/** Rows with the group that each is in, side by side: what is in several groups stands several times. */
interface Grouped {
  readonly rows: Uint32Array;
  readonly groups: Uint32Array;
  /** Numbers of the values of each group, both in one. */
  readonly keys: readonly number[];
}

/** Numbers groups as they come. */
class Numbers {
  readonly keys: number[] = [];
  private readonly dense: Uint32Array | null;
  private readonly sparse = new Map<number, number>();
  private readonly width: number;

  constructor(first: Axis, second: Axis) {
    const size = first.size === null || second.size === null ? Infinity : first.size * second.size;
    this.dense = size <= DENSE ? new Uint32Array(size) : null;
    this.width = second.size ?? 1;
  }

  of(one: number, other: number): number {
    const { dense } = this;
    if (!dense) {
      const key = one * PAIR + other;
      const known = this.sparse.get(key);
      if (known !== undefined) return known;
      this.sparse.set(key, this.keys.length);
      return this.keys.push(key) - 1;
    }
    const at = one * this.width + other;
    const known = dense[at] ?? 0;
    if (known > 0) return known - 1;
    dense[at] = this.keys.push(one * PAIR + other);
    return this.keys.length - 1;
  }
}

function groupedBy(columns: DeskColumns, selection: Selection, first: Axis, second: Axis): Grouped {
  const numbers = new Numbers(first, second);
  const { rows } = selection;
  if (first.one && second.one) {
    const { one } = first;
    const other = second.one;
    const groups = columns.room('groups', rows.length);
    for (let at = 0; at < rows.length; at += 1) {
      const row = rows[at] ?? 0;
      groups[at] = numbers.of(one(row, 0), other(row, 0));
    }
    return { rows, groups, keys: numbers.keys };
  }
  let [all, groups] = [columns.room('grouped-rows', rows.length), columns.room('groups', rows.length)];
  let length = 0;
  everyPair(selection, first, second, (one, other, row) => {
    [all, groups] = [grown(all, length + 1), grown(groups, length + 1)];
    all[length] = row;
    groups[length] = numbers.of(one, other);
    length += 1;
  });
  return { rows: all.subarray(0, length), groups, keys: numbers.keys };
}

const OUTCOMES = ['false-positive', 'allowed', 'harm'] as const;
/** Places of the outcomes of a group in one array; the first is for all others. */
const OUTCOME_WIDTH = OUTCOMES.length + 1;

/** The figures of each group. One after another goes over all rows: short loops are what a processor does fastest. */
function sumsOf(
  columns: DeskColumns,
  { looking }: Selection,
  grouped: Grouped,
  { now, severities }: Pick<GroupingWanted, 'now' | 'severities'>,
): (group: number) => GroupFigures {
  const { rows, groups, keys } = grouped;
  const { incidents } = columns;
  const status = incidents.column('status');
  const [statuses, due] = [status.data, incidents.column('due').data];
  const decided = status.codes?.find('decided') ?? -1;
  const [all, open, overdue] = [0, 1, 2].map(() => new Uint32Array(keys.length)) as [
    Uint32Array,
    Uint32Array,
    Uint32Array,
  ];
  for (let at = 0; at < rows.length; at += 1) {
    const [row, group] = [rows[at] ?? 0, groups[at] ?? 0];
    all[group] = (all[group] ?? 0) + 1;
    if (statuses[row] === decided) continue;
    open[group] = (open[group] ?? 0) + 1;
    if ((due[row] ?? Number.NaN) < now) overdue[group] = (overdue[group] ?? 0) + 1;
  }
  const outcomes = outcomesOf(columns, grouped);
  const newest = highest(grouped, incidents.column('time').data);
  const urgencies = whereabouts(columns, looking, 'urgency');
  const urgency = urgencies?.kind === 'column' ? highest(grouped, urgencies.column.data) : null;
  const worst = worstOf(columns, looking, grouped, severities);
  return (group) => {
    const [, falsePositive = 0, allowed = 0, harm = 0] = outcomes.subarray(group * OUTCOME_WIDTH);
    return {
      ...{ incidents: all[group] ?? 0, open: open[group] ?? 0, overdue: overdue[group] ?? 0 },
      ...{ falsePositive, allowed, harm, newest: newest[group] ?? 0 },
      ...{ worst: worst[group] ?? 0, urgency: Math.max(0, urgency?.[group] ?? 0) },
    };
  };
}

function outcomesOf({ incidents }: DeskColumns, { rows, groups, keys }: Grouped): Uint32Array {
  const { codes, data } = incidents.column('outcome');
  const placeOf = new Uint8Array(256);
  for (const [at, outcome] of OUTCOMES.entries()) placeOf[codes?.find(outcome) ?? 255] = at + 1;
  placeOf[0] = 0;
  const counts = new Uint32Array(keys.length * OUTCOME_WIDTH);
  for (let at = 0; at < rows.length; at += 1) {
    const place = (groups[at] ?? 0) * OUTCOME_WIDTH + (placeOf[data[rows[at] ?? 0] ?? 0] ?? 0);
    counts[place] = (counts[place] ?? 0) + 1;
  }
  return counts;
}

/** The highest number in each group; minus infinity for none. */
function highest({ rows, groups, keys }: Grouped, data: ArrayLike<number>): Float64Array {
  const found = new Float64Array(keys.length).fill(-Infinity);
  for (let at = 0; at < rows.length; at += 1) {
    const [value, group] = [data[rows[at] ?? 0] ?? 0, groups[at] ?? 0];
    if (value > (found[group] ?? 0)) found[group] = value;
  }
  return found;
}

function worstOf(
  columns: DeskColumns,
  looking: Selection['looking'],
  { rows, groups, keys }: Grouped,
  severities: readonly string[],
): Uint8Array {
  const ranks = ranksOf(columns, looking, severities);
  const found = new Uint8Array(keys.length);
  for (let at = 0; at < rows.length; at += 1) {
    const [rank, group] = [ranks(rows[at] ?? 0), groups[at] ?? 0];
    if (rank > (found[group] ?? 0)) found[group] = rank;
  }
  return found;
}

/** The place of each row's severity, from 1; 0 for none. */
export function ranksOf(
  columns: DeskColumns,
  looking: Selection['looking'],
  severities: readonly string[],
): (row: number) => number {
  const found = whereabouts(columns, looking, 'severity', true);
  if (found?.kind !== 'column') return () => 0;
  const { codes, data } = found.column;
  const ranks = new Uint8Array(256);
  for (const [at, severity] of severities.entries()) ranks[codes?.find(severity) ?? 255] = at + 1;
  ranks[0] = 0;
  return (row) => ranks[data[row] ?? 0] ?? 0;
}
