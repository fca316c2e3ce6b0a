import { assertNever } from '../../shared/assert-never.js';
import { compileChecks } from '../checks/compile.js';
import type { CheckStep } from '../checks/step.js';
import type { ReadyPattern } from './pattern.js';

const SPECIAL_NAMES = {
  'french-insee': 'modulus 97 with departments 2A and 2B',
  'spanish-company': 'Luhn sum as digit or letter',
  'singapore-nric': 'weighted modulus 11 with a letter',
  'turkish-tax': 'powers of two modulo 9',
  'portuguese-card': 'Luhn over letters and digits',
  bech32: 'Bech32',
} as const;

/** Names of the check digit methods of a pattern, each once; what its structure demands is not among them. */
export function checkNames(pattern: ReadyPattern): string[] {
  const names = [...pattern.steps, ...pattern.usualSteps].flatMap(namesOf);
  return [...new Set(names)];
}

/** Share of accidental values of its shape that pass all its checks, 0 to 1. */
export function accidentalShareOf(pattern: ReadyPattern): number {
  const { digitsShare, structureShare } = compileChecks(pattern.steps);
  return digitsShare * structureShare;
}

function namesOf(step: CheckStep): string[] {
  switch (step.check) {
    case 'luhn':
      return [step.base === 36 ? 'Luhn in base 36' : 'Luhn'];
    case 'verhoeff':
      return ['Verhoeff'];
    case 'damm':
      return ['Damm'];
    case 'iso-7064':
      return [`ISO/IEC 7064 ${step.system.toUpperCase()}`];
    case 'weighted':
    case 'total':
      return [`weighted modulus ${step.modulus}`];
    case 'remainder':
      return [`remainder by ${step.modulus}`];
    case 'place-values':
      return ['letter by the values of places'];
    case 'icao':
      return ['ICAO Doc 9303 weights 7, 3, 1'];
    case 'special':
      return [SPECIAL_NAMES[step.method]];
    case 'any':
      return step.of.flatMap((row) => row.flatMap(namesOf));
    case 'date':
      return ['a date'];
    case 'within':
    case 'one-of':
    case 'none-of':
    case 'made-of':
    case 'not-repeated':
    case 'one-digit-repeats':
    case 'letters-and-digits':
    case 'length':
      return [];
    default:
      return assertNever(step);
  }
}
