import type { Effect } from '../../labels/handling.js';
import type { Audience } from '../../directory/audience.js';
import type { Channel } from '../../movement/movement.js';

/** What happens to a movement, weakest first. */
export const ANSWERS = ['note', 'advise', 'ask', 'hold', 'block'] as const;
export type Answer = (typeof ANSWERS)[number];

/** How bad it is, least first. */
export const SEVERITIES = ['low', 'medium', 'high', 'critical'] as const;
export type Severity = (typeof SEVERITIES)[number];

/** Place of an answer on the scale, 0 for the weakest. */
export function strength(answer: Answer): number {
  return ANSWERS.indexOf(answer);
}

/** The weaker of two answers. */
export function weaker(one: Answer, other: Answer): Answer {
  return strength(one) <= strength(other) ? one : other;
}

/** Effects that others than the owner have on a drive: nobody else changes a file there or passes it on. */
export const LOWERABLE_EFFECTS = ['read', 'take-out', 'make-another'] as const satisfies readonly Effect[];
export type LowerableEffect = (typeof LOWERABLE_EFFECTS)[number];

/** Where a confirmed identity counts: in the same application, or everywhere. */
export const TRUST_SCOPES = ['same-application', 'everywhere'] as const;
export type TrustScope = (typeof TRUST_SCOPES)[number];

/** What is done beside an answer. */
export type Treatment =
  /** Puts these words before the subject of what goes on, so that its readers see them first. */
  | { readonly kind: 'mark'; readonly words: string }
  /** Tells the receiver's program that the item is not to be passed on; our own programs refuse it. */
  | { readonly kind: 'no-passing-on' }
  /** It goes over an encrypted connection or not at all. */
  | { readonly kind: 'encrypted-connection' }
  /** It goes encrypted for its receiver (S/MIME, RFC 8551) or not at all. */
  | { readonly kind: 'encrypt-content' }
  /** What goes on carries this label, unless it carries a higher one; rules see it from the next movement on. */
  | { readonly kind: 'set-label'; readonly label: string }
  /** Access that is given ends by itself after so many days. */
  | { readonly kind: 'end-access'; readonly days: number }
  /** Some people can do less with what is opened, whatever its label lets them. */
  | {
      readonly kind: 'lower-handling';
      readonly effects: readonly LowerableEffect[];
      readonly people: Audience;
    }
  /**
   * The movement waits until the person confirms their identity with a second factor. There is no new request for so many
   * minutes after that, in the same application or everywhere; 0 asks every time.
   */
  | { readonly kind: 'ask-who'; readonly minutes: number; readonly trusts: TrustScope };
export type TreatmentKind = Treatment['kind'];
export const TREATMENT_KINDS = [
  'mark',
  'no-passing-on',
  'encrypted-connection',
  'encrypt-content',
  'set-label',
  'end-access',
  'lower-handling',
  'ask-who',
] as const satisfies readonly TreatmentKind[];

/** Why a channel cannot give an answer or a treatment. The sentence for it is the web's. */
export type CannotReason =
  | 'no-subject-in-chat'
  | 'readers-share-one-room'
  | 'chat-is-gone-when-asked'
  | 'nothing-to-write-on'
  | 'target-is-out-of-reach'
  | 'share-is-withdrawn-instead'
  | 'only-mail-is-handed-on'
  | 'nothing-carries-a-label'
  | 'access-cannot-be-taken-back'
  | 'handling-is-the-labels';

/** What a channel can do, and for what it cannot, why. */
export interface ChannelAbilities {
  /** How long a question stands there: until its time, or, sooner, until its page is closed. */
  readonly question: 'until-its-time' | 'while-open';
  readonly answers: Readonly<Record<Answer, true | CannotReason>>;
  readonly treatments: Readonly<Record<TreatmentKind, true | CannotReason>>;
}

const NOT_HANDED_ON = {
  'encrypted-connection': 'only-mail-is-handed-on',
  'encrypt-content': 'only-mail-is-handed-on',
} as const;
const NO_LABEL = { 'set-label': 'nothing-carries-a-label' } as const;
const NOT_TAKEN_BACK = {
  'end-access': 'access-cannot-be-taken-back',
  'lower-handling': 'access-cannot-be-taken-back',
} as const;
const ALL_ANSWERS = { note: true, advise: true, ask: true, hold: true, block: true } as const;

/**
 * The one table of what each channel can do. A chat moves on while an approver thinks, so nothing is held there; what is
 * put on a drive, into a page or on a device waits with its owner until it is freed.
 */
export const CHANNEL_ABILITIES: Readonly<Record<Channel, ChannelAbilities>> = {
  mail: {
    question: 'until-its-time',
    answers: ALL_ANSWERS,
    treatments: {
      mark: true,
      'no-passing-on': true,
      'encrypted-connection': true,
      'encrypt-content': true,
      'set-label': true,
      'end-access': 'access-cannot-be-taken-back',
      'lower-handling': 'handling-is-the-labels',
      'ask-who': true,
    },
  },
  chat: {
    question: 'until-its-time',
    answers: { note: true, advise: true, ask: true, hold: 'chat-is-gone-when-asked', block: true },
    treatments: {
      mark: 'no-subject-in-chat',
      'no-passing-on': 'readers-share-one-room',
      ...NOT_HANDED_ON,
      'set-label': true,
      ...NOT_TAKEN_BACK,
      'ask-who': true,
    },
  },
  drive: {
    question: 'until-its-time',
    answers: ALL_ANSWERS,
    treatments: {
      mark: 'nothing-to-write-on',
      'no-passing-on': 'share-is-withdrawn-instead',
      ...NOT_HANDED_ON,
      'set-label': true,
      'end-access': true,
      'lower-handling': true,
      'ask-who': true,
    },
  },
  browser: {
    question: 'while-open',
    answers: ALL_ANSWERS,
    treatments: {
      mark: 'nothing-to-write-on',
      'no-passing-on': 'target-is-out-of-reach',
      ...NOT_HANDED_ON,
      ...NO_LABEL,
      ...NOT_TAKEN_BACK,
      'ask-who': true,
    },
  },
  endpoint: {
    question: 'until-its-time',
    answers: ALL_ANSWERS,
    treatments: {
      mark: 'nothing-to-write-on',
      'no-passing-on': 'target-is-out-of-reach',
      ...NOT_HANDED_ON,
      ...NO_LABEL,
      ...NOT_TAKEN_BACK,
      'ask-who': true,
    },
  },
  business: {
    question: 'until-its-time',
    answers: ALL_ANSWERS,
    treatments: {
      mark: 'nothing-to-write-on',
      'no-passing-on': 'target-is-out-of-reach',
      ...NOT_HANDED_ON,
      'set-label': true,
      ...NOT_TAKEN_BACK,
      'ask-who': true,
    },
  },
};

/** Answers that every one of `channels` can give, weakest first. */
export function answersOf(channels: readonly Channel[]): Answer[] {
  return ANSWERS.filter((answer) =>
    channels.every((channel) => CHANNEL_ABILITIES[channel].answers[answer] === true),
  );
}
