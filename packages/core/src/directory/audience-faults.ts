import { isDomain } from './address.js';
import { type Audience, type AudienceTerm, termValue } from './audience.js';
import type { KnownPeople } from './person.js';

/** A term that means nobody. `path` leads to it. */
export interface AudienceFault {
  readonly code: 'not-a-domain' | 'unknown-person' | 'unknown-group';
  readonly path: readonly (string | number)[];
  readonly value: string;
}

/** Terms of an audience that mean nobody. Without a directory, references to people pass. */
export function audienceFaults(
  audience: Audience,
  people: KnownPeople | null,
  path: readonly (string | number)[],
): AudienceFault[] {
  const faultOf = (term: AudienceTerm, at: readonly (string | number)[]): AudienceFault[] => {
    const value = termValue(term);
    if (term.kind === 'domain') return isDomain(value) ? [] : [{ code: 'not-a-domain', path: at, value }];
    if (!people) return [];
    if (term.kind === 'person')
      return people.addresses.has(value.toLowerCase()) ? [] : [{ code: 'unknown-person', path: at, value }];
    const known = { group: people.groups, department: people.departments, office: people.offices };
    return known[term.kind].has(value) ? [] : [{ code: 'unknown-group', path: at, value }];
  };
  return [
    ...audience.with.flatMap((term, index) => faultOf(term, [...path, 'with', index])),
    ...audience.without.flatMap((term, index) => faultOf(term, [...path, 'without', index])),
  ];
}
