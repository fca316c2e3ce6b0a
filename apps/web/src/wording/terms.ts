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
  PlaceInItem,
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
  note: 'allowed; no one is told',
  advise: 'allowed; the sender gets advice',
  ask: 'the sender must answer first',
  hold: 'someone else decides',
  block: 'stopped; the sender is told why',
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
  encrypted: 'it is protected by a password',
  corrupt: 'it is damaged or incomplete',
  'too-large': 'it exceeds the limit of 25 MB, or of 36 megapixels for a picture',
  'expands-too-far': 'it expands to more than 100 MB',
  'nested-too-deep': 'files are nested too deeply',
  unsupported: 'this kind of file is unknown or contains no text',
  'took-too-long': 'reading it took too long',
};

export const UNREADABLE_SHORT: Readonly<Record<UnreadableReason, string>> = {
  encrypted: 'it is locked',
  corrupt: 'it is damaged',
  'too-large': 'it is too large',
  'expands-too-far': 'it expands too far',
  'nested-too-deep': 'it is nested too deeply',
  unsupported: 'this kind of file contains no text',
  'took-too-long': 'reading took too long',
};
export const PLACE_WORDS: Readonly<Record<PlaceInItem, string>> = {
  subject: 'subject',
  body: 'text',
  attachment: 'files',
  comment: 'comments',
  'pending-edit': 'pending deletions',
  note: 'notes',
  cell: 'cells of sheets',
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
  business: 'business applications',
};
export const UNFINISHED_WORDS: Readonly<Record<UnfinishedChoice, string>> = {
  hold: 'it waits until someone decides',
  block: 'it is stopped',
  'let-go': 'it is allowed and recorded',
};
export const LINK_WORDS: Readonly<Record<LinkKind, string>> = {
  'only-named': 'named people only',
  'whole-house': 'everyone inside',
  'whoever-holds-it': 'whoever holds it',
};
export const CONNECTION_WORDS: Readonly<Record<Connection, string>> = {
  encrypted: 'encrypted',
  readable: 'unencrypted',
  'not-known': 'not known',
};
export const MACHINE_WORDS: Readonly<Record<MachineState, string>> = {
  'looked-after': 'managed',
  strange: 'not managed',
  'not-known': 'not known',
};
export const NETWORK_WORDS: Readonly<Record<NetworkState, string>> = {
  trusted: 'trusted',
  foreign: 'untrusted',
  'not-known': 'not known',
};
export const DEVICE_WORDS: Readonly<Record<DeviceKind, string>> = {
  'plugged-in': 'removable drive',
  printer: 'printer',
  disc: 'disc burner',
  'other-machine': 'network share',
  'screen-picture': 'screenshot',
  'session-end': 'remote computer',
};
export const CANNOT_WORDS: Readonly<Record<CannotReason, string>> = {
  'no-subject-in-chat': 'a chat message has no subject',
  'readers-share-one-room': 'everyone in a room reads the same message, so forwarding cannot be prevented',
  'chat-is-gone-when-asked': 'a chat moves on while someone decides; use ask or block instead',
  'nothing-to-write-on': 'the item has no subject',
  'target-is-out-of-reach': 'items are out of reach once they have arrived',
  'only-mail-is-handed-on': 'only mail is sent over our own connection',
  'nothing-carries-a-label': 'items there carry no label',
  'handling-is-the-labels': 'the label decides what recipients may do with a mail; set a label instead',
  'access-cannot-be-taken-back': 'items cannot be withdrawn once they have arrived',
  'share-is-withdrawn-instead': 'a share can be withdrawn instead',
};
export const TREATMENT_WORDS: Readonly<Record<TreatmentKind, string>> = {
  mark: 'Mark the subject',
  'no-passing-on': 'Prevent forwarding',
  'encrypted-connection': 'Only over an encrypted connection',
  'encrypt-content': 'Only encrypted for its receiver (S/MIME)',
  'set-label': 'Set a label, unless it has a higher one',
  'end-access': 'Let access expire',
  'lower-handling': 'Restrict some people',
  'ask-who': 'Require the second factor',
};
export const SHIFT_WORDS: Readonly<Record<Shift, string>> = {
  'newly-stopped': 'newly stopped',
  'newly-let-through': 'newly let through',
  'otherwise-answered': 'different answer',
  same: 'the same',
};
export const CUT_WORDS: Readonly<Record<Cut, string>> = {
  ceiling: 'reduced to the policy’s ceiling',
  'made-before': 'the item was created before the rule’s start date',
  approval: 'a standing approval allows it',
};
