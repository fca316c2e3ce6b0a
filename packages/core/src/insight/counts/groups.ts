import type { RawValue } from './axis.js';
import { shapeOf } from './counting.js';
import type { DeskColumns } from './desk-columns.js';
import {
  axesOf,
  figuresBy,
  type GroupFigures,
  type GroupingWanted,
  type GroupsBy,
  valuesOf,
} from './group-figures.js';
import { joined, type KeptGroups, makingOfGroups } from './kept-groups.js';
import type { KeptStretches } from './kept-stretches.js';
import type { Looking } from './looked-at.js';
import type { Plan } from './plan.js';
import { type Chooser, chooserOf } from './select.js';

/** Incidents with the same values. */
export interface CountedGroup extends GroupFigures {
  readonly keys: readonly RawValue[];
}

export interface GroupsWanted extends GroupingWanted {
  readonly limit: number;
}

/** Incidents by one or two fields, those with the most open ones first; null where these columns cannot answer. */
export function groupsOf(
  columns: DeskColumns,
  { looking, plan }: { readonly looking: Looking; readonly plan: Plan },
  wanted: GroupsWanted,
  kept: KeptStretches | null,
): CountedGroup[] | null {
  const chooser = chooserOf(columns, looking, plan);
  if (!chooser) return null;
  const found =
    (kept && fromKept(columns, chooser, wanted, kept)) ??
    figuresBy(columns, chooser.choose({ first: 0, end: columns.incidents.length }, 'whole'), wanted);
  if (!found) return null;
  const { groups, valuesOf } = found;
  return [...groups]
    .sort(([key, one], [other, two]) => two.open - one.open || two.incidents - one.incidents || key - other)
    .slice(0, wanted.limit)
    .map(([key, figures]) => ({ keys: valuesOf(key), ...figures }));
}

/** Groups by what is kept of them; null where nothing is. */
function fromKept(
  columns: DeskColumns,
  chooser: Chooser,
  wanted: GroupsWanted,
  kept: KeptStretches,
): GroupsBy | null {
  const making = makingOfGroups(columns, { chooser, shape: shapeOf(chooser) }, wanted);
  if (!making) return null;
  const parts: KeptGroups[] = [];
  const isTaken = kept.take(making, {
    kept: (groups) => parts.push(groups),
    rows: (stretch) => parts.push(making.counted(stretch)),
  });
  const looked = { looking: chooser.looking, extent: ALL_TIMES };
  const axes = axesOf(columns, looked, wanted.by);
  return isTaken && axes ? { ...joined(parts), valuesOf: valuesOf(axes, wanted.by.length) } : null;
}

/** Fields that are kept turn on no time. */
const ALL_TIMES = { from: -Infinity, to: Infinity };
