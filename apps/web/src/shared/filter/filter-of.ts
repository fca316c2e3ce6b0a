import { EVERYTHING, type Filter, parseFilter } from '@lantern/core/incidents';

/** The filter of a line; everything where the line is wrong, which the bar says. */
export function filterOf(line: string): Filter {
  const parsed = parseFilter(line);
  return parsed.status === 'read' ? parsed.filter : EVERYTHING;
}
