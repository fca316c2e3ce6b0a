import type { Doing, Operation } from './flow.js';

/** Operations that are read out of one document. */
export const MAX_OPERATIONS = 2_000;

export interface OpenApiReading {
  readonly title: string;
  readonly operations: readonly Operation[];
  /** Paths that were left out, with the reason. */
  readonly leftOut: readonly {
    readonly path: string;
    readonly why: 'refers-outside' | 'too-many' | 'no-path';
  }[];
}

/** What a method does (RFC 9110, 9.2.1: GET, HEAD and OPTIONS are safe; the rest changes something). */
const METHODS: Readonly<Record<string, readonly Doing[]>> = {
  get: ['reads'],
  head: ['reads'],
  options: ['reads'],
  trace: ['reads'],
  query: ['reads'],
  post: ['writes'],
  put: ['writes'],
  patch: ['writes'],
  delete: ['writes'],
};

const MAX_NAME = 120;
const MAX_PLACE = 500;

/**
 * Reads the operations of an OpenAPI document (3.0, 3.1; Swagger 2.0 has the same paths). References are followed inside
 * the document only: nothing is fetched. Null for what is no such document.
 */
export function readOpenApi(document: unknown): OpenApiReading | null {
  const root = fieldsOf(document);
  const version = root?.['openapi'] ?? root?.['swagger'];
  const paths = fieldsOf(root?.['paths']);
  if (!root || typeof version !== 'string' || !paths) return null;
  const operations: Operation[] = [];
  const leftOut: { path: string; why: 'refers-outside' | 'too-many' | 'no-path' }[] = [];
  const ids = new Set<string>();
  for (const [path, given] of Object.entries(paths)) {
    const item = resolved(root, given);
    if (item === 'outside' || !item) {
      leftOut.push({ path: path.slice(0, 200), why: item === 'outside' ? 'refers-outside' : 'no-path' });
      continue;
    }
    for (const [method, does] of Object.entries(METHODS)) {
      const operation = fieldsOf(item[method]);
      if (!operation) continue;
      if (operations.length >= MAX_OPERATIONS) {
        leftOut.push({ path: `${method.toUpperCase()} ${path}`.slice(0, 200), why: 'too-many' });
        continue;
      }
      const named = text(operation['operationId']) || `${method.toUpperCase()} ${path}`;
      const id = distinct(named.slice(0, MAX_NAME), ids);
      operations.push({
        id,
        place: `${method.toUpperCase()} ${path}`.slice(0, MAX_PLACE),
        name: (text(operation['summary']) || id).slice(0, MAX_NAME),
        does: callsOut(root, item, operation) ? [...does, 'sends'] : does,
        takesAddress: callsOut(root, item, operation),
      });
    }
  }
  return { title: text(fieldsOf(root['info'])?.['title']).slice(0, MAX_NAME), operations, leftOut };
}

type Fields = Readonly<Record<string, unknown>>;

const fieldsOf = (value: unknown): Fields | null =>
  typeof value === 'object' && value !== null && !Array.isArray(value) ? (value as Fields) : null;
const text = (value: unknown): string => (typeof value === 'string' ? value.trim() : '');

function distinct(wanted: string, taken: Set<string>): string {
  let id = wanted;
  for (let count = 2; taken.has(id); count += 1) id = `${wanted} ${count}`;
  taken.add(id);
  return id;
}

/** Follows references inside the document; a ring of them leads nowhere. */
function resolved(root: Fields, value: unknown, depth = 0): Fields | 'outside' | null {
  const fields = fieldsOf(value);
  const reference = fields?.['$ref'];
  if (typeof reference !== 'string') return fields;
  if (!reference.startsWith('#/')) return 'outside';
  if (depth > 20) return null;
  let at: unknown = root;
  for (const step of reference.slice(2).split('/'))
    at = fieldsOf(at)?.[step.replaceAll('~1', '/').replaceAll('~0', '~')];
  return resolved(root, at, depth + 1);
}

/** Whether somebody who uses the operation says which address it calls: a parameter or a field that holds an address. */
function callsOut(root: Fields, item: Fields, operation: Fields): boolean {
  if (fieldsOf(operation['callbacks'])) return true;
  const parameters = [item['parameters'], operation['parameters']].flatMap((all): unknown[] =>
    Array.isArray(all) ? all : [],
  );
  const schemas = parameters.map((each) => {
    const parameter = resolved(root, each);
    return parameter === 'outside' ? null : (parameter?.['schema'] ?? parameter);
  });
  const body = resolved(root, operation['requestBody']);
  const content = body === 'outside' ? null : fieldsOf(body?.['content']);
  for (const media of Object.values(content ?? {})) {
    const schema = resolved(root, fieldsOf(media)?.['schema']);
    const properties = schema && schema !== 'outside' ? fieldsOf(schema['properties']) : null;
    for (const property of Object.values(properties ?? {})) schemas.push(fieldsOf(property));
  }
  return schemas.some((each) => {
    const schema = resolved(root, each);
    const format = schema === 'outside' ? '' : text(schema?.['format']);
    return ['uri', 'url', 'uri-reference'].includes(format);
  });
}
