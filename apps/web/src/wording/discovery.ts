import type { ReaderRight, ReaderView } from '@lantern/contracts';
import type {
  DiscoveryPlaceView,
  ItemActView,
  ItemHistoryEntry,
  JobView,
  PlaceCheck,
  RunPlaceView,
  RunView,
  Store,
  StoreProblem,
} from '@lantern/contracts/discovery';
import {
  type ExposurePartCode,
  type ItemChange,
  type ItemField,
  type ItemGroup,
  type ItemReach,
  type ItemState,
  type LeftOut,
  type Rest,
} from '@lantern/core/discovery';

export const STORE_WORDS: Readonly<
  Record<
    Store,
    {
      readonly name: string;
      readonly at: string;
      readonly part: string | null;
      readonly user: string | null;
      readonly secret: string | null;
      readonly example: string;
    }
  >
> = {
  folder: {
    name: 'Folder or mounted share',
    at: 'Folder on the machine of the reader',
    ...{ part: null, user: null, secret: null, example: '/srv/shares/claims' },
  },
  webdav: {
    name: 'Share over WebDAV',
    at: 'Address',
    ...{ part: null, user: 'User', secret: 'Password', example: 'https://files.example/claims/' },
  },
  objects: {
    name: 'Bucket of an object store',
    at: 'Address of the store',
    ...{ part: 'Bucket', user: 'Access key', secret: 'Secret key', example: 'https://objects.example' },
  },
  mailbox: {
    name: 'Mailbox',
    at: 'Server',
    ...{ part: 'Folder (none: all)', user: 'User', secret: 'Password', example: 'imaps://mail.example' },
  },
  tables: {
    name: 'Tables of a database',
    at: 'Server',
    ...{
      part: 'Database',
      user: 'User that may only read',
      secret: 'Password',
      example: 'postgresql://db.example',
    },
  },
};

export const REACH_WORDS: Readonly<Record<ItemReach, string>> = {
  few: 'a few named people',
  organisation: 'everybody in the organisation',
  outside: 'people outside as well',
  'anybody-with-link': 'whoever has the link',
};

export const STATE_WORDS: Readonly<Record<ItemState, string>> = {
  waiting: 'not read yet',
  read: 'read',
  unreadable: 'could not be read',
  'left-out': 'left out',
  gone: 'no longer there',
};

export const LEFT_OUT_WORDS: Readonly<Record<LeftOut, string>> = {
  'not-among': 'not among the paths of the job',
  'left-out': 'left out by the job',
  'other-kind': 'another kind of file',
  'too-large': 'too large for the job',
  'too-old': 'not changed lately',
};

/** Why an item could not be read. Reasons of readers of later versions stand as they are. */
const REASON_WORDS: Readonly<Record<string, string>> = {
  encrypted: 'it is encrypted',
  corrupt: 'it is damaged',
  'too-large': 'it is larger than a reader opens',
  unsupported: 'its kind is not supported',
  'expands-too-far': 'it unpacks into too much',
  'took-too-long': 'it took too long',
  'not-allowed': 'the reader may not open it',
  'no-file': 'it is no plain file',
  'not-reachable': 'its store did not answer',
  failed: 'the reader could not finish',
  'no-text': 'it holds no text',
  gone: 'it is no longer there',
  changing: 'it changed while it was read',
  'wrong-answer': 'the reader handed in something else',
};

export const reasonWords = (reason: string | null): string =>
  reason === null ? '' : (REASON_WORDS[reason] ?? LEFT_OUT_WORDS[reason as LeftOut] ?? reason);

export const PROBLEM_WORDS: Readonly<Record<StoreProblem, string>> = {
  'no-such-place': 'There is nothing at this address.',
  'not-allowed':
    'The reader may not open it. On its machine, name the folder with --may-read when you enrol it.',
  'not-reachable': 'The server does not answer.',
  'wrong-secret': 'The user or the secret is wrong.',
  'wrong-answer': 'The server answers with something else than expected.',
  'took-too-long': 'It took too long, several times.',
  'no-secret': 'The user or the secret is missing.',
  'wrong-address': 'The address is not complete.',
  failed: 'The reader could not finish. Its own log says more.',
};

export function checkWords(check: PlaceCheck, hasReader: boolean): string {
  switch (check.state) {
    case 'not-yet':
      return 'Not checked yet.';
    case 'checking':
      return hasReader ? 'Being checked …' : 'Waits for a reader of its group to check it.';
    case 'well':
      return `Opens; ${check.atLeast ? 'at least ' : ''}${number(check.items ?? 0)} items, ${size(check.bytes ?? 0)}.`;
    case 'empty':
      return 'Opens, and holds nothing.';
    case 'failed':
      return PROBLEM_WORDS[check.problem ?? 'failed'];
  }
}

export const PART_WORDS: Readonly<Record<ExposurePartCode, string>> = {
  'open-with-link': 'Whoever has the link can open them',
  'open-outside': 'People outside can open them',
  'open-inside': 'Everybody in the organisation can open them',
  unmanaged: 'Machines that nobody manages can open them',
  'without-label': 'They carry no label',
  'above-place': 'Their label is higher than that of the place',
  old: 'Nobody changed them for three years',
  misplaced: 'Their kind should not lie here',
};

export const RUN_STATE_WORDS: Readonly<Record<RunView['state'], string>> = {
  running: 'Running',
  paused: 'Paused',
  done: 'Done',
  stopped: 'Stopped',
};

export const PLACE_STATE_WORDS: Readonly<Record<RunPlaceView['state'], string>> = {
  waiting: 'waits for a reader',
  listing: 'being listed',
  reading: 'being read',
  done: 'done',
  failed: 'could not be gone through',
  stopped: 'stopped',
};

export const STEP_WORDS: Readonly<Record<JobView['definition']['step'], string>> = {
  find: 'looks only',
  label: 'looks and labels',
  protect: 'looks, labels and protects',
};

export const CHANGE_WORDS: Readonly<Record<ItemChange, string>> = {
  new: 'new',
  gone: 'gone',
  moved: 'moved',
  'holds-more': 'holds more',
  'holds-less': 'holds less',
  'label-raised': 'label raised',
  'label-lowered': 'label lowered',
  'spread-wider': 'opens wider',
  narrowed: 'opens less wide',
  'unreadable-now': 'cannot be read any more',
  'readable-now': 'can be read now',
};

export function historyWords({ what, detail, by }: ItemHistoryEntry): string {
  const who = by ? ` by ${by}` : '';
  switch (what) {
    case 'labelled':
      return `Labelled${who}: ${detail}`;
    case 'quarantined':
      return `Put into quarantine${who}: ${detail}`;
    case 'put-back':
      return `Put back${who}: ${detail}`;
    case 'moved-over':
      return `Moved here from another place${who}: ${detail}`;
    case 'fetched':
      return `Full item requested${who}: ${detail}`;
    case 'refused':
      return `Not done (${actReasonWords(detail)})${who}`;
    default:
      return `${CHANGE_WORDS[what][0]?.toUpperCase() ?? ''}${CHANGE_WORDS[what].slice(1)}`;
  }
}

const ACT_REASONS: Readonly<Record<string, string>> = {
  open: 'a program has it open',
  'read-only': 'it is read only',
  signed: 'it is signed',
  encrypted: 'it is encrypted',
  corrupt: 'it is damaged',
  enoent: 'it is no longer there',
  eacces: 'the reader may not change it',
  'something-stands-there': 'another file stands in its place',
  'not-here': 'another reader holds it',
  'no-such-label': 'the reader does not know this label yet',
};

export const actReasonWords = (reason: string): string => ACT_REASONS[reason] ?? reason;

export const ACT_WORDS: Readonly<Record<ItemActView['act'], string>> = {
  label: 'Labelled',
  quarantine: 'Put into quarantine',
  'put-back': 'Put back',
  move: 'Moved',
};

export const READER_STATE_WORDS: Readonly<Record<ReaderView['state'], string>> = {
  'at-work': 'at work',
  waiting: 'waits for work',
  silent: 'silent',
  withdrawn: 'withdrawn',
};

export const REST_WORDS: Readonly<Record<Rest, string>> = {
  hours: 'Paused outside its hours. Checks, changes and requests for single items still run.',
  battery: 'Paused on low battery. Checks, changes and requests for single items still run.',
};

export const RIGHT_WORDS: Readonly<Record<ReaderRight['code'], string>> = {
  reads: 'may be read',
  'reads-not': 'cannot be read by its account',
  writes: 'may be changed',
  'writes-not': 'cannot be changed',
  'recognises-text': 'text in pictures is recognised',
  'recognises-not': 'text in pictures is not recognised',
};

/** Fields of the filter line, as facets and chips name them. */
export const ITEM_FIELD_WORDS: Readonly<Record<ItemField, string>> = {
  place: 'Place',
  store: 'Store',
  path: 'Path',
  ending: 'Kind of file',
  bytes: 'Size',
  changed: 'Changed',
  owner: 'Owner',
  pattern: 'Found',
  certainty: 'Certainty',
  count: 'Findings',
  label: 'Label',
  suggested: 'Label called for',
  reach: 'Opened by',
  sensitive: 'Sensitive',
  misplaced: 'Should not lie there',
  copies: 'Copies',
  state: 'State',
  reason: 'Reason',
  quarantined: 'In quarantine',
  read: 'Read',
  any: 'Anywhere',
};

export const number = (value: number): string => value.toLocaleString('en-GB');

/** Points of an exposure: whole where they are many. */
export const points = (value: number): string =>
  value.toLocaleString('en-GB', { maximumFractionDigits: value < 100 ? 1 : 0 });

/** Bytes in the largest unit that leaves a number of one to three digits (SI prefixes). */
export function size(bytes: number): string {
  const units = ['B', 'kB', 'MB', 'GB', 'TB', 'PB'];
  let value = bytes;
  let unit = 0;
  while (value >= 1_000 && unit < units.length - 1) {
    value /= 1_000;
    unit += 1;
  }
  return `${value.toLocaleString('en-GB', { maximumFractionDigits: value < 10 && unit > 0 ? 1 : 0 })} ${units[unit] ?? ''}`;
}

export function lasting(seconds: number): string {
  const whole = Math.max(1, Math.round(seconds));
  if (seconds < 90) return `${whole} ${whole === 1 ? 'second' : 'seconds'}`;
  if (seconds < 5_400) return `${Math.round(seconds / 60)} minutes`;
  return `${(seconds / 3_600).toLocaleString('en-GB', { maximumFractionDigits: 1 })} hours`;
}

/** What a place is, in one line. */
export function placeLine({ figures, reach, sharedOutside }: DiscoveryPlaceView): string {
  const opened =
    sharedOutside.length > 0
      ? `${sharedOutside.length} ${sharedOutside.length === 1 ? 'address' : 'addresses'} outside let in`
      : `opened by ${REACH_WORDS[reach]}`;
  if (figures.items === 0) return 'Holds nothing';
  return `${number(figures.sensitive)} of ${number(figures.items)} items sensitive, ${opened}`;
}

/** What items can be grouped by: fields under the names that the filter line has for them, and two that are none. */
export const GROUP_WORDS: Readonly<Record<ItemGroup, string>> = {
  ...ITEM_FIELD_WORDS,
  pattern: 'Pattern',
  folder: 'Folder',
  age: 'Last changed',
};

/** The name of a group's value; a value that is none says so. */
export function groupName(group: ItemGroup, name: string): string {
  switch (group) {
    case 'age':
      return ageWords(Number(name));
    case 'reach':
      return REACH_WORDS[name as ItemReach] ?? name;
    case 'state':
      return STATE_WORDS[name as ItemState] ?? name;
    case 'reason':
      return name === '' ? 'none' : reasonWords(name);
    case 'folder':
      return name === '' ? 'in no folder' : name;
    default:
      return name === '' ? 'none' : name;
  }
}

const AGE_WORDS = [
  'within a week',
  'a week to a month ago',
  'a month to three months ago',
  'three months to a year ago',
  'a year to three years ago',
  'more than three years ago',
  'time not known',
] as const;

const ageWords = (at: number): string => AGE_WORDS[at] ?? '';
