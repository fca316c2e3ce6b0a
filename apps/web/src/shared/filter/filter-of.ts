import { EVERYTHING, type Filter, type Listed, parseFilter } from '@lantern/core/incidents';

/** Address of the desk that lists what a filter lets through. */
export function deskLink(filter: string, listed: Listed = 'incidents'): string {
  const search = new URLSearchParams({ filter });
  if (listed !== 'incidents') search.set('list', listed);
  return `/incidents?${search.toString()}`;
}

/** The filter of a line; everything where the line is wrong, which the bar says. */
export function filterOf(line: string): Filter {
  const parsed = parseFilter(line);
  return parsed.status === 'read' ? parsed.filter : EVERYTHING;
}
