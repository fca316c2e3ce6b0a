import { evaluate } from '@lantern/core/policy';
import { findingOf, findingsAsked, mailOf, policyOf, ruleOf, setOf } from '@lantern/testkit';
import { keepsOriginal } from './record-rows.js';

const movement = mailOf([findingOf('4539148803436467')], ['desk@out.example']);
const judgedBy = (...keeps: readonly ('excerpts' | 'counts')[]) => {
  const rules = keeps.map((keep, at) => ruleOf(`r${at}`, { when: findingsAsked(1), keep }));
  const set = setOf([policyOf('Cards', rules)]);
  return { set, verdict: evaluate(set, movement) };
};

describe('keepsOriginal', () => {
  it.each([
    [['excerpts'], true],
    [['counts'], false],
    [['counts', 'excerpts'], true],
    // Nothing matched: only what could not be read in time is an incident then.
    [[], true],
  ] as const)('of rules that keep %j is %s', (keeps, kept) => {
    expect(keepsOriginal(judgedBy(...keeps))).toBe(kept);
  });

  it('keeps to counts alone where reading did not finish as well', () => {
    const { set, verdict } = judgedBy('counts');
    expect(keepsOriginal({ set, verdict: { ...verdict, unfinished: true } })).toBe(false);
  });
});
