import { domainOf, isUnder } from '../address.js';
import type { PersonFacts } from '../person.js';
import type { PersonRecord } from './person-record.js';

export const GROUP_FIELDS = [
  'department',
  'office',
  'title',
  'group',
  'manager',
  'language',
  'domain',
] as const;
export type GroupField = (typeof GROUP_FIELDS)[number];
export const GROUP_TESTS = ['is', 'begins', 'ends', 'holds'] as const;
export type GroupTest = (typeof GROUP_TESTS)[number];

/** One thing asked of a person. Capitals do not matter; `domain` takes what stands under it, and knows only `is`. */
export interface GroupClause {
  readonly field: GroupField;
  readonly test: GroupTest;
  readonly value: string;
}

/** A group told by a condition: whoever meets all clauses of at least one row. */
export interface GroupRule {
  readonly name: string;
  readonly rows: readonly (readonly GroupClause[])[];
}

export function isInGroup({ rows }: Pick<GroupRule, 'rows'>, person: PersonRecord): boolean {
  return rows.some((row) => row.length > 0 && row.every((clause) => meets(clause, person)));
}

/** Groups of a person: those listed, and those whose condition they meet. A condition sees the listed ones only. */
export function groupsOf(person: PersonRecord, rules: readonly GroupRule[]): readonly string[] {
  const met = rules.filter((rule) => isInGroup(rule, person)).map(({ name }) => name);
  const listed = person.groups.filter(
    (group) => !rules.some(({ name }) => name.toLowerCase() === group.toLowerCase()),
  );
  return [...listed, ...met].sort();
}

/** What conditions ask of a person, with the groups that conditions put them in. */
export function factsWith(person: PersonRecord, rules: readonly GroupRule[]): PersonFacts {
  const { address, department, office, zone } = person;
  const at = zone === '' ? {} : { zone };
  return { address, department, office, groups: groupsOf(person, rules), ...at };
}

function meets({ field, test, value }: GroupClause, person: PersonRecord): boolean {
  if (field === 'domain') return isUnder(domainOf(person.address), value.trim());
  const wanted = value.trim().toLowerCase();
  const fits = (text: string): boolean => {
    const has = text.toLowerCase();
    if (test === 'is') return has === wanted;
    if (test === 'begins') return has.startsWith(wanted);
    return test === 'ends' ? has.endsWith(wanted) : has.includes(wanted);
  };
  if (field === 'group') return person.groups.some(fits);
  return fits(field === 'manager' ? (person.manager ?? '') : person[field]);
}
