import type { Listed } from './fields.js';

/** Path of the desk that lists what a filter lets through. */
export function deskPath(filter: string, listed: Listed = 'incidents'): string {
  // Half a character, which somebody may have pasted, has no place in an address.
  const line = encodeURIComponent(filter.replace(/\p{Surrogate}/gu, '\uFFFD'));
  return `/incidents?filter=${line}${listed === 'incidents' ? '' : `&list=${listed}`}`;
}
