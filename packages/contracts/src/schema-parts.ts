import { MAX_TEXT_LENGTH } from './limits.js';

/**
 * The published JSON Schema (2020-12) of what a set is made of. It is the one description of these shapes: requests,
 * folders of YAML files and the editor's completion all go by it. Fields with a default may be left out.
 */
export type JsonSchema = Readonly<Record<string, unknown>>;

export const text = (description: string, most = MAX_TEXT_LENGTH): JsonSchema => ({
  type: 'string',
  maxLength: most,
  description,
});
export const list = (items: JsonSchema, description: string, most = 1_000): JsonSchema => ({
  type: 'array',
  items,
  maxItems: most,
  default: [],
  description,
});
export const among = (values: readonly unknown[], description: string): JsonSchema => ({
  enum: [...values],
  description,
});
export const count = (description: string): JsonSchema => ({ type: 'number', description });
export const orNull = (schema: JsonSchema): JsonSchema => ({
  anyOf: [schema, { type: 'null' }],
  default: null,
});
/** Null or an object whose fields with a default may be left out: defaults are not filled in below alternatives. */
export const shapeOrNull = (...given: Parameters<typeof shape>): JsonSchema => ({
  ...shape(...given),
  type: ['object', 'null'],
  default: null,
});
export function shape(
  properties: Readonly<Record<string, JsonSchema>>,
  required: readonly string[],
  description: string,
): JsonSchema {
  return { type: 'object', properties, required: [...required], additionalProperties: false, description };
}

export const withDefault = (schema: JsonSchema, value: unknown): JsonSchema => ({
  ...schema,
  default: value,
});

/** A definition of the schema by its name. */
export const ref = (name: string): JsonSchema => ({ $ref: `#/$defs/${name}` });
export const EVERYBODY: JsonSchema = { ...ref('audience'), default: {} };
