import type { FilterFault } from '@lantern/core/incidents';
import { AppError } from '../../platform/errors/app-error.js';

/** The refusal of a filter line: what is wrong with it, and where. */
export function badFilter({ code, at, length, word, expected }: FilterFault): AppError {
  return new AppError('bad-filter', `The filter cannot be read: ${code} at character ${at + 1}.`, {
    details: { code, at, length, word, expected: expected.join(' ') },
  });
}
