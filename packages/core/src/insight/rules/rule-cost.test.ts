import { wilson } from '../../shared/interval.js';
import { byPrice, remarksOnRule, type RuleFigures } from './rule-cost.js';

const NOTHING: RuleFigures = {
  ...{ matches: 0, people: 0, advised: 0, asked: 0, held: 0, blocked: 0 },
  ...{ forWork: 0, turnedBack: 0, noReply: 0, overridesAsked: 0, approved: 0, judgedWrong: 0 },
  ...{ decided: 0, falsePositives: 0, allowed: 0, harm: 0, harmStopped: 0 },
  ...{ advicesKnown: 0, repeatedAfterAdvice: 0, reduced: 0, tests: 0 },
};
const rule = (over: Partial<RuleFigures>): RuleFigures => ({ ...NOTHING, matches: 1_000, ...over });
const codes = (over: Partial<RuleFigures>): string[] => remarksOnRule(rule(over)).map(({ code }) => code);

describe('the Wilson interval', () => {
  // R. G. Newcombe, Statistics in Medicine 17, 1998, table I, method 3: 81 of 263, 15 of 148, 0 of 20, 1 of 29.
  it.each([
    [81, 263, 0.2553, 0.3662],
    [15, 148, 0.0624, 0.1605],
    [0, 20, 0, 0.1611],
    [1, 29, 0.0061, 0.1718],
  ])('%d of %d', (hits, of, least, most) => {
    const interval = wilson(hits, of);
    expect(interval.least).toBeCloseTo(least, 4);
    expect(interval.most).toBeCloseTo(most, 4);
  });
});

describe('remarksOnRule', () => {
  it('does not let 3 of 4 outrank 300 of 500', () => {
    expect(codes({ falsePositives: 3, decided: 4 })).toEqual([]);
    expect(codes({ falsePositives: 300, decided: 500 })).toEqual(['mostly-false']);
  });
  it.each<[Partial<RuleFigures>, string[]]>([
    [{ matches: 0 }, ['never-fired']],
    [{ matches: 0, tests: 4 }, ['only-tests']],
    [{ matches: 7, reduced: 7 }, ['only-reduced']],
    [{ overridesAsked: 35, approved: 26 }, ['against-work']],
    [{ overridesAsked: 2, approved: 2, judgedWrong: 1 }, ['approval-wrong']],
    [{ advicesKnown: 40, repeatedAfterAdvice: 22 }, ['advice-repeated']],
    [{ harm: 5, harmStopped: 3 }, ['stops-harm']],
    [{}, []],
  ])('%p', (figures, expected) => expect(codes(figures)).toEqual(expected));
});

it('orders rules with warnings before those that interrupt most people', () => {
  const noisy = rule({ falsePositives: 44, decided: 48, people: 2 });
  const busy = rule({ people: 90 });
  const quiet = rule({ people: 1 });
  expect([quiet, busy, noisy].sort(byPrice)).toEqual([noisy, busy, quiet]);
});
