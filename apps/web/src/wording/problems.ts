import type { Problem, ProblemCode } from '@lantern/core/policy';

const SENTENCES: Readonly<Record<ProblemCode, (value: string) => string>> = {
  'no-name': () => 'The policy has no name. Give it a name that says what it protects.',
  'duplicate-name': (value) => `Another policy has the name "${value}". Incidents could not be told apart.`,
  'duplicate-rule': (value) =>
    `Another rule has the same id (${value}). Matches could not be told apart; give this one its own, in its text.`,
  'no-rules': () => 'The policy has no rule yet. Add one, or it does nothing.',
  'no-channel': () => 'The policy names no channel.',
  'no-owner': () => 'This policy has no owner. Name one, so that people know whom to ask.',
  'certainty-out-of-range': (value) => `A certainty must be from 0 to 100, not ${value}. The draft is kept.`,
  'count-out-of-range': (value) => `${value} is not a valid count. Use a whole number from 1 to 100,000.`,
  'hours-out-of-range': (value) =>
    `${value} hours is not possible. Sums look back at most 31 days (744 hours).`,
  'minutes-out-of-range': (value) =>
    `${value} minutes is not possible. Questions can wait at most a week; conditions can look back at most a day.`,
  'unknown-pattern': () => 'The rule looks for a pattern that was removed. Choose another.',
  'unknown-text': () => 'The message was removed. Choose another.',
  'unknown-exchange': () => 'The rule uses an approved exchange that was removed.',
  'unknown-label': () => 'The rule asks for a label that was removed. Choose another.',
  'unknown-spots': () => 'The rule names a group of applications and sites that was removed. Choose another.',
  'unknown-machine': (value) => `The directory has no machine or group of machines with the name ${value}.`,
  'unknown-place': (value) =>
    `No place has the name ${value} yet. The policy applies from the day it appears.`,
  'unknown-person': (value) => `${value} is not in the directory.`,
  'unknown-group': (value) => `The directory has no "${value}".`,
  'empty-group': () => 'A group of conditions is empty. Add a condition or remove the group.',
  'empty-list': () => 'A condition is incomplete.',
  'nested-too-deep': () => 'Conditions are nested too deeply to read as a sentence. Split the rule in two.',
  'no-domains': () => 'The condition names no domain.',
  'not-a-domain': (value) => `"${value}" is not a domain. Write it like partner.example.`,
  'not-a-country': (value) => `"${value}" is not a country. Write two letters, like NO.`,
  'not-a-time': (value) => `"${value}" is not a time of day. Write it like 22:00.`,
  'not-a-zone': (value) => `"${value}" is not a time zone. Write it like Europe/Oslo.`,
  'not-a-day': (value) => `"${value}" is not a date. Write it like 2027-01-31.`,
  'no-bands': () => 'The rule has no answer. Choose what happens when it matches.',
  'bands-overlap': (value) => `Two bands overlap (${value}). Start one where the other ends.`,
  'bands-gap': (value) => `No band covers ${value}. Close the gap.`,
  'bands-out-of-order': (value) => `The bands are in the wrong order (${value}).`,
  'bands-alike': () => 'This band does the same as the one before it. Merge them.',
  'answer-not-on-channel': (value) => `This answer is not possible here (${value}).`,
  'treatment-not-on-channel': (value) => `This treatment is not possible here (${value}).`,
  'answer-without-text': () => 'The person would be stopped without an explanation. Choose a message.',
  'ask-without-terms': () =>
    'The rule asks without a question. Add reasons, a time limit and what happens without a reply.',
  'ask-without-way-back': () =>
    'No reason cancels the movement. Add one for people who notice their mistake.',
  'silent-but-told': () => 'A silent rule tells no one, so its answer must be "note".',
  'silence-over': (value) => `The silence ended on ${value}. The rule no longer applies.`,
  'ceiling-over': (value) => `This ceiling ended on ${value}. The ceilings below it apply.`,
  'never-reached': (value) =>
    `Rule ${value} skips this rule in every case it covers, so this rule never applies. Move it up, or narrow rule ${value}.`,
  'never-holds': () => 'Nothing can match this: its conditions contradict each other.',
  shadowed: (value) =>
    `Whenever this rule matches, a stronger rule also matches (${value}). This rule never decides, but it still counts matches.`,
  contradicting: (value) =>
    `Another rule has the same conditions and a stronger answer (${value}). Keep one.`,
  'pattern-without-specimens': () => 'A pattern it uses has no specimens, so nothing shows that it works.',
  'guests-forgotten': () =>
    'Guests in a chat can receive the same data: no chat policy looks for it. Add the channel or another policy.',
  'channel-uncovered': (value) => `No policy covers ${value}: everything is allowed there.`,
  'place-uncovered': (value) =>
    `No drive policy covers the place ${value}: everything there can be shared with anyone. Extend a policy to it.`,
  'exchange-over': (value) => `The exchange "${value}" has ended and allows nothing.`,
};

export function problemSentence(problem: Problem): string {
  return SENTENCES[problem.code](problem.value ?? '');
}
