import { Ajv2020, type ErrorObject, type ValidateFunction } from 'ajv/dist/2020.js';
import { registerDecorator, type ValidationOptions } from 'class-validator';
import {
  AUTOMATION_SCHEMA,
  CROSSING_SET_SCHEMA,
  CROSSINGS_SCHEMA,
  SERVICE_SCHEMA,
  WORKSPACE_SCHEMA,
} from './crossing-schema.js';
import { AUTOMATIC_SCHEMA, LABEL_SCHEMA, LABEL_SET_SCHEMA, OFFER_SCHEMA } from './label-schema.js';
import { MOVEMENT_SCHEMA } from './movement-schema.js';
import { PATTERN_SCHEMA } from './pattern-schema.js';
import { AUDIENCE_SCHEMA, POLICY_SCHEMA } from './policy-schema.js';
import { EXCHANGE_SCHEMA, SPOT_GROUP_SCHEMA, TEXT_SCHEMA } from './set-part-schema.js';
import type { JsonSchema } from './schema-parts.js';

/** Objects inside each other at most; deeper input is refused before anything walks it. */
const DEEPEST_INPUT = 64;

export const SCHEMAS = {
  audience: AUDIENCE_SCHEMA,
  policy: POLICY_SCHEMA,
  text: TEXT_SCHEMA,
  exchange: EXCHANGE_SCHEMA,
  spots: SPOT_GROUP_SCHEMA,
  pattern: PATTERN_SCHEMA,
  movement: MOVEMENT_SCHEMA,
  label: LABEL_SCHEMA,
  offer: OFFER_SCHEMA,
  automatic: AUTOMATIC_SCHEMA,
  labels: LABEL_SET_SCHEMA,
  service: SERVICE_SCHEMA,
  workspace: WORKSPACE_SCHEMA,
  'crossing-set': CROSSING_SET_SCHEMA,
  crossings: CROSSINGS_SCHEMA,
  automation: AUTOMATION_SCHEMA,
};
export type ShapeName = keyof typeof SCHEMAS;

/** Where and how a value departs from its shape. `path` leads to the value at fault. */
export interface ShapeFault {
  readonly path: readonly (string | number)[];
  readonly message: string;
}

const compiled = new Map<ShapeName, ValidateFunction>();

function checkOf(name: ShapeName): ValidateFunction {
  const known = compiled.get(name);
  if (known) return known;
  // Defaults are not filled in below alternatives; a reference that is not taken in whole stands on its own.
  const ajv = new Ajv2020({ useDefaults: true, discriminator: true, inlineRefs: false, strict: false });
  const made = ajv.compile(SCHEMAS[name] as JsonSchema & object);
  compiled.set(name, made);
  return made;
}

/**
 * Compiles the checks of all shapes, which takes up to 200 ms for one. A server calls it once before it answers anybody, so
 * that no request waits for it.
 */
export function compileShapes(): void {
  for (const name of Object.keys(SCHEMAS) as ShapeName[]) checkOf(name);
}

/** Names the first fault of `value`, or nothing for one of the right shape. Fills in what was left out. */
export function shapeFault(name: ShapeName, value: unknown): ShapeFault | undefined {
  if (isDeeper(value, DEEPEST_INPUT))
    return { path: [], message: `is nested deeper than ${DEEPEST_INPUT} levels` };
  const check = checkOf(name);
  if (check(value)) return undefined;
  return worded(mostTelling(check.errors ?? []));
}

function isDeeper(value: unknown, levels: number): boolean {
  if (typeof value !== 'object' || value === null) return false;
  return levels === 0 || Object.values(value).some((inner) => isDeeper(inner, levels - 1));
}

/** Of the faults of one place with alternatives the deepest says most. */
function mostTelling(errors: readonly ErrorObject[]): ErrorObject | undefined {
  const depth = (error: ErrorObject): number => error.instancePath.split('/').length;
  return errors
    .filter(({ keyword }) => keyword !== 'anyOf' && keyword !== 'type' && keyword !== 'if')
    .concat(errors)
    .reduce<ErrorObject | undefined>(
      (best, error) => (best && depth(best) >= depth(error) ? best : error),
      undefined,
    );
}

function worded(error: ErrorObject | undefined): ShapeFault {
  if (!error) return { path: [], message: 'is not of the right shape' };
  const path = error.instancePath
    .split('/')
    .slice(1)
    .map((step) => step.replaceAll('~1', '/').replaceAll('~0', '~'))
    .map((step) => (/^\d+$/.test(step) ? Number(step) : step));
  const { params } = error as { params: Record<string, unknown> };
  switch (error.keyword) {
    case 'additionalProperties':
      return { path: [...path, String(params['additionalProperty'])], message: 'is not a field here' };
    case 'required':
      return { path, message: `has no ${String(params['missingProperty'])}` };
    case 'enum':
      return { path, message: `must be one of ${(params['allowedValues'] as unknown[]).join(', ')}` };
    case 'discriminator':
      return { path: [...path, 'kind'], message: `is no kind of this: ${kindsOf(error)}` };
    default:
      return { path, message: error.message ?? 'is not of the right shape' };
  }
}

function kindsOf(error: ErrorObject): string {
  const { tag, tagValue } = error.params as { tag?: string; tagValue?: unknown };
  return tagValue === undefined ? `${tag ?? 'kind'} is missing` : JSON.stringify(tagValue);
}

/** Accepts a value of a published shape, with the path to its first fault in the message. */
export function IsShape(name: ShapeName, options?: ValidationOptions): PropertyDecorator {
  return (target, property) =>
    registerDecorator({
      name: 'isShape',
      target: target.constructor,
      propertyName: String(property),
      ...(options ? { options } : {}),
      validator: {
        validate: (value: unknown) => isObject(value) && shapeFault(name, value) === undefined,
        defaultMessage: (given) => {
          const fault = isObject(given?.value) ? shapeFault(name, given.value) : undefined;
          return `${[given?.property, ...(fault?.path ?? [])].join('.')} ${fault?.message ?? 'must be an object'}`;
        },
      },
    });
}

function isObject(value: unknown): value is object {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}
