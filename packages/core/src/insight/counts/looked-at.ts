import type { FieldName, Listed } from '../../incidents/filter/fields.js';
import type { Codes } from './codes.js';
import type { Column } from './column.js';
import { type DeskColumns, MATCH_SHIFTS } from './desk-columns.js';
import { TRAIT_COLUMNS, type TraitColumn } from './facts.js';

/** What is counted, and whether matches of silent rules are seen. */
export interface Looking {
  readonly listed: Listed;
  readonly silent: boolean;
}

/** The row of the incident of a movement; -1 where it has none that is seen. */
export type Link = (row: number) => number;

/** Where the values of a field stand; with `link`, not at the row itself but at that of its incident. */
export type Whereabouts =
  | { readonly kind: 'column'; readonly column: Column; readonly link?: Link }
  /** One of a match: its place in the block, and the bits within it. */
  | {
      readonly kind: 'match';
      readonly codes: Codes;
      readonly offset: number;
      readonly shift: number;
      readonly mask: number;
    }
  | { readonly kind: 'trait'; readonly codes: Codes; readonly at: number; readonly link?: Link };

const NOT_BY_SIGHT: Partial<Record<FieldName, 'openSeverity' | 'openUrgency' | 'openAnswer'>> = {
  severity: 'openSeverity',
  urgency: 'openUrgency',
  answer: 'openAnswer',
};
/** Traits that only movements with an incident have. The others are not held for those without. */
const OF_INCIDENTS: ReadonlySet<FieldName> = new Set(['policy', 'rule', 'reply', 'override']);

/** What movements say themselves and these columns leave out for room; that of their incident is another question. */
const LEFT_OUT: ReadonlySet<FieldName> = new Set(['name', 'revision']);

/** Where a field stands for a viewer; null where these columns do not hold it. `ofIncident` asks what its incident says. */
export function whereabouts(
  columns: DeskColumns,
  looking: Looking,
  field: FieldName,
  ofIncident = false,
): Whereabouts | null {
  const { listed, silent } = looking;
  if (listed === 'movements') return ofMovement(columns, looking, field, ofIncident);
  if (listed === 'matches' && !ofIncident) {
    const own = ofMatch(columns, field);
    if (own) return own;
  }
  const name = silent ? field : (NOT_BY_SIGHT[field] ?? field);
  const column = (columns.incidents.columns as ReadonlyMap<string, Column>).get(name);
  if (column) return { kind: 'column', column };
  const at = TRAIT_COLUMNS.indexOf(field as TraitColumn);
  return at < 0 ? null : { kind: 'trait', codes: columns.traitCodes[field as TraitColumn], at };
}

function ofMovement(
  columns: DeskColumns,
  { silent }: Looking,
  field: FieldName,
  ofIncident: boolean,
): Whereabouts | null {
  const column = (columns.movements.columns as ReadonlyMap<string, Column>).get(field);
  // What was answered is told by the incident where part of it is hidden.
  if (column && (field !== 'answer' || silent)) return { kind: 'column', column };
  if (LEFT_OUT.has(field)) return null;
  const found = whereabouts(columns, { listed: 'incidents', silent }, field);
  if (found?.kind === 'column') return { ...found, link: linkOf(columns, silent) };
  if (found?.kind !== 'trait' || !OF_INCIDENTS.has(field)) return null;
  // Each value says itself whether it is hidden; limits ask about incidents that are seen.
  return { ...found, link: linkOf(columns, silent || !ofIncident) };
}

export function linkOf(columns: DeskColumns, silent: boolean): Link {
  const column = columns.incidents.column('silent');
  const hidden = silent ? -1 : (column.codes?.find('1') ?? -1);
  return (row) => {
    const incident = columns.incidentRowOf(row);
    return incident >= 0 && column.data[incident] === hidden ? -1 : incident;
  };
}

function ofMatch(columns: DeskColumns, field: FieldName): Whereabouts | null {
  const column = (columns.matchValues.columns as ReadonlyMap<string, Column>).get(field);
  if (!column?.codes) return null;
  const { codes } = column;
  if (field === 'policy' || field === 'rule')
    return { kind: 'match', codes, offset: field === 'policy' ? 0 : 1, shift: 0, mask: 0xffffffff };
  return {
    kind: 'match',
    codes,
    offset: 2,
    shift: MATCH_SHIFTS[field as keyof typeof MATCH_SHIFTS],
    mask: 0xff,
  };
}

/** A field with several values, by its place among them, and whether what only silent rules say of it is seen. */
interface AskedTrait {
  readonly at: number;
  readonly silent: boolean;
}

/** Keys under which values of a field stand: what everybody sees first, what only silent rules say behind it. */
const keysOf = ({ at, silent }: AskedTrait): { readonly first: number; readonly last: number } => ({
  first: at * 2,
  last: at * 2 + Number(silent),
});

/** Calls `each` with every different code of a trait; with 0 where there is none. */
export function eachTrait(
  { traits }: DeskColumns,
  row: number,
  asked: AskedTrait,
  each: (code: number) => void,
): void {
  const { data } = traits;
  const { first, last } = keysOf(asked);
  const start = traits.starts[row] ?? 0;
  const end = start + (traits.counts[row] ?? 0) * 2;
  let begun = -1;
  for (let place = start; place < end; place += 2) {
    const key = data[place] ?? 0;
    if (key < first) continue;
    if (key > last) break;
    if (begun < 0) begun = place;
    const code = data[place + 1] ?? 0;
    if (!isRepeated(data, begun, place, code)) each(code);
  }
  if (begun < 0) each(0);
}

/** Counts every different code of a trait for many rows: {@link eachTrait} without a call for each. */
export function countTraits(
  { traits: { data, starts, counts: lengths } }: DeskColumns,
  rows: Uint32Array,
  asked: AskedTrait,
  counts: Uint32Array,
): void {
  const { first, last } = keysOf(asked);
  for (let at = 0; at < rows.length; at += 1) {
    const row = rows[at] ?? 0;
    const start = starts[row] ?? 0;
    const end = start + (lengths[row] ?? 0) * 2;
    let begun = -1;
    for (let place = start; place < end; place += 2) {
      const key = data[place] ?? 0;
      if (key < first) continue;
      if (key > last) break;
      const code = data[place + 1] ?? 0;
      if (begun < 0) begun = place;
      else if (isRepeated(data, begun, place, code)) continue;
      counts[code] = (counts[code] ?? 0) + 1;
    }
    if (begun < 0) counts[0] = (counts[0] ?? 0) + 1;
  }
}

/** Whether a code of a trait passes a test. */
export function someTrait(
  { traits }: DeskColumns,
  row: number,
  asked: AskedTrait,
  marks: Uint8Array | null,
): boolean {
  const { data } = traits;
  const { first, last } = keysOf(asked);
  const start = traits.starts[row] ?? 0;
  const end = start + (traits.counts[row] ?? 0) * 2;
  for (let place = start; place < end; place += 2) {
    const key = data[place] ?? 0;
    if (key < first) continue;
    if (key > last) return false;
    if (marks === null || marks[data[place + 1] ?? 0] === 1) return true;
  }
  return false;
}

/** Whether a code stands already among the entries of its field, which begin at `begun`. */
function isRepeated(data: Uint32Array, begun: number, place: number, code: number): boolean {
  for (let earlier = begun; earlier < place; earlier += 2) if (data[earlier + 1] === code) return true;
  return false;
}
