import type { Condition } from '@lantern/core';
import { registerDecorator, type ValidationOptions } from 'class-validator';

/** Clauses inside each other at most; deeper input is refused before anything walks it. */
const DEEPEST_INPUT = 32;

type Fields = Readonly<Record<string, unknown>>;

const isFields = (value: unknown): value is Fields =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
const isQuantity = (value: unknown): boolean => value === 'any' || value === 'every';

/** Fields that each kind of condition must have, with a test of their type. Ranges are the core's business. */
const SHAPES: Readonly<Record<string, Readonly<Record<string, (value: unknown) => boolean>>>> = {
  findings: {
    pattern: (value) => typeof value === 'string',
    atLeast: (value) => typeof value === 'number',
    distinct: (value) => typeof value === 'boolean',
    certainty: (value) => typeof value === 'number',
  },
  unreadable: {},
  recipient: { quantity: isQuantity, side: (value) => value === 'inside' || value === 'outside' },
  domain: {
    quantity: isQuantity,
    domains: (value) =>
      Array.isArray(value) && value.length <= 1000 && value.every((item) => typeof item === 'string'),
  },
};

/** Names the first field that keeps `value` from being a condition, or undefined for one of the right shape. */
export function conditionFault(value: unknown, path = '', depth = 0): string | undefined {
  if (depth > DEEPEST_INPUT) return `${path} is nested deeper than ${DEEPEST_INPUT} clauses`;
  if (!isFields(value)) return `${path || 'the condition'} must be an object with a kind`;
  const kind = String(value['kind']);
  if (kind === 'all' || kind === 'any' || kind === 'none') {
    const { of } = value;
    if (!Array.isArray(of) || of.length > 200) return `${path}of must be a list of at most 200 conditions`;
    return of
      .map((part, index) => conditionFault(part, `${path}of.${index}.`, depth + 1))
      .find((fault) => fault);
  }
  const shape = Object.hasOwn(SHAPES, kind) ? SHAPES[kind] : undefined;
  if (!shape) return `${path}kind must be one of ${Object.keys(SHAPES).join(', ')}, all, any, none`;
  const unknown = Object.keys(value).find((key) => key !== 'kind' && !Object.hasOwn(shape, key));
  if (unknown) return `${path}${unknown} is not a field of a ${kind} condition`;
  const wrong = Object.entries(shape).find(([field, fits]) => !fits(value[field]));
  return wrong ? `${path}${wrong[0]} is missing or of the wrong type` : undefined;
}

/** Accepts a value of type {@link Condition}, with the path to the first fault in the message. */
export function IsCondition(options?: ValidationOptions): PropertyDecorator {
  return (target, property) =>
    registerDecorator({
      name: 'isCondition',
      target: target.constructor,
      propertyName: String(property),
      ...(options ? { options } : {}),
      validator: {
        validate: (value: unknown) => conditionFault(value) === undefined,
        defaultMessage: (given) => `${given?.property ?? ''}: ${conditionFault(given?.value) ?? ''}`,
      },
    });
}

export type { Condition };
