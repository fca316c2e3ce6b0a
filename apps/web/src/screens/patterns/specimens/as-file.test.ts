import { shapeFault } from '@lantern/contracts';
import {
  type ExpressionPattern,
  READY_PATTERNS,
  type RecordsPattern,
  type WordListPattern,
} from '@lantern/core/detection';
import { type PatternId } from '@lantern/core/shared';
import { asFile } from './as-file';

const words: WordListPattern = {
  origin: 'own',
  id: 'w' as PatternId,
  name: '',
  kind: 'own-words',
  about: '',
  words: [{ text: 'Slackwater', weight: 3 }],
};
const expression: ExpressionPattern = {
  origin: 'expression',
  id: 'e' as PatternId,
  name: 'Berth',
  kind: 'own-expression',
  about: '',
  expression: 'B-[0-9]{4}',
  caseMatters: false,
  check: 'none',
  namingWords: [],
  supportingWords: [],
  counterWords: [],
  wordDistance: 60,
  exclusions: { values: [], words: [], ranges: [] },
  weights: {},
} as unknown as ExpressionPattern;

describe('asFile', () => {
  it.each([
    ['a word list', words],
    ['an expression', expression],
    ['a ready pattern with its weights', READY_PATTERNS[0]!],
  ])('gives %s the shape that the server takes', (_what, pattern) => {
    const file = asFile(pattern);
    expect(file && shapeFault('pattern', structuredClone(file))).toBeUndefined();
  });

  it('gives nothing of what stays on the server', () => {
    expect(asFile({ origin: 'records' } as unknown as RecordsPattern)).toBeNull();
  });
});
