import { type FieldName, fieldOf } from '../../incidents/filter/fields.js';
import type { CompareOperator, Filter, FilterValue } from '../../incidents/filter/filter.js';
import { timeOf } from '../../incidents/filter/times.js';

/** A filter that columns can test: names are ids, times are milliseconds, choices are the ones that hold. */
export type Plan =
  | { readonly kind: 'and' | 'or'; readonly parts: readonly Plan[] }
  | { readonly kind: 'not'; readonly part: Plan }
  | { readonly kind: 'present'; readonly field: FieldName }
  /** Any of these values. `ofIncident` asks the whole incident where a match has a value of its own. */
  | {
      readonly kind: 'among';
      readonly field: FieldName;
      readonly values: readonly string[];
      readonly ofIncident?: true;
    }
  | {
      readonly kind: 'text';
      readonly field: FieldName;
      readonly operator: 'co' | 'sw' | 'ew';
      readonly value: string;
    }
  | {
      readonly kind: 'order';
      readonly field: FieldName;
      readonly operator: OrderOperator;
      readonly value: number;
    }
  | { readonly kind: 'overdue'; readonly now: number };

export type OrderOperator = 'eq' | 'gt' | 'ge' | 'lt' | 'le';

/** What a plan is made with: the instant that times are counted from, and the ids of what a filter names. */
export interface PlanContext {
  readonly now: number;
  readonly idsOf: (
    kind: 'policy' | 'rule' | 'pattern' | 'label',
    operator: CompareOperator,
    value: FilterValue,
  ) => readonly string[];
}

/** A filter as a plan; null where it asks for what columns do not hold: sealed titles, and several fields at once. */
export function planOf(filter: Filter, context: PlanContext): Plan | null {
  switch (filter.kind) {
    case 'and':
    case 'or': {
      const parts: Plan[] = [];
      for (const part of filter.parts) {
        const plan = planOf(part, context);
        if (!plan) return null;
        parts.push(plan);
      }
      return { kind: filter.kind, parts: filter.kind === 'or' ? joined(parts) : parts };
    }
    case 'not': {
      const part = planOf(filter.part, context);
      return part && { kind: 'not', part };
    }
    case 'present':
      return ['any', 'title', 'overdue'].includes(filter.field)
        ? null
        : { kind: 'present', field: filter.field };
    case 'compare': {
      const isNot = filter.operator === 'ne';
      const plan = comparison(filter.field, isNot ? 'eq' : filter.operator, filter.value, context);
      return plan && isNot ? { kind: 'not', part: plan } : plan;
    }
  }
}

/** Alternatives for one field as one part. */
function joined(parts: readonly Plan[]): Plan[] {
  const found: Plan[] = [];
  for (const part of parts) {
    const at =
      part.kind === 'among'
        ? found.findIndex(
            (one) => one.kind === 'among' && one.field === part.field && one.ofIncident === part.ofIncident,
          )
        : -1;
    const known = found[at];
    if (part.kind === 'among' && known?.kind === 'among')
      found[at] = { ...known, values: [...known.values, ...part.values] };
    else found.push(part);
  }
  return found;
}

function comparison(
  field: FieldName,
  operator: Exclude<CompareOperator, 'ne'>,
  value: FilterValue,
  { now, idsOf }: PlanContext,
): Plan | null {
  const { kind, named, ordered, choices } = fieldOf(field);
  if (field === 'any' || field === 'title') return null;
  if (field === 'overdue')
    return value === true ? { kind: 'overdue', now } : { kind: 'not', part: { kind: 'overdue', now } };
  if (named) return { kind: 'among', field, values: idsOf(named, operator, value) };
  if (kind === 'yes-no') return { kind: 'among', field, values: [value === true ? '1' : '0'] };
  if (kind === 'time' || kind === 'number') {
    if (operator === 'co' || operator === 'sw' || operator === 'ew') return null;
    const wanted = kind === 'time' ? (timeOf(String(value), now) ?? 0) : Number(value);
    return { kind: 'order', field, operator, value: wanted };
  }
  if (operator === 'co' || operator === 'sw' || operator === 'ew')
    return { kind: 'text', field, operator, value: String(value).toLowerCase() };
  if (operator === 'eq') return { kind: 'among', field, values: [String(value)] };
  if (!ordered || !choices) return null;
  const rank = choices.indexOf(String(value));
  return { kind: 'among', field, values: choices.filter((_, at) => holds(operator, at, rank)) };
}

/** Whether a number stands to another as the operator says. */
export function holds(operator: OrderOperator, known: number, wanted: number): boolean {
  switch (operator) {
    case 'eq':
      return known === wanted;
    case 'gt':
      return known > wanted;
    case 'ge':
      return known >= wanted;
    case 'lt':
      return known < wanted;
    case 'le':
      return known <= wanted;
  }
}

/** The parts that all have to hold. */
export const conjunctsOfPlan = (plan: Plan): readonly Plan[] =>
  plan.kind === 'and' ? plan.parts.flatMap(conjunctsOfPlan) : [plan];

/** Whole milliseconds since 1970, the end left out. */
export interface TimeRange {
  readonly from: number;
  readonly to: number;
}

/** The times that parts of a plan ask for, as ranges of which one has to hold, and the other parts. */
export function timesOfPlan(conjuncts: readonly Plan[]): {
  readonly ranges: readonly TimeRange[];
  readonly others: readonly Plan[];
} {
  let ranges: readonly TimeRange[] = [ALWAYS];
  const others = conjuncts.filter((part) => {
    const found = rangesOf(part);
    if (!found) return true;
    ranges = ranges
      .flatMap((one) => found.map((other) => both(one, other)))
      .filter(({ from, to }) => from < to);
    return false;
  });
  return { ranges: ranges.length > 0 ? ranges : [NEVER_EVER], others };
}

const ALWAYS: TimeRange = { from: -Infinity, to: Infinity };
const NEVER_EVER: TimeRange = { from: Infinity, to: Infinity };

const both = (one: TimeRange, other: TimeRange): TimeRange => ({
  from: Math.max(one.from, other.from),
  to: Math.min(one.to, other.to),
});

/** The ranges of times that a plan is for, of which one has to hold; null where it asks for anything else. */
function rangesOf(plan: Plan): readonly TimeRange[] | null {
  if (plan.kind === 'or') {
    const parts = plan.parts.map(rangesOf);
    return parts.every((part) => part !== null) ? parts.flat() : null;
  }
  if (plan.kind === 'and') {
    let range = ALWAYS;
    for (const part of plan.parts) {
      const [one, more] = rangesOf(part) ?? [];
      if (!one || more) return null;
      range = both(range, one);
    }
    return [range];
  }
  if (plan.kind !== 'order' || plan.field !== 'time') return null;
  const { operator, value } = plan;
  const after = Math.floor(value) + 1;
  switch (operator) {
    case 'eq':
      return [{ from: Math.ceil(value), to: after }];
    case 'ge':
      return [{ from: Math.ceil(value), to: Infinity }];
    case 'gt':
      return [{ from: after, to: Infinity }];
    case 'lt':
      return [{ from: -Infinity, to: Math.ceil(value) }];
    case 'le':
      return [{ from: -Infinity, to: after }];
  }
}
