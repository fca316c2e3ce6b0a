import { wilson } from '../../shared/interval.js';

/** What happened because of one rule within a period. Incidents of our own tests are not among them, but for `tests`. */
export interface RuleFigures {
  readonly matches: number;
  /** Different people who were advised, asked, held up or refused. */
  readonly people: number;
  readonly advised: number;
  readonly asked: number;
  readonly held: number;
  readonly blocked: number;
  /** Replies that it was for work, and that it was a mistake: the person turned back. */
  readonly forWork: number;
  readonly turnedBack: number;
  readonly noReply: number;
  readonly overridesAsked: number;
  readonly approved: number;
  readonly judgedWrong: number;
  readonly decided: number;
  readonly falsePositives: number;
  readonly allowed: number;
  readonly harm: number;
  /** Harm that was asked about, held or blocked. */
  readonly harmStopped: number;
  /** Advices after which a week has passed or the same person tripped the rule again, and how many of these were repeated. */
  readonly advicesKnown: number;
  readonly repeatedAfterAdvice: number;
  /** Matches that a ceiling reduced to a weaker answer. */
  readonly reduced: number;
  /** Matches of our own tests. */
  readonly tests: number;
}

export const NO_RULE_FIGURES: RuleFigures = {
  ...{ matches: 0, people: 0, advised: 0, asked: 0, held: 0, blocked: 0 },
  ...{ forWork: 0, turnedBack: 0, noReply: 0, overridesAsked: 0, approved: 0, judgedWrong: 0 },
  ...{ decided: 0, falsePositives: 0, allowed: 0, harm: 0, harmStopped: 0 },
  ...{ advicesKnown: 0, repeatedAfterAdvice: 0, reduced: 0, tests: 0 },
};

/** What stands out about a rule, and why. Shares are given with the bounds they lie between, 0 to 1. */
export type RuleRemark =
  | {
      readonly code: 'mostly-false';
      readonly hits: number;
      readonly of: number;
      readonly least: number;
      readonly most: number;
    }
  | {
      readonly code: 'against-work';
      readonly hits: number;
      readonly of: number;
      readonly least: number;
      readonly most: number;
    }
  | {
      readonly code: 'advice-repeated';
      readonly hits: number;
      readonly of: number;
      readonly least: number;
      readonly most: number;
    }
  | { readonly code: 'never-fired' }
  | { readonly code: 'only-tests'; readonly tests: number }
  | { readonly code: 'only-reduced'; readonly matches: number }
  | { readonly code: 'approval-wrong'; readonly hits: number; readonly of: number }
  | { readonly code: 'stops-harm'; readonly harm: number };

/** Share of false positives that is surely reached before a rule is called noisy. */
const NOISY = 0.5;
/** Share of requests approved that is surely reached before a rule is said to work against the people. */
const AGAINST_WORK = 0.5;
/** Share of advices that are surely repeated before an advice is said to teach nothing. */
const REPEATED = 0.3;

/**
 * What stands out about a rule. A share counts by the lower bound of its Wilson interval (E. B. Wilson, Journal of the
 * American Statistical Association 22, 1927): 3 of 4 stand for less than 300 of 500.
 */
export function remarksOnRule(figures: RuleFigures): RuleRemark[] {
  if (figures.matches === 0)
    return figures.tests > 0 ? [{ code: 'only-tests', tests: figures.tests }] : [{ code: 'never-fired' }];
  const remarks: RuleRemark[] = [];
  const share = (
    code: 'mostly-false' | 'against-work' | 'advice-repeated',
    hits: number,
    of: number,
    from: number,
  ) => {
    const { least, most } = wilson(hits, of);
    if (of > 0 && least >= from) remarks.push({ code, hits, of, least, most });
  };
  share('mostly-false', figures.falsePositives, figures.decided, NOISY);
  share('against-work', figures.approved, figures.overridesAsked, AGAINST_WORK);
  share('advice-repeated', figures.repeatedAfterAdvice, figures.advicesKnown, REPEATED);
  if (figures.judgedWrong > 0)
    remarks.push({ code: 'approval-wrong', hits: figures.judgedWrong, of: figures.approved });
  if (figures.reduced === figures.matches) remarks.push({ code: 'only-reduced', matches: figures.matches });
  if (figures.harmStopped > 0) remarks.push({ code: 'stops-harm', harm: figures.harmStopped });
  return remarks;
}

const WARNINGS: readonly RuleRemark['code'][] = [
  'mostly-false',
  'against-work',
  'advice-repeated',
  'approval-wrong',
];

/** Order of rules by what deserves a look: those with warnings first, then those that interrupt most people. */
export function byPrice(one: RuleFigures, other: RuleFigures): number {
  const warnings = (figures: RuleFigures) =>
    remarksOnRule(figures).filter(({ code }) => WARNINGS.includes(code)).length;
  const price = ({ people, matches }: RuleFigures) => people * 1_000_000 + matches;
  return Math.sign(warnings(other)) - Math.sign(warnings(one)) || price(other) - price(one);
}
