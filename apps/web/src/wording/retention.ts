import type { HeldKind, KeptKind, PersonPart, StayReason } from '@lantern/contracts/retention';

/** What is kept for a time of its own, and what goes when the time is over. */
export const KEPT_WORDS: Readonly<Record<KeptKind, { readonly name: string; readonly means: string }>> = {
  evidence: {
    name: 'Evidence of incidents',
    means: 'Excerpts with values, of decided incidents. The incident and its history stay.',
  },
  pictures: {
    name: 'Pictures of screens',
    means: 'Pictures that agents took around a movement. The rest of the incident stays.',
  },
  incidents: {
    name: 'Decided incidents',
    means: 'The incident with its history, counted from the decision. Open incidents stay.',
  },
  movements: {
    name: 'Movements without a match',
    means: 'Used for time lines and usual rates.',
  },
  post: { name: 'Mail and posts of the stand-ins', means: 'Mail, messages, pastes and copies.' },
  replays: { name: 'Replays', means: 'Figures and lists.' },
  trail: {
    name: 'Audit trail',
    means: 'Whole parts from the oldest on, once a day. Their signed ends stay. 365 days at least.',
  },
  reports: { name: 'Report runs', means: 'Reports as they were sent. The schedules stay.' },
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
  passkeys: 'Passkeys of their second factor',
  'assistant-talks': 'Questions to assistants, with their answers',
  'flow-runs': 'Runs of their flows',
  approvals: 'Standing approvals for them',
  trust: 'Confirmed identities',
  'label-changes': 'Labels they set or changed',
  machines: 'Computers they use',
  'identity-provider': 'What the identity provider sent about them',
  'stored-evidence': 'Excerpts from their stored files',
  'clean-ups': 'Clean-up requests sent to them',
  'fetched-items': 'Stored files of theirs that were fetched',
  'stored-items': 'Their stored files that discovery lists',
  'drive-files': 'Their files in the drive',
  documents: 'Their documents',
  shares: 'Files and documents that others shared with them',
  'outside-mail': 'Mail they sent outside, in the stand-in post office',
  trail: 'Entries of the audit trail',
};

export const STAY_WORDS: Readonly<Record<StayReason, string>> = {
  'in-directory': 'stays until the person is removed from the directory',
  undecided: 'stays until the incidents are decided',
  held: 'stays because of a legal hold',
  'history-of-labels': 'stays in the label history',
  'in-its-place': 'stays where it is stored. Delete it there',
  'proof-of-acts': 'stays as proof of who did what, until its period is over',
};
