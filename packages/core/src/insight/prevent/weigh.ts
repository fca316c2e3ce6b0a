import type { Outcome } from '../../incidents/decision.js';
import { type Answer, strength } from '../../policy/model/answers.js';

/** What is decided about a movement: the answer and the rules that matched. */
export interface DecidedRules {
  readonly answer: Answer | null;
  readonly rules: readonly string[];
}

/** A movement that a rule matched, judged with and without a change. */
export interface WeighedCase {
  readonly id: string;
  readonly outcome: Outcome | null;
  readonly person: string;
  /** Day (ISO 8601). */
  readonly day: string;
  readonly before: DecidedRules;
  /** Null where it cannot be judged: only findings were kept, and the change needs texts. */
  readonly after: DecidedRules | null;
}

/** What a change would have done to what was recorded. */
export interface ChangeEffect {
  readonly judged: number;
  readonly notJudged: number;
  readonly falsePositives: { readonly gone: number; readonly of: number };
  /** What was decided to be what the rule looks for, and allowed. */
  readonly allowed: { readonly missed: number; readonly of: number };
  readonly harm: { readonly missed: number; readonly of: number };
  /** Undecided movements that the rule would no longer match. */
  readonly undecided: { readonly missed: number; readonly of: number };
  /** Different people who were told or stopped, per day with any movement, with and without the change. */
  readonly interrupted: { readonly before: number; readonly after: number };
  /** Movements that the rule would no longer match and that nobody called false, newest first; 200 at most. */
  readonly letThrough: readonly string[];
}

const MOST_LISTED = 200;

/** Adds up what a change does to the movements that a rule matched; newest first. */
export function effectOf(rule: string, cases: readonly WeighedCase[]): ChangeEffect {
  const judged = cases.filter((one): one is WeighedCase & { after: DecidedRules } => one.after !== null);
  const held = judged.filter(({ before }) => before.rules.includes(rule));
  const gone = held.filter(({ after }) => !after.rules.includes(rule));
  const count = (of: readonly WeighedCase[], outcome: Outcome | null) =>
    of.filter((one) => one.outcome === outcome).length;
  const missed = (outcome: Outcome | null) => ({ missed: count(gone, outcome), of: count(held, outcome) });
  return {
    judged: judged.length,
    notJudged: cases.length - judged.length,
    falsePositives: { gone: count(gone, 'false-positive'), of: count(held, 'false-positive') },
    allowed: missed('allowed'),
    harm: missed('harm'),
    undecided: missed(null),
    interrupted: {
      before: interruptedPerDay(judged, ({ before }) => before),
      after: interruptedPerDay(judged, ({ after }) => after),
    },
    letThrough: gone
      .filter(({ outcome }) => outcome !== 'false-positive')
      .slice(0, MOST_LISTED)
      .map(({ id }) => id),
  };
}

function interruptedPerDay<Case extends WeighedCase>(
  cases: readonly Case[],
  decided: (one: Case) => DecidedRules,
): number {
  const days = new Map<string, Set<string>>();
  for (const one of cases) {
    const people = days.get(one.day) ?? new Set();
    const { answer } = decided(one);
    if (answer !== null && strength(answer) >= strength('advise')) people.add(one.person);
    days.set(one.day, people);
  }
  const sum = [...days.values()].reduce((total, people) => total + people.size, 0);
  return days.size === 0 ? 0 : sum / days.size;
}

/** Order of changes: those that miss harm stand last, then those that miss confirmed cases; else what prevents most. */
export function byEffect(one: ChangeEffect, other: ChangeEffect): number {
  return (
    Math.sign(one.harm.missed) - Math.sign(other.harm.missed) ||
    Math.sign(one.allowed.missed) - Math.sign(other.allowed.missed) ||
    other.falsePositives.gone - one.falsePositives.gone ||
    one.undecided.missed - other.undecided.missed
  );
}
