import type { Clause, Effect } from '../../labels/handling.js';
import type { PolicyId, RuleId } from '../../shared/brand.js';
import type { Answer, Severity, Treatment } from '../model/answers.js';
import type { ConditionTrace } from './condition.js';
import type { Measure } from '../model/conditions.js';
import type { TextId } from '../model/rule.js';

/** A label that does not grant what a movement does: it stands where a match of a rule would name its rule. */
export interface LabelMatch {
  readonly label: { readonly id: string; readonly name: string };
  readonly effect: Effect;
  readonly item: string;
  readonly owner: string;
  readonly clause: Clause;
  readonly answer: Answer;
  readonly severity: Severity;
}

/** What kept a match from having the answer that its rule gives. */
export const CUTS = ['ceiling', 'made-before', 'approval'] as const;
export type Cut = (typeof CUTS)[number];

/** What a match keeps of the standing approval that let it pass. */
export interface ApprovalNote {
  readonly id: string;
  readonly version: number;
  readonly by: string;
  /** Milliseconds since 1970, UTC. */
  readonly until: number;
}

/** One rule that held for one movement. */
export interface Match {
  readonly policy: PolicyId;
  readonly rule: RuleId;
  /** What counts, after all cuts. */
  readonly answer: Answer;
  /** What the rule says; differs from `answer` where something cut it. */
  readonly written: Answer;
  readonly cut: Cut | null;
  readonly severity: Severity;
  /** Which band of the rule, from 0. */
  readonly band: number;
  /** What the rule's measure counted, or null for a rule without bands. */
  readonly counted: number | null;
  readonly text: TextId | null;
  /** The approval that let it pass; left out where none did. */
  readonly approval?: ApprovalNote;
  /** Empty where a ceiling or a date cut the answer. What an approval lets pass is treated as written. */
  readonly treatments: readonly Treatment[];
  readonly silent: boolean;
  /** Addresses it is about, for a rule that is asked of each recipient; null for all. */
  readonly recipients: readonly string[] | null;
}

/** How one rule fared. A rule that was not read says why. */
export type RuleTrace =
  | {
      readonly rule: RuleId;
      readonly read: true;
      readonly held: boolean;
      readonly when: ConditionTrace;
      readonly unless: ConditionTrace | null;
      /** What the rule's bands count, and what was counted; no band for it means that the rule does not hold. */
      readonly measure: Measure | null;
      readonly counted: number | null;
      readonly band: number | null;
      /** Recipients that a rule which is asked of each of them held for; null for other rules. */
      readonly recipients: readonly string[] | null;
    }
  | { readonly rule: RuleId; readonly read: false; readonly because: 'policy-ended'; readonly by: RuleId }
  | {
      readonly rule: RuleId;
      readonly read: false;
      readonly because: 'other-people' | 'over' | 'shared-not-met';
    };

/** How one policy fared; one that does not apply has no rules here, and says why. */
export interface PolicyTrace {
  readonly policy: PolicyId;
  readonly applies: boolean;
  readonly because?: 'channel' | 'people' | 'where';
  readonly shared: ConditionTrace | null;
  readonly rules: readonly RuleTrace[];
}

/** What is decided for a movement, without the way to it. */
export interface Judgement {
  /** Null where no rule holds: the movement goes on and leaves no incident. */
  readonly answer: Answer | null;
  /** First match, in reading order, that gives the answer: its text is the one people read. */
  readonly decidedBy: Match | null;
  readonly matches: readonly Match[];
  /** Of all matches that are as written, each once. */
  readonly treatments: readonly Treatment[];
}

export interface Verdict extends Judgement {
  /** Reading it did not finish, and what is stated for its channel decides where no rule is stronger. */
  readonly unfinished?: boolean;
  /** The movement was reported after it happened, so nothing is held. */
  readonly happened?: boolean;
  /** The person confirmed their identity recently, so the request for a second factor is met. */
  readonly believed?: boolean;
  /** What labels forbid of it: then it is blocked, and no rule decides. Left out where they forbid nothing. */
  readonly forbidden?: readonly LabelMatch[];
  readonly trace: readonly PolicyTrace[];
}
