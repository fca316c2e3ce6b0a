import type { PatternWeights } from '@lantern/core/detection';

/** What each weight is given for. */
export const WEIGHT_WORDS: Readonly<Record<keyof PatternWeights, string>> = {
  shape: 'the format alone, before other evidence',
  structure: 'dates, ranges and lists inside it are valid',
  check: 'its check digits are valid',
  generalName: 'a name nearby that other countries use too',
  usualCheck: 'passes the usual check (half of it deducted if it fails)',
  grouping: 'written in its usual format',
  namingWord: 'its own name nearby, less with distance up to 60 characters',
  heading: 'the heading of its column names it',
  supportingWord: 'a related word nearby, less with distance',
  counterWord: 'a counter word nearby, less with distance',
  testValue: 'it is a published test value',
};
