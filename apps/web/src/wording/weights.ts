import type { PatternWeights } from '@lantern/core/detection';

/** What each weight is given for. */
export const WEIGHT_WORDS: Readonly<Record<keyof PatternWeights, string>> = {
  shape: 'something of this shape, before anything else is known',
  structure: 'dates, ranges and lists inside it fit',
  check: 'its check digits hold',
  usualCheck: 'the check that most of them pass holds; half of it off where it fails',
  grouping: 'written in its usual groups',
  namingWord: 'its own name beside it, less with distance up to 60 characters',
  heading: 'the heading of its column names it',
  supportingWord: 'a word of its subject beside it, less with distance',
  counterWord: 'a counter word beside it, less with distance',
  testValue: 'it is a published test value',
};
