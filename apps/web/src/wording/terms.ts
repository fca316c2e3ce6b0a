import type { PatternKind } from '@lantern/core/detection';
import type { HarmCause, IncidentStatus, Outcome } from '@lantern/core/incidents';
import type { Shift } from '@lantern/core/insight';
import type {
  Channel,
  Connection,
  DeviceKind,
  FileKind,
  LinkKind,
  MachineState,
  NetworkState,
  PartRole,
  UnreadableReason,
} from '@lantern/core/movement';
import type { Answer, CannotReason, Cut, Severity, TreatmentKind } from '@lantern/core/policy';
import type { DraftState, UnfinishedChoice } from '@lantern/contracts';

export const ANSWER_WORDS: Readonly<Record<Answer, string>> = {
  note: 'note',
  advise: 'advise',
  ask: 'ask',
  hold: 'hold',
  block: 'block',
};
export const ANSWER_DONE: Readonly<Record<Answer, string>> = {
  note: 'noted',
  advise: 'advised',
  ask: 'asked',
  hold: 'held',
  block: 'blocked',
};
export const ANSWER_MEANING: Readonly<Record<Answer, string>> = {
  note: 'it goes on, nobody is told',
  advise: 'it goes on, the sender reads a word of advice',
  ask: 'the sender answers before it goes on',
  hold: 'somebody else decides',
  block: 'it does not go, the sender is told why',
};
export const SEVERITY_WORDS: Readonly<Record<Severity, string>> = {
  low: 'Low',
  medium: 'Medium',
  high: 'High',
  critical: 'Critical',
};
export const STATUS_WORDS: Readonly<Record<IncidentStatus, string>> = {
  new: 'New',
  taken: 'Taken',
  waiting: 'Waiting for the person',
  decided: 'Decided',
};
export const OUTCOME_WORDS: Readonly<Record<Outcome, string>> = {
  'false-positive': 'False positive',
  allowed: 'Allowed',
  harm: 'Harm',
};
export const CAUSE_WORDS: Readonly<Record<HarmCause, string>> = {
  slip: 'A slip',
  ignorance: 'Did not know',
  intent: 'Meant it',
};
export const KIND_WORDS: Readonly<Record<PatternKind, string>> = {
  payment: 'Payment',
  bank: 'Bank',
  identity: 'Identity',
  tax: 'Tax and company',
  health: 'Health',
  travel: 'Passport and travel',
  contact: 'Contact and place',
  network: 'Network and device',
  secrets: 'Keys and secrets',
  vehicle: 'Vehicle',
  cargo: 'Vessel and cargo',
  'own-words': 'Own words',
  'own-expression': 'Own expression',
  'own-records': 'Own records',
  'own-documents': 'Own documents',
};
export const STATE_WORDS: Readonly<Record<DraftState, string>> = {
  new: 'new draft',
  changed: 'changed draft',
  published: 'published',
  removed: 'removed in the draft',
};

export const UNREADABLE_WORDS: Readonly<Record<UnreadableReason, string>> = {
  encrypted: 'it is protected with a password',
  corrupt: 'it is damaged or cut off',
  'too-large': 'it is larger than is read: 25 MB, or 36 megapixels for a picture',
  'expands-too-far': 'it unpacks to more than 100 MB, as archives do that are meant to do harm',
  'nested-too-deep': 'files are packed inside files too deep to follow',
  unsupported: 'it is of a kind that holds no text or is not known',
  'took-too-long': 'reading it took too long',
};

export const UNREADABLE_SHORT: Readonly<Record<UnreadableReason, string>> = {
  encrypted: 'it is locked',
  corrupt: 'it is damaged',
  'too-large': 'it is too large',
  'expands-too-far': 'it unpacks without end',
  'nested-too-deep': 'it is packed too deep',
  unsupported: 'its kind holds no text',
  'took-too-long': 'reading took too long',
};
export const ROLE_WORDS: Readonly<Record<PartRole, string>> = {
  subject: 'subject',
  body: 'text',
  attachment: 'files',
};
export const FILE_KIND_WORDS: Readonly<Record<FileKind, string>> = {
  pdf: 'a PDF',
  office: 'an office document',
  text: 'text',
  picture: 'a picture',
  archive: 'an archive',
  program: 'a program',
  other: 'of another kind',
};
export const CHANNEL_WORDS: Readonly<Record<Channel, string>> = {
  mail: 'mail',
  chat: 'chat',
  drive: 'shared drives',
  browser: 'browsers',
  endpoint: 'machines',
};
export const UNFINISHED_WORDS: Readonly<Record<UnfinishedChoice, string>> = {
  hold: 'it waits until somebody has looked at it',
  block: 'it does not go',
  'let-go': 'it goes on, and is recorded',
};
export const LINK_WORDS: Readonly<Record<LinkKind, string>> = {
  'only-named': 'named people only',
  'whole-house': 'everybody inside',
  'whoever-holds-it': 'whoever holds it',
};
export const CONNECTION_WORDS: Readonly<Record<Connection, string>> = {
  encrypted: 'encrypted',
  readable: 'open for others to read',
  'not-known': 'not known',
};
export const MACHINE_WORDS: Readonly<Record<MachineState, string>> = {
  'looked-after': 'a machine we look after',
  strange: 'a strange machine',
  'not-known': 'a machine nobody can tell',
};
export const NETWORK_WORDS: Readonly<Record<NetworkState, string>> = {
  trusted: 'a network we trust',
  foreign: 'a foreign network',
  'not-known': 'a network nobody can tell',
};
export const DEVICE_WORDS: Readonly<Record<DeviceKind, string>> = {
  'plugged-in': 'plugged-in drive',
  printer: 'printer',
  disc: 'disc to be burnt',
  'other-machine': 'share of another machine',
  'screen-picture': 'picture of the screen',
  'session-end': 'far end of a remote session',
};
export const CANNOT_WORDS: Readonly<Record<CannotReason, string>> = {
  'no-subject-in-chat': 'a chat message has no subject to be marked',
  'readers-share-one-room':
    'everybody in a room reads the same message, so it cannot be kept from being passed on',
  'chat-is-gone-when-asked': 'a chat moves on while somebody decides; ask or block instead',
  'nothing-to-write-on': 'what is moved has no subject to be marked',
  'target-is-out-of-reach': 'what has arrived there is out of our reach',
  'only-mail-is-handed-on': 'only mail is handed on to receivers over a wire of ours',
  'nothing-carries-a-label': 'what is moved there carries no label',
  'handling-is-the-labels': 'what receivers may do with a mail is what its label says; set a label instead',
  'access-cannot-be-taken-back': 'what has arrived there cannot be taken back',
  'share-is-withdrawn-instead': 'a share can be withdrawn, which does the same',
};
export const TREATMENT_WORDS: Readonly<Record<TreatmentKind, string>> = {
  mark: 'Mark it before its subject',
  'no-passing-on': 'Forbid passing on',
  'encrypted-connection': 'Only over an encrypted connection',
  'encrypt-content': 'Only encrypted for its receiver (S/MIME)',
  'set-label': 'Set a label, unless it carries a higher one',
  'end-access': 'Let access end by itself',
  'lower-handling': 'Let some people do less with it',
};
export const SHIFT_WORDS: Readonly<Record<Shift, string>> = {
  'newly-stopped': 'newly stopped',
  'newly-let-through': 'newly let through',
  'otherwise-answered': 'otherwise answered',
  same: 'the same',
};
export const CUT_WORDS: Readonly<Record<Cut, string>> = {
  ceiling: "cut to the policy's ceiling",
  'made-before': 'it was made before the rule binds',
};
