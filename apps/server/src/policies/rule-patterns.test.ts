import type { Condition, Rule, RuleId } from '@lantern/core';
import { findingPatterns } from './rule-patterns.js';

const holds = (pattern: string): Condition => ({
  kind: 'findings',
  pattern,
  atLeast: 1,
  distinct: false,
  certainty: 80,
});
const rule = (when: Condition, unless: Condition | null = null): Rule => ({
  id: 'r' as RuleId,
  when,
  unless,
  answer: 'note',
  severity: 'low',
  notice: '',
  endsPolicy: false,
});

describe('findingPatterns', () => {
  it('finds patterns however deep they stand, and in exceptions', () => {
    const deep: Condition = {
      kind: 'all',
      of: [{ kind: 'unreadable' }, { kind: 'any', of: [holds('a'), { kind: 'none', of: [holds('b')] }] }],
    };
    expect(findingPatterns(rule(deep, holds('c')))).toEqual(['a', 'b', 'c']);
    expect(findingPatterns(rule({ kind: 'recipient', quantity: 'any', side: 'outside' }))).toEqual([]);
  });
});
