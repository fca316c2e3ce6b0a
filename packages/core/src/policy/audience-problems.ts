import { isDomain } from './address.js';
import { type Audience, type AudienceTerm, termValue } from './audience.js';
import type { Path, Problem, ProblemContext } from './problem.js';

/** Terms of an audience that mean nobody. */
export function audienceProblems(audience: Audience, { people }: ProblemContext, path: Path): Problem[] {
  const problemOf = (term: AudienceTerm, at: Path): Problem[] => {
    const value = termValue(term);
    if (term.kind === 'domain') return isDomain(value) ? [] : [{ code: 'not-a-domain', path: at, value }];
    if (!people) return [];
    if (term.kind === 'person')
      return people.addresses.has(value.toLowerCase()) ? [] : [{ code: 'unknown-person', path: at, value }];
    const known = { group: people.groups, department: people.departments, office: people.offices };
    return known[term.kind].has(value) ? [] : [{ code: 'unknown-group', path: at, value }];
  };
  return [
    ...audience.with.flatMap((term, index) => problemOf(term, [...path, 'with', index])),
    ...audience.without.flatMap((term, index) => problemOf(term, [...path, 'without', index])),
  ];
}

/** Whether text is a day of the calendar (ISO 8601). */
export function isDay(text: string): boolean {
  if (!/^\d{4}-\d{2}-\d{2}$/.test(text)) return false;
  const at = Date.parse(`${text}T00:00:00Z`);
  return !Number.isNaN(at) && new Date(at).toISOString().startsWith(text);
}
