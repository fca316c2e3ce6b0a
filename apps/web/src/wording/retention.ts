import type { HeldKind, KeptKind, PersonPart, StayReason } from '@lantern/contracts/retention';

/** What is kept for a time of its own, and what goes when the time is over. */
export const KEPT_WORDS: Readonly<Record<KeptKind, { readonly name: string; readonly means: string }>> = {
  evidence: {
    name: 'Evidence of incidents',
    means: 'Excerpts with the values that were found. The incident and its history stay.',
  },
  incidents: {
    name: 'Decided incidents',
    means: 'The whole incident, counted from its decision. Open incidents stay.',
  },
  movements: {
    name: 'Movements without a match',
    means: 'Who moved what where, for the time line and for what is usual.',
  },
  post: { name: 'Mail and posts of the stand-ins', means: 'Mail, messages, pastes and copies.' },
  replays: { name: 'Replays', means: 'Their figures and lists.' },
  reports: { name: 'Reports that were made', means: 'Each report as it was sent. The schedule stays.' },
};

export const HELD_WORDS: Readonly<Record<HeldKind, string>> = {
  person: 'Person',
  incident: 'Incident',
  case: 'Case',
};

export const PERSON_PART_WORDS: Readonly<Record<PersonPart, string>> = {
  directory: 'Entry in the directory',
  movements: 'Movements without a match',
  evidence: 'Evidence of decided incidents',
  'decided-incidents': 'Decided incidents',
  'open-incidents': 'Open incidents with their evidence',
  journal: 'Movements in the journal',
  mail: 'Mail in the stand-in',
  posts: 'Messages, pastes and copies in the stand-ins',
  'second-factor': 'Second factor on their phone',
  trust: 'Times they confirmed who they are',
  'label-changes': 'Labels they set or changed',
};

export const STAY_WORDS: Readonly<Record<StayReason, string>> = {
  'in-directory': 'stays until the person is removed from the directory',
  undecided: 'stays until somebody has decided',
  held: 'stays: a legal hold is on this person',
  'history-of-labels': 'stays as the history of the files',
};
