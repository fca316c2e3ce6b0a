import { type Audience, type AudienceTerm, isEverybody, termValue } from '@lantern/core/directory';
import { assertNever } from '@lantern/core/shared';

/** Some people as words: "Fleet and Crewing, but not Orla Fenwick". */
export function audienceWords(audience: Audience): string {
  if (isEverybody(audience)) return 'everybody';
  const words = (terms: readonly AudienceTerm[]): string => terms.map(termWords).join(', ');
  const whom = audience.with.length === 0 ? 'everybody' : words(audience.with);
  return audience.without.length === 0 ? whom : `${whom}, but not ${words(audience.without)}`;
}

export function termWords(term: AudienceTerm): string {
  const value = termValue(term);
  switch (term.kind) {
    case 'person':
      return value;
    case 'group':
      return `the group ${value}`;
    case 'department':
      return value;
    case 'office':
      return `the office in ${value}`;
    case 'domain':
      return `anybody at ${value}`;
    default:
      return assertNever(term);
  }
}
