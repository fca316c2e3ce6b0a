import { grown } from './column.js';
import type { DeskColumns } from './desk-columns.js';
import { whereabouts } from './looked-at.js';
import type { Selection } from './select.js';
import { type Axis, axisOf, type Dimension, NOTHING, type RawValue } from './axis.js';
import { DENSE, everyPair, PAIR } from './pairs.js';

/** Incidents with the same values, and how they stand. */
export interface CountedGroup {
  readonly keys: readonly RawValue[];
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

/** Incidents by one or two fields, those with the most open ones first; null where these columns do not hold a field. */
export function groupsOf(
  columns: DeskColumns,
  selection: Selection,
  { by, now, severities, limit }: GroupsWanted,
): CountedGroup[] | null {
  const axes = by.map((dimension) => axisOf(columns, selection, dimension));
  if (!axes.every((axis) => axis !== null)) return null;
  const [first, second = NOTHING] = axes;
  if (!first) return null;
  const sums = new Sums(first, second);
  const add = adding(columns, selection, { now, severities });
  const { rows } = selection;
  if (first.one && second.one) {
    const { one } = first;
    const other = second.one;
    for (let at = 0; at < rows.length; at += 1) {
      const row = rows[at] ?? 0;
      const begin = sums.place(one(row, 0), other(row, 0));
      add(row, sums.figures, begin);
    }
  } else
    everyPair(selection, first, second, (one, other, row) => {
      const begin = sums.place(one, other);
      add(row, sums.figures, begin);
    });
  return sums
    .all(by.length)
    .sort((one, other) => other.open - one.open || other.incidents - one.incidents)
    .slice(0, limit);
}

export interface GroupsWanted {
  readonly by: readonly Dimension[];
  readonly now: number;
  /** From the least to the worst. */
  readonly severities: readonly string[];
  readonly limit: number;
}

/** Places of the figures of one group. */
const [INCIDENTS, OPEN, OVERDUE, FALSE_POSITIVE, ALLOWED, HARM] = [0, 1, 2, 3, 4, 5] as const;
const [NEWEST, WORST, URGENCY, IGNORED] = [6, 7, 8, 9] as const;
const WIDTH = 10;
const FIRST_GROUPS = 256;

/** Figures of groups, one behind the other, found by the numbers of their values. */
class Sums {
  figures = new Float64Array(FIRST_GROUPS * WIDTH);
  private readonly known: number[] = [];
  private readonly dense: Uint32Array | null;
  private readonly sparse = new Map<number, number>();

  constructor(
    private readonly first: Axis,
    private readonly second: Axis,
  ) {
    const size = first.size === null || second.size === null ? Infinity : first.size * second.size;
    this.dense = size <= DENSE ? new Uint32Array(size) : null;
  }

  /** Where the figures of a group begin. */
  place(one: number, other: number): number {
    if (!this.dense) {
      const key = one * PAIR + other;
      const known = this.sparse.get(key);
      if (known !== undefined) return known * WIDTH;
      this.sparse.set(key, this.known.length);
      return this.begun(key);
    }
    const at = one * (this.second.size ?? 1) + other;
    const known = this.dense[at] ?? 0;
    if (known > 0) return (known - 1) * WIDTH;
    this.dense[at] = this.known.length + 1;
    return this.begun(one * PAIR + other);
  }

  all(fields: number): CountedGroup[] {
    return this.known.map((key, group) => {
      const figure = (at: number) => this.figures[group * WIDTH + at] ?? 0;
      const values = [this.first.valueOf(Math.floor(key / PAIR)), this.second.valueOf(key % PAIR)];
      return {
        keys: values.slice(0, fields),
        ...{ incidents: figure(INCIDENTS), open: figure(OPEN), overdue: figure(OVERDUE) },
        ...{ falsePositive: figure(FALSE_POSITIVE), allowed: figure(ALLOWED), harm: figure(HARM) },
        ...{ newest: figure(NEWEST), worst: figure(WORST), urgency: figure(URGENCY) },
      };
    });
  }

  private begun(key: number): number {
    const begin = this.known.length * WIDTH;
    this.known.push(key);
    this.figures = grown(this.figures, begin + WIDTH);
    this.figures[begin + NEWEST] = -Infinity;
    return begin;
  }
}

/** Adds one incident to the figures that begin at a place. */
function adding(
  columns: DeskColumns,
  { looking }: Selection,
  { now, severities }: Pick<GroupsWanted, 'now' | 'severities'>,
): (row: number, figures: Float64Array, begin: number) => void {
  const { incidents } = columns;
  const [status, outcome] = [incidents.column('status'), incidents.column('outcome')];
  const [due, time] = [incidents.column('due').data, incidents.column('time').data];
  const [statuses, outcomes] = [status.data, outcome.data];
  const decided = status.codes?.find('decided') ?? -1;
  // Where each outcome is counted.
  const counted = new Uint8Array(256).fill(IGNORED);
  for (const [text, at] of [
    ['false-positive', FALSE_POSITIVE],
    ['allowed', ALLOWED],
    ['harm', HARM],
  ] as const)
    counted[outcome.codes?.find(text) ?? 255] = at;
  const urgency = whereabouts(columns, looking, 'urgency');
  const urgencies = urgency?.kind === 'column' ? urgency.column.data : time;
  const ranks = ranksOf(columns, looking, severities);
  return (row, figures, begin) => {
    figures[begin] = (figures[begin] ?? 0) + 1;
    if (statuses[row] !== decided) {
      figures[begin + OPEN] = (figures[begin + OPEN] ?? 0) + 1;
      if ((due[row] ?? Number.NaN) < now) figures[begin + OVERDUE] = (figures[begin + OVERDUE] ?? 0) + 1;
    }
    const outcomeAt = begin + (counted[outcomes[row] ?? 0] ?? IGNORED);
    figures[outcomeAt] = (figures[outcomeAt] ?? 0) + 1;
    const when = time[row] ?? 0;
    if (when > (figures[begin + NEWEST] ?? 0)) figures[begin + NEWEST] = when;
    const rank = ranks(row);
    if (rank > (figures[begin + WORST] ?? 0)) figures[begin + WORST] = rank;
    const points = urgencies[row] ?? 0;
    if (points > (figures[begin + URGENCY] ?? 0)) figures[begin + URGENCY] = points;
  };
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
