import { assertNever } from '../shared/assert-never.js';
import { domainOf, isUnder } from './address.js';
import type { PersonFacts } from './person.js';

/** Some people, told by what the directory knows of them. */
export type AudienceTerm =
  | { readonly kind: 'person'; readonly address: string }
  | { readonly kind: 'group'; readonly group: string }
  | { readonly kind: 'department'; readonly department: string }
  | { readonly kind: 'office'; readonly office: string }
  | { readonly kind: 'domain'; readonly domain: string };
export const AUDIENCE_KINDS = ['person', 'group', 'department', 'office', 'domain'] as const;

/** Whom something is for: everybody where `with` is empty, less those of `without`. */
export interface Audience {
  readonly with: readonly AudienceTerm[];
  readonly without: readonly AudienceTerm[];
}

export const EVERYBODY: Audience = { with: [], without: [] };

export function isEverybody(audience: Audience): boolean {
  return audience.with.length === 0 && audience.without.length === 0;
}

/** Whether a person is meant; capitals do not matter. Leaving out wins over naming. */
export function isMeant(audience: Audience, person: PersonFacts): boolean {
  if (audience.without.some((term) => fits(term, person))) return false;
  return audience.with.length === 0 || audience.with.some((term) => fits(term, person));
}

function fits(term: AudienceTerm, person: PersonFacts): boolean {
  switch (term.kind) {
    case 'person':
      return same(term.address, person.address);
    case 'group':
      return (person.groups ?? []).some((group) => same(group, term.group));
    case 'department':
      return person.department !== undefined && same(term.department, person.department);
    case 'office':
      return person.office !== undefined && same(term.office, person.office);
    case 'domain':
      return isUnder(domainOf(person.address), term.domain);
    default:
      return assertNever(term);
  }
}

const same = (one: string, other: string): boolean => one.toLowerCase() === other.toLowerCase();

/** What a term names: an address, a group, a domain. */
export function termValue(term: AudienceTerm): string {
  switch (term.kind) {
    case 'person':
      return term.address;
    case 'group':
      return term.group;
    case 'department':
      return term.department;
    case 'office':
      return term.office;
    case 'domain':
      return term.domain;
    default:
      return assertNever(term);
  }
}

/** Whether everybody of `narrow` is surely among `wide`, going by the terms alone. */
export function audienceWithin(narrow: Audience, wide: Audience): boolean {
  const has = (terms: readonly AudienceTerm[], term: AudienceTerm): boolean =>
    terms.some((each) => each.kind === term.kind && same(termValue(each), termValue(term)));
  if (!wide.without.every((term) => has(narrow.without, term))) return false;
  if (wide.with.length === 0) return true;
  return narrow.with.length > 0 && narrow.with.every((term) => has(wide.with, term));
}
