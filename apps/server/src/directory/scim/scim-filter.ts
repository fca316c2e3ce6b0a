import { type Compare, type Filter, filter as matches, parse } from 'scim2-parse-filter';
import { ScimRefusal } from './scim-errors.js';

/** Longest filter in characters; clients ask for one user or group at a time. */
const MOST_FILTER = 1_000;

/** Reads a filter (RFC 7644, 3.4.2.2). Throws with `invalidFilter`. */
export function readFilter(text: string): Filter {
  if (text.length > MOST_FILTER)
    throw new ScimRefusal(400, 'invalidFilter', `The filter is longer than ${MOST_FILTER} characters.`);
  try {
    return parse(text);
  } catch {
    throw new ScimRefusal(400, 'invalidFilter', 'The filter cannot be read. See RFC 7644, 3.4.2.2.');
  }
}

/** The one value that an attribute is to be equal to, where the filter asks for nothing else; null otherwise. */
export function equalTo(asked: Filter): { readonly attribute: string; readonly value: string } | null {
  const { op, attrPath, compValue } = asked as Partial<Compare>;
  return op === 'eq' && attrPath !== undefined && typeof compValue === 'string'
    ? { attribute: attrPath.toLowerCase(), value: compValue }
    : null;
}

/** A test by a filter. Capitals count nowhere: the attributes that people are found by know none (RFC 7643, 4.1.1). */
export function testOf(asked: Filter): (resource: object) => boolean {
  const test = matches(small(asked) as Filter);
  return (resource) => test(small(resource) as Record<string, unknown>);
}

/** Everything in small letters, names of attributes too. */
function small(value: unknown): unknown {
  if (typeof value === 'string') return value.toLowerCase();
  if (Array.isArray(value)) return value.map(small);
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(
    Object.entries(value).map(([name, inner]) => [KEPT.has(name) ? name : name.toLowerCase(), small(inner)]),
  );
}

/** Names of what a read filter is made of. */
const KEPT = new Set(['attrPath', 'compValue', 'valFilter', 'filters', 'filter', 'op']);
