import type { InspectedMovement } from '../../movement/movement.js';
import type { ApplicationUse, SignIn } from '../../movement/use.js';
import { assertNever } from '../../shared/assert-never.js';
import type {
  ApplicationCondition,
  FieldsCondition,
  SignInCondition,
  UseCondition,
  ValuesCondition,
  WindowCondition,
} from '../model/conditions.js';
import { isLike } from '../model/like.js';
import type { Met } from './condition.js';
import { amountOf, goesOutside, valuesIn, windowKey } from './windows.js';

const MINUTE_MS = 60_000;

const atLeast = (wanted: number, value: number): Met => ({ held: value >= wanted, value, names: [] });

/** Evaluates a clause about what is done in a business application. */
export function meetApplication(condition: ApplicationCondition, movement: InspectedMovement): Met {
  const { use } = movement;
  switch (condition.kind) {
    case 'use':
      return use ? meetUse(condition, use) : NOT_MET;
    case 'columns':
      return atLeast(condition.atLeast, use?.columns?.length ?? 0);
    case 'fields':
      return meetFields(condition, movement);
    case 'rights': {
      const asked = use?.rights ?? [];
      const names = asked.filter((right) => condition.rights.some((each) => isLike(right, each)));
      return { held: names.length > 0, value: names.length, outOf: asked.length, names };
    }
    case 'sign-in':
      return use?.signIn ? meetSignIn(condition, use.signIn, movement.at) : NOT_MET;
    default:
      return assertNever(condition);
  }
}

const NOT_MET: Met = { held: false, value: 0, names: [] };

function meetUse({ deeds, by, objects, reports }: UseCondition, use: ApplicationUse): Met {
  const { report } = use;
  const like = (name: string, wanted: readonly string[]): boolean =>
    wanted.some((each) => isLike(name, each));
  const meant = use.objects.filter((name) => objects.length === 0 || like(name, objects));
  const held =
    (deeds.length === 0 || deeds.includes(use.deed)) &&
    (by === null || by === use.by) &&
    (objects.length === 0 || meant.length > 0) &&
    (reports.length === 0 || (report !== undefined && like(report, reports)));
  return {
    held,
    value: meant.length,
    outOf: use.objects.length,
    names: [...(report ? [report] : []), ...meant],
  };
}

/** Columns of all tables that hold a pattern: the same name in two tables is one. */
function meetFields(
  { pattern, certainty, atLeast: wanted }: FieldsCondition,
  { parts }: InspectedMovement,
): Met {
  const names = new Set<string>();
  for (const part of parts)
    if (part.status === 'read')
      for (const [name, most] of Object.entries(part.fields?.[pattern] ?? {}))
        if (most >= Math.max(1, certainty)) names.add(name);
  return { ...atLeast(wanted, names.size), names: [...names] };
}

function meetSignIn(condition: SignInCondition, { at, country, proof }: SignIn, now: number): Met {
  const age = Math.max(0, Math.floor((now - at) / MINUTE_MS));
  const here =
    country !== undefined && condition.countries.some((each) => each.toUpperCase() === country.toUpperCase());
  const held =
    (condition.countries.length === 0 || here !== condition.elsewhere) &&
    (condition.proofs.length === 0 || condition.proofs.includes(proof)) &&
    (condition.olderThanMinutes === null || age > condition.olderThanMinutes);
  return { held, value: age, names: [country ?? 'not-known', proof] };
}

/** Evaluates a clause over a stretch of time: the amount counted before, plus what this movement adds. */
export function meetWindow(condition: WindowCondition, movement: InspectedMovement): Met {
  const { amount, usual = 0 } = movement.past?.[windowKey(condition)] ?? { amount: 0 };
  // Whoever keeps the values of the past counts those that do not stand in this movement as well.
  if (condition.kind === 'values') return atLeast(condition.atLeast, amount + ownValues(condition, movement));
  const sum = amount + amountOf(condition.of, condition.over, movement);
  if (condition.kind === 'sum') return atLeast(condition.atLeast, sum);
  const wanted = Math.max(condition.atLeast, Math.ceil(usual * condition.times));
  return { ...atLeast(wanted, sum), names: [String(Math.round(usual * 10) / 10)] };
}

function ownValues({ pattern, certainty, over }: ValuesCondition, movement: InspectedMovement): number {
  return over === 'outside' && !goesOutside(movement) ? 0 : valuesIn(movement, pattern, certainty).size;
}
