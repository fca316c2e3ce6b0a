import type { Dimension } from './axis.js';
import type { DeskColumns } from './desk-columns.js';
import { figuresBy, type GroupFigures, type GroupingWanted } from './group-figures.js';
import { asksNow, sizesOf } from './kept-sums.js';
import type { Making } from './kept-stretches.js';
import type { Chooser } from './select.js';

/** Groups of one question above which going over the rows costs no more than putting stretches together. */
const MOST_GROUPS = 2_048;

/** Figures of the groups of a stretch, by the numbers of their values. What is overdue holds between two instants. */
export interface KeptGroups {
  readonly groups: ReadonlyMap<number, GroupFigures>;
  /** The last time promised before what is counted as now, and the first one after it, in milliseconds since 1970. */
  readonly dueBefore: number;
  readonly dueAfter: number;
}

/** How groups of stretches are made and kept; null if none are kept of such a question. */
export function makingOfGroups(
  columns: DeskColumns,
  { chooser, shape }: { readonly chooser: Chooser; readonly shape: string },
  wanted: GroupingWanted,
): Making<KeptGroups> | null {
  const { by, now } = wanted;
  if (by.some(turnsOnClock) || chooser.others.some(asksNow)) return null;
  const sizes = sizesOf(columns, chooser, by);
  if (sizes.reduce<number>((product, size) => product * (size ?? Infinity), 1) > MOST_GROUPS) return null;
  return {
    name: `groups ${shape} ${by.map((dimension) => (dimension.kind === 'field' ? dimension.field : '')).join(' ')}`,
    chooser,
    whole: chooser.ranges,
    counted: (stretch) => {
      const selection = chooser.choose(stretch, 'stretch');
      const { groups } = figuresBy(columns, selection, wanted) ?? NO_GROUPS;
      return { groups, ...duesAround(columns, selection.rows, now) };
    },
    joined,
    bytesOf: ({ groups }) => groups.size * BYTES_A_GROUP,
    isStill: ({ dueBefore, dueAfter }) => dueBefore < now && now <= dueAfter,
  };
}

/** A group's object of ten numbers and its place in a map. */
const BYTES_A_GROUP = 176;
const NO_GROUPS = { groups: new Map<number, GroupFigures>() };

const turnsOnClock = (dimension: Dimension): boolean =>
  dimension.kind !== 'field' || dimension.field === 'overdue';

/** Groups of several stretches as those of one. */
export function joined(parts: readonly KeptGroups[]): KeptGroups {
  const groups = new Map<number, GroupFigures>();
  let [dueBefore, dueAfter] = [-Infinity, Infinity];
  for (const part of parts) {
    dueBefore = Math.max(dueBefore, part.dueBefore);
    dueAfter = Math.min(dueAfter, part.dueAfter);
    for (const [key, figures] of part.groups) {
      const known = groups.get(key);
      groups.set(key, known ? together(known, figures) : figures);
    }
  }
  return { groups, dueBefore, dueAfter };
}

const together = (one: GroupFigures, other: GroupFigures): GroupFigures => ({
  incidents: one.incidents + other.incidents,
  open: one.open + other.open,
  overdue: one.overdue + other.overdue,
  falsePositive: one.falsePositive + other.falsePositive,
  allowed: one.allowed + other.allowed,
  harm: one.harm + other.harm,
  newest: Math.max(one.newest, other.newest),
  worst: Math.max(one.worst, other.worst),
  urgency: Math.max(one.urgency, other.urgency),
});

/** The last time before now that was promised for an open incident, and the first one from now on. */
function duesAround(
  { incidents }: DeskColumns,
  rows: Uint32Array,
  now: number,
): { readonly dueBefore: number; readonly dueAfter: number } {
  const status = incidents.column('status');
  const [statuses, due] = [status.data, incidents.column('due').data];
  const decided = status.codes?.find('decided') ?? -1;
  let [dueBefore, dueAfter] = [-Infinity, Infinity];
  for (let at = 0; at < rows.length; at += 1) {
    const row = rows[at] ?? 0;
    const promised = due[row] ?? Number.NaN;
    if (Number.isNaN(promised) || statuses[row] === decided) continue;
    if (promised < now) dueBefore = Math.max(dueBefore, promised);
    else dueAfter = Math.min(dueAfter, promised);
  }
  return { dueBefore, dueAfter };
}
