import { assertNever } from '../../shared/assert-never.js';
import { damm, hybridSystem, icaoSum, luhn, luhn36, pureSystem, remainder97, verhoeff } from './methods.js';
import { specialCheck } from './special.js';
import type { CheckStep, Range } from './step.js';
import {
  bounds,
  dateCheck,
  lettersAndDigits,
  listedCheck,
  madeOfCheck,
  notRepeated,
  oneDigitRepeats,
  withinCheck,
} from './structure.js';
import { FILLER, type Values } from './values.js';
import { type Check, remainderCheck, totalCheck, weightedCheck } from './weighted.js';

/** Steps made ready: what passes, and how often chance passes. */
export interface CompiledCheck {
  readonly passes: Check;
  /** Share of random characters in the right places that satisfy the check digits, 0 to 1. */
  readonly digitsShare: number;
  /** Share that satisfies dates, ranges and lists, 0 to 1. */
  readonly structureShare: number;
}

/** Compiles steps that must all hold. */
export function compileChecks(steps: readonly CheckStep[]): CompiledCheck {
  const checks = steps.map(compileStep);
  let digitsShare = 1;
  let structureShare = 1;
  for (const step of steps) {
    if (isCheckDigit(step)) digitsShare *= shareOf(step);
    else structureShare *= shareOf(step);
  }
  const [first, second, ...rest] = checks;
  if (!first) return { passes: () => true, digitsShare, structureShare };
  if (!second) return { passes: first, digitsShare, structureShare };
  const passes: Check = (values, length) =>
    first(values, length) && second(values, length) && rest.every((check) => check(values, length));
  return { passes, digitsShare, structureShare };
}

function compileStep(step: CheckStep): Check {
  switch (step.check) {
    case 'luhn':
      return luhnCheck(step);
    case 'verhoeff':
      return (values, length) => verhoeff(digitsOf(values, step.parts ?? [[0, 0]], length));
    case 'damm':
      return (values, length) => damm(values, 0, length);
    case 'iso-7064':
      return systemCheck(step);
    case 'weighted':
      return weightedCheck(step);
    case 'total':
      return totalCheck(step);
    case 'remainder':
      return remainderCheck(step);
    case 'place-values':
      return placeValuesCheck(step);
    case 'icao':
      return icaoCheck(step);
    case 'special':
      return specialCheck(step.method);
    case 'any': {
      const rows = step.of.map((row) => compileChecks(row).passes);
      return (values, length) => rows.some((row) => row(values, length));
    }
    default:
      return structureStep(step);
  }
}

type StructureStep = Exclude<
  CheckStep,
  {
    check:
      | 'luhn'
      | 'verhoeff'
      | 'damm'
      | 'iso-7064'
      | 'weighted'
      | 'total'
      | 'remainder'
      | 'place-values'
      | 'icao'
      | 'special'
      | 'any';
  }
>;

function structureStep(step: StructureStep): Check {
  switch (step.check) {
    case 'date':
      return dateCheck(step);
    case 'within':
      return withinCheck(step);
    case 'one-of':
      return listedCheck(step.of, step.values, true);
    case 'none-of':
      return listedCheck(step.of, step.values, false);
    case 'made-of':
      return madeOfCheck(step);
    case 'not-repeated':
      return notRepeated;
    case 'one-digit-repeats':
      return oneDigitRepeats;
    case 'letters-and-digits':
      return lettersAndDigits;
    case 'length':
      return (_values, length) => step.of.includes(length);
    default:
      return assertNever(step);
  }
}

function luhnCheck(step: Extract<CheckStep, { check: 'luhn' }>): Check {
  const range = step.of ?? ([0, 0] as const);
  const plus = step.plus ?? 0;
  return (values, length) => {
    const [from, to] = bounds(range, length);
    return step.base === 36 ? luhn36(values, from, to) : luhn(values, from, to, plus);
  };
}

function systemCheck(step: Extract<CheckStep, { check: 'iso-7064' }>): Check {
  const { system, of = [0, 0], rotate = 0 } = step;
  return (values, length) => {
    const [from, to] = bounds(of, length);
    switch (system) {
      case 'mod 11-2':
        return pureSystem(values, from, to, 11);
      case 'mod 37-2':
        return pureSystem(values, from, to, 37);
      case 'mod 97-10':
        return remainder97(values, from, to, rotate) === 1;
      case 'mod 11-10':
        return hybridSystem(values, from, to, 10);
      case 'mod 27-26':
        return hybridSystem(values, from, to, 26);
      case 'mod 37-36':
        return hybridSystem(values, from, to, 36);
      default:
        return assertNever(system);
    }
  };
}

function placeValuesCheck(step: Extract<CheckStep, { check: 'place-values' }>): Check {
  return (values, length) => {
    let sum = 0;
    const from = step.from ?? 0;
    for (let index = from; index < length - 1; index += 1) {
      const worth = ((index - from) % 2 === 0 ? step.odd : step.even)[values[index]!];
      if (worth === undefined) return false;
      sum += worth;
    }
    return values[length - 1] === 10 + (sum % step.modulus);
  };
}

function icaoCheck(step: Extract<CheckStep, { check: 'icao' }>): Check {
  return (values, length) => {
    const at = step.at < 0 ? length + step.at : step.at;
    const written = values[at]!;
    const expected = icaoSum(values, step.parts);
    return written === expected || (step.fillerForZero === true && written === FILLER && expected === 0);
  };
}

function digitsOf(values: Values, parts: readonly Range[], length: number): number[] {
  return parts.flatMap((part) => Array.from(values.subarray(...bounds(part, length))));
}

/** Check digits, as against dates, ranges and lists, which anybody's numbers may satisfy. */
export function isCheckDigit(step: CheckStep): boolean {
  switch (step.check) {
    case 'luhn':
    case 'verhoeff':
    case 'damm':
    case 'iso-7064':
    case 'weighted':
    case 'total':
    case 'remainder':
    case 'place-values':
    case 'icao':
      return true;
    case 'special':
      return true;
    case 'any':
      return step.of.some((row) => row.some(isCheckDigit));
    default:
      return false;
  }
}

const DAYS_OF_A_YEAR = 365.25;

/** Share of random characters of the right kind that pass one step by accident, 0 to 1. */
export function shareOf(step: CheckStep): number {
  switch (step.check) {
    case 'luhn':
      return step.base === 36 ? 1 / 36 : 1 / 10;
    case 'verhoeff':
    case 'damm':
    case 'icao':
      return 1 / 10;
    case 'iso-7064':
      return SYSTEM_SHARES[step.system];
    case 'weighted':
      // One check character out of those that can stand there: ten digits, or as many letters as there are results.
      return (
        1 /
        Math.max(
          10,
          step.results === undefined || step.modulus <= 11 ? Math.min(step.modulus, 11) : step.modulus,
        )
      );
    case 'total':
      return step.equals.length / step.modulus;
    case 'remainder':
      return step.results === undefined ? 1 / 10 ** (step.width ?? 1) : 1 / 26;
    case 'place-values':
      return 1 / 26;
    case 'special':
      return SPECIAL_SHARES[step.method];
    case 'any':
      return Math.min(
        1,
        step.of.reduce((sum, row) => sum + row.reduce((share, each) => share * shareOf(each), 1), 0),
      );
    default:
      return structureShareOf(step);
  }
}

const SYSTEM_SHARES = {
  'mod 11-2': 1 / 11,
  'mod 37-2': 1 / 37,
  'mod 97-10': 1 / 97,
  'mod 11-10': 1 / 10,
  'mod 27-26': 1 / 26,
  'mod 37-36': 1 / 36,
} as const;
const SPECIAL_SHARES = {
  'french-insee': 1 / 100,
  'spanish-company': 1 / 18,
  'singapore-nric': 1 / 26,
  'turkish-tax': 1 / 10,
  'portuguese-card': 1 / 10,
  bech32: 1 / 2 ** 30,
} as const;

function structureShareOf(step: StructureStep): number {
  switch (step.check) {
    case 'date':
      return dateShare(step);
    case 'within':
      return (step.most - step.least + 1) / 10 ** (bounds(step.of, 40)[1] - bounds(step.of, 40)[0]);
    case 'one-of': {
      const letters = step.values.some((value) => /[A-Z]/.test(value));
      const width = step.values[0]?.length ?? 1;
      return Math.min(1, step.values.length / (letters ? 26 : 10) ** width);
    }
    case 'made-of':
      return 0.8;
    case 'one-digit-repeats':
      return 0.1;
    case 'letters-and-digits':
    case 'none-of':
    case 'not-repeated':
    case 'length':
      return 0.95;
    default:
      return assertNever(step);
  }
}

function dateShare(step: Extract<CheckStep, { check: 'date' }>): number {
  const offsets = (step.monthOffsets?.length ?? 1) * (step.dayOffsets?.length ?? 1);
  if (step.order === 'yyddd') return 0.366;
  if (step.order === 'yymm') return (12 / 100) * offsets;
  const years = step.order === 'yyyymmdd' || step.order === 'ddmmyyyy' ? 220 / 10_000 : 1;
  return Math.min(1, (DAYS_OF_A_YEAR / 10_000) * offsets * years);
}
