import type { JsonSchema } from '@lantern/contracts';

type Fields = Readonly<Record<string, unknown>>;

/**
 * A value without what its schema would fill in, its fields in the order of the schema: the shortest text that reads
 * back as the same, and the same bytes every time.
 */
export function pruned(value: unknown, schema: JsonSchema, root: JsonSchema = schema): unknown {
  const here = resolved(value, schema, root);
  if (Array.isArray(value)) {
    const items = here['items'] as JsonSchema | undefined;
    return items ? value.map((item) => pruned(item, items, root)) : value;
  }
  const properties = here['properties'] as Readonly<Record<string, JsonSchema>> | undefined;
  if (!isFields(value) || !properties) return value;
  const kept = Object.entries(properties).flatMap(([name, inner]): [string, unknown][] => {
    if (value[name] === undefined) return [];
    const short = pruned(value[name], inner, root);
    return 'default' in inner && same(short, inner['default']) ? [] : [[name, short]];
  });
  return Object.fromEntries(kept);
}

const isFields = (value: unknown): value is Fields =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

const same = (one: unknown, other: unknown): boolean => JSON.stringify(one) === JSON.stringify(other);

/** The schema that is meant for a value: references followed, the branch of its kind, what is behind "or null". */
function resolved(value: unknown, schema: JsonSchema, root: JsonSchema): JsonSchema {
  const reference = schema['$ref'];
  if (typeof reference === 'string') {
    const name = reference.replace('#/$defs/', '');
    const defs = root['$defs'] as Readonly<Record<string, JsonSchema>>;
    return resolved(value, defs[name] ?? {}, root);
  }
  const some = schema['anyOf'] as readonly JsonSchema[] | undefined;
  if (some) return value === null || !some[0] ? schema : resolved(value, some[0], root);
  const branches = schema['oneOf'] as readonly JsonSchema[] | undefined;
  if (!branches || !isFields(value)) return schema;
  const { propertyName } = schema['discriminator'] as { propertyName: string };
  const branch = branches.find((each) => {
    const properties = each['properties'] as Readonly<Record<string, JsonSchema>>;
    return properties[propertyName]?.['const'] === value[propertyName];
  });
  return branch ?? schema;
}
