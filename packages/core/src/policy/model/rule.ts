import type { Brand, PolicyId, RuleId } from '../../shared/brand.js';
import type { Answer, Severity, Treatment } from './answers.js';
import type { Audience } from '../../directory/audience.js';
import type { Condition, Measure } from './conditions.js';
import type { Channel } from '../../movement/movement.js';
import type { Exchange } from './exchange.js';
import type { SpotGroup } from './spots.js';
import type { Whereabouts } from './whereabouts.js';

export type TextId = Brand<string, 'TextId'>;

/** What follows when a rule holds. Without a measure a rule has one band, whose range is not read. */
export interface Band {
  /** Smallest and largest value of the rule's measure that this band is for; null for no upper end. */
  readonly from: number;
  readonly to: number | null;
  readonly answer: Answer;
  readonly severity: Severity;
  readonly treatments: readonly Treatment[];
  /** What the person reads; null where the answer is not told. */
  readonly text: TextId | null;
}

/** A question that an `ask` puts, and where each reply leads. */
export interface AskTerms {
  /** Reasons a person can choose, in the author's words; free words are always possible. */
  readonly reasons: readonly AskReason[];
  /** Minutes until the outcome comes about by itself. */
  readonly minutes: number;
  /** It stands on until this time of day (`HH:MM` in a zone of the IANA database), where the channel leaves time. */
  readonly closes?: { readonly time: string; readonly zone: string };
  readonly otherwise: 'goes-on' | 'stays';
}

/** `goes-on` lets the movement go, `stays` takes it back. */
export interface AskReason {
  readonly words: string;
  readonly leads: 'goes-on' | 'stays';
}

/** Whether the person may ask somebody to let a blocked movement go. `decides` are accounts of the workbench. */
export interface OverrideTerms {
  readonly mayAsk: Audience;
  readonly decides: Deciders;
  /** Two people must allow it; left out, one does. */
  readonly approvers?: 2;
}

/** Who decides: the accounts that may decide about overrides, or those that write policies. */
export type Deciders = 'approvers' | 'authors';

/** By when a held movement is decided, and what follows without a decision. Left out, it waits without an end. */
export interface HoldTerms {
  readonly minutes: number;
  /** Who decides after that, for as many minutes again; null for nobody. */
  readonly next: Deciders | null;
  readonly otherwise: 'goes-on' | 'stays';
  /** Two people must allow it; left out, one does. */
  readonly approvers?: 2;
}

/** A rule that nobody is told of and few may see, for a time. */
export interface Silence {
  /** Day (ISO 8601, UTC) after which the rule is no longer read. */
  readonly until: string;
  readonly why: string;
}

/** Somebody beside the person who learns of a match. */
export interface Told {
  readonly address: string;
  readonly when: 'at-once' | 'daily';
}

export interface Rule {
  readonly id: RuleId;
  /** Short name for lists; empty for none. */
  readonly name: string;
  /** Narrows the policy's people; null takes them over. */
  readonly people: Audience | null;
  readonly when: Condition;
  /** The rule does not hold when this does. */
  readonly unless: Condition | null;
  /** What bands count; null for a rule with one outcome. */
  readonly measure: Measure | null;
  readonly bands: readonly Band[];
  readonly ask: AskTerms | null;
  readonly override: OverrideTerms | null;
  readonly hold?: HoldTerms;
  /** What is kept as evidence: excerpts around what was found, or counts alone. */
  readonly keep: 'excerpts' | 'counts';
  readonly tell: readonly Told[];
  readonly silence: Silence | null;
  /** Day (ISO 8601) from which a movement must be for the rule to bind; what is older is noted and goes on. */
  readonly bindsFrom: string | null;
  /** Asked of each recipient on its own, and answered for those it holds for; the others get it. */
  readonly perRecipient: boolean;
  /** Later rules of this policy are not read when this one holds. */
  readonly endsPolicy: boolean;
}

/** The strongest answer for an audience; `as-written` cuts nothing. */
export interface Ceiling {
  readonly people: Audience;
  readonly answer: Answer | 'as-written';
  /** Last day (ISO 8601, UTC) it is in force; null for no end. */
  readonly until: string | null;
}

export interface Policy {
  readonly id: PolicyId;
  readonly name: string;
  readonly purpose: string;
  /** Who answers for it; an address or a name. */
  readonly owner: string;
  readonly channels: readonly Channel[];
  readonly people: Audience;
  /** From which machines, and at which places. */
  readonly where: Whereabouts;
  /** Stands before every rule; null for none. */
  readonly shared: Condition | null;
  readonly rules: readonly Rule[];
  /** Read from the top; the first that names the sender and is in force decides. None: as written. */
  readonly ceilings: readonly Ceiling[];
}

/** Words that people read, written once. Fields in braces are filled in; see text.ts. */
export interface AnswerText {
  readonly id: TextId;
  readonly name: string;
  /** Words by language (ISO 639-1); the first is used where a person's own is missing. */
  readonly words: readonly { readonly language: string; readonly text: string }[];
  /** Where to read more; empty for none. */
  readonly guidance: string;
  /** Whom to ask; empty for none. */
  readonly contact: string;
}

/** Everything that decides about movements. */
export interface PolicySet {
  readonly policies: readonly Policy[];
  readonly texts: readonly AnswerText[];
  readonly exchanges: readonly Exchange[];
  readonly spots: readonly SpotGroup[];
}

export const NO_POLICIES: PolicySet = { policies: [], texts: [], exchanges: [], spots: [] };
