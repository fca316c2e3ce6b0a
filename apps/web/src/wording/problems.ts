import type { Problem, ProblemCode } from '@lantern/core/policy';

const SENTENCES: Readonly<Record<ProblemCode, (value: string) => string>> = {
  'no-name': () => 'The policy has no name. Give it one that says what it guards.',
  'duplicate-name': (value) => `Another policy is called "${value}". Incidents could not be told apart.`,
  'duplicate-rule': (value) =>
    `Another rule has the same id (${value}). Matches could not be told apart; give this one its own, in its text.`,
  'no-rules': () => 'The policy has no rule yet. Add one, or it does nothing.',
  'no-channel': () => 'The policy names no channel.',
  'no-owner': () => 'Nobody answers for this policy. Name somebody, so that questions find their way.',
  'certainty-out-of-range': (value) =>
    `A certainty of ${value} does not exist; it goes from 0 to 100. The draft is kept.`,
  'count-out-of-range': (value) => `${value} is no count to wait for; use a whole number from 1 to 100,000.`,
  'minutes-out-of-range': (value) =>
    `${value} minutes cannot be used: questions wait a week at most, and the past is looked back over for a day.`,
  'unknown-pattern': () => 'The rule looks for a pattern that is gone. Choose another.',
  'unknown-text': () => 'The text that people should read is gone. Choose another.',
  'unknown-exchange': () => 'An entry of the register that the rule refers to is gone.',
  'unknown-label': () => 'The rule asks for a label that is gone. Choose another.',
  'unknown-spots': () => 'The rule names a group of spots that is gone. Choose another.',
  'unknown-machine': (value) => `The directory knows no machine and no group of machines called ${value}.`,
  'unknown-place': (value) =>
    `No place is called ${value} yet. The policy takes it over from the day it appears.`,
  'unknown-person': (value) => `${value} is not in the directory.`,
  'unknown-group': (value) => `The directory knows no "${value}".`,
  'empty-group': () => 'A group of clauses is empty. Put a clause in, or take the group out.',
  'empty-list': () => 'A clause names nothing yet.',
  'nested-too-deep': () => 'Clauses are nested too deep to be read as a sentence. Make two rules of it.',
  'no-domains': () => 'The clause names no domain.',
  'not-a-domain': (value) => `"${value}" is no domain. Write it like partner.example.`,
  'not-a-country': (value) => `"${value}" is no country. Write its two letters, like NO.`,
  'not-a-time': (value) => `"${value}" is no time of day. Write it like 22:00.`,
  'not-a-zone': (value) => `"${value}" is no time zone. Write it like Europe/Oslo.`,
  'not-a-day': (value) => `"${value}" is no day. Write it like 2027-01-31.`,
  'no-bands': () => 'The rule has no outcome. Say what happens when it holds.',
  'bands-overlap': (value) =>
    `Two bands claim the same counts (${value}). Let one begin where the other ends.`,
  'bands-gap': (value) => `No band is for ${value}. Let the bands meet.`,
  'bands-out-of-order': (value) => `The bands are the wrong way round (${value}).`,
  'bands-alike': () =>
    'This band does the same as the one before it, so the two can never differ. Join them.',
  'answer-not-on-channel': (value) => `This answer is not possible here (${value}).`,
  'treatment-not-on-channel': (value) => `This treatment is not possible here (${value}).`,
  'answer-without-text': () => 'The person would be stopped without a word. Choose what they should read.',
  'ask-without-terms': () =>
    'The rule asks, and does not say what for: write reasons, a time and what happens then.',
  'ask-without-way-back': () => 'No reason leads back. People who see their slip should be able to say so.',
  'silent-but-told': () => 'A silent rule tells nobody: its answer can only be "note".',
  'silence-over': (value) => `The silence ended on ${value}; the rule is no longer read.`,
  'ceiling-over': (value) => `This ceiling ended on ${value}; the lines below it count.`,
  'never-reached': (value) =>
    `Rule ${value} ends this policy for everything that this one is about, so it is never read. Move it up, or narrow rule ${value}.`,
  'never-holds': () => 'Nothing can meet this: its clauses rule each other out.',
  shadowed: (value) =>
    `Whenever this holds, a stronger rule does too (${value}), so this one never decides. It still counts matches.`,
  contradicting: (value) => `Another rule asks the same and answers more strongly (${value}). Keep one.`,
  'pattern-without-specimens': () =>
    'A pattern it looks for has no specimens: nothing shows that it finds what it should.',
  'guests-forgotten': () =>
    'The same may go to guests in a chat: no policy for chats looks for it. Add the channel, or a policy for it.',
  'channel-uncovered': (value) => `No policy is about ${value}: everything goes through there.`,
  'place-uncovered': (value) =>
    `No policy for shared drives is about the place ${value}: whatever lies there can be opened to anybody. Widen where one is for.`,
  'exchange-over': (value) => `The exchange "${value}" is over and allows nothing any more.`,
};

export function problemSentence(problem: Problem): string {
  return SENTENCES[problem.code](problem.value ?? '');
}
