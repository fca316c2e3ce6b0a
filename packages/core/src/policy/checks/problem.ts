import type { KnownPeople } from '../../directory/person.js';
import type { AnswerText } from '../model/rule.js';

/** Highest count a rule may ask for: the number of candidates one scan keeps. */
export const MAX_COUNT = 100_000;
/** Deepest nesting of clauses that still reads as a sentence. */
export const MAX_NESTING = 8;
/** Longest wait for a reply, in minutes: a week. What takes longer is no question any more. */
export const MAX_ASK_MINUTES = 7 * 24 * 60;

/** `must` keeps a set from being published; `look` is pointed out. */
export type Gravity = 'must' | 'look';

const GRAVITY = {
  'no-name': 'must',
  'no-rules': 'must',
  'no-channel': 'must',
  'no-owner': 'look',
  'certainty-out-of-range': 'must',
  'count-out-of-range': 'must',
  'minutes-out-of-range': 'must',
  'hours-out-of-range': 'must',
  'unknown-pattern': 'must',
  'unknown-text': 'must',
  'unknown-exchange': 'must',
  'unknown-label': 'must',
  'unknown-spots': 'must',
  'unknown-machine': 'must',
  'unknown-place': 'look',
  'unknown-person': 'must',
  'unknown-group': 'must',
  'empty-group': 'must',
  'empty-list': 'must',
  'nested-too-deep': 'must',
  'no-domains': 'must',
  'not-a-domain': 'must',
  'not-a-country': 'must',
  'not-a-time': 'must',
  'not-a-zone': 'must',
  'not-a-day': 'must',
  'no-bands': 'must',
  'bands-overlap': 'must',
  'bands-gap': 'must',
  'bands-out-of-order': 'must',
  'bands-alike': 'look',
  'answer-not-on-channel': 'must',
  'treatment-not-on-channel': 'must',
  'answer-without-text': 'must',
  'ask-without-terms': 'must',
  'ask-without-way-back': 'look',
  'silent-but-told': 'must',
  'silence-over': 'look',
  'ceiling-over': 'look',
  'duplicate-name': 'must',
  'duplicate-rule': 'must',
  'never-reached': 'must',
  'never-holds': 'must',
  shadowed: 'look',
  contradicting: 'look',
  'pattern-without-specimens': 'look',
  'guests-forgotten': 'look',
  'channel-uncovered': 'look',
  'place-uncovered': 'look',
  'exchange-over': 'look',
} as const satisfies Readonly<Record<string, Gravity>>;

export type ProblemCode = keyof typeof GRAVITY;
export const PROBLEM_CODES = Object.keys(GRAVITY) as ProblemCode[];

export function gravityOf(code: ProblemCode): Gravity {
  return GRAVITY[code];
}

/** Something to mend or to look at. `path` leads to the field inside the policy. */
export interface Problem {
  readonly code: ProblemCode;
  readonly path: readonly (string | number)[];
  /** The value or name at fault, where it helps; never inspected content. */
  readonly value?: string;
}

/** What the directory knows of machines and places. */
export interface KnownMachines {
  readonly machines: ReadonlySet<string>;
  readonly groups: ReadonlySet<string>;
  readonly places: ReadonlySet<string>;
}

/** What the checks need to know of the rest of the draft. */
export interface ProblemContext {
  readonly patterns: ReadonlySet<string>;
  readonly texts: readonly AnswerText[];
  readonly exchanges: ReadonlySet<string>;
  /** Ids of groups of spots. */
  readonly spots: ReadonlySet<string>;
  /** Machines, their groups and places; null where nobody is there to ask: references to them pass. */
  readonly machines?: KnownMachines | null;
  /** Ids of labels; left out where they are not known, as for a folder of files: references to them pass. */
  readonly labels?: ReadonlySet<string>;
  readonly otherNames: readonly string[];
  /** Null where there is no directory to ask, as for a folder of files: references to people pass. */
  readonly people: KnownPeople | null;
  /** Now, in milliseconds since 1970. */
  readonly at: number;
}

/** Way to a field. */
export type Path = readonly (string | number)[];
