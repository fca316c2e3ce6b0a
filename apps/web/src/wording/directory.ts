import type { PersonSource } from '@lantern/contracts/directory';
import type {
  ColumnMeaning,
  GroupField,
  GroupTest,
  MachineRecord,
  MachineRefusal,
  PlaceRefusal,
  RefusedLine,
  Remark,
} from '@lantern/core/directory';

export const SOURCE_WORDS: Readonly<Record<PersonSource, string>> = {
  hand: 'entered by hand',
  file: 'from a file',
  server: 'from the directory server',
  scim: 'from SCIM',
};

export const MEANING_WORDS: Readonly<Record<ColumnMeaning, string>> = {
  address: 'mail address',
  name: 'full name',
  'given-name': 'given name',
  'family-name': 'family name',
  department: 'department',
  office: 'office',
  title: 'job title',
  groups: 'groups',
  manager: 'address of the manager',
  language: 'language',
  zone: 'time zone',
  key: 'permanent number or id',
};

export const GROUP_FIELD_WORDS: Readonly<Record<GroupField, string>> = {
  department: 'Department',
  office: 'Office',
  title: 'Job title',
  group: 'A listed group',
  manager: 'Address of the manager',
  language: 'Language',
  domain: 'Domain of the address',
};

export const GROUP_TEST_WORDS: Readonly<Record<GroupTest, string>> = {
  is: 'is',
  begins: 'begins with',
  ends: 'ends with',
  holds: 'contains',
};

const FIELD_WORDS: Readonly<Record<string, string>> = {
  address: 'address',
  key: 'permanent id',
  name: 'name',
  department: 'department',
  office: 'office',
  title: 'job title',
  groups: 'groups',
  manager: 'manager',
  language: 'language',
  zone: 'time zone',
  source: 'source',
};

export function fieldWords(fields: readonly string[]): string {
  return fields.map((field) => FIELD_WORDS[field] ?? field).join(', ');
}

/** Why a line is not taken over. */
export function refusalSentence({ code, value, other }: RefusedLine): string {
  switch (code) {
    case 'no-address':
      return value ? `${value} has no mail address.` : 'There is no mail address.';
    case 'bad-address':
      return `"${value}" is not a mail address.`;
    case 'twice':
      return `${value} is already in line ${other ?? '?'}. The first line counts.`;
    case 'key-twice':
      return `${value} has the same permanent id as line ${other ?? '?'}.`;
    case 'belongs-elsewhere':
      return `${value} is already in the directory, from another source.`;
    case 'too-long':
      return `"${value.slice(0, 40)}…" is longer than 120 characters.`;
    case 'too-many-groups':
      return `${value} is in more than 200 groups.`;
  }
}

/** What is odd about a line that is taken over all the same. */
export function remarkSentence({ code, address, value }: Remark): string {
  switch (code) {
    case 'unknown-manager':
      return `The manager of ${address}, ${value}, is not in the directory.`;
    case 'manager-circle':
      return `${address} is their own manager through ${value}.`;
    case 'outside-domain':
      return `${address} is in none of your domains, so it counts as outside.`;
  }
}

const FAULT_WORDS: Readonly<Record<string, string>> = {
  'no-entry': 'The file has no entries.',
  'no-name': 'The entry does not begin with its name (dn).',
  'no-colon': 'There is no colon between the name and the value.',
  'bad-base64': 'The value after the double colon is not valid Base64.',
  'address-value': 'The value points to a file. We did not fetch it; the rest of the entry was read.',
  'change-record': 'This is a change record. Only complete entries are imported.',
};

export function faultSentence({ code }: { readonly code: string }): string {
  return FAULT_WORDS[code] ?? 'The entry cannot be read.';
}

/** `12 people`, `1 person`. */
export function people(count: number): string {
  return `${count.toLocaleString('en')} ${count === 1 ? 'person' : 'people'}`;
}

export function machines(count: number): string {
  return `${count.toLocaleString('en')} ${count === 1 ? 'machine' : 'machines'}`;
}

export const MACHINE_REFUSAL_WORDS: Readonly<Record<MachineRefusal, string>> = {
  'no-name': 'no name',
  twice: 'the same name again',
  'too-long': 'too long, or too many addresses',
  'bad-address': 'not a network address',
};

export const PLACE_REFUSAL_WORDS: Readonly<Record<PlaceRefusal, string>> = {
  'no-name': 'no name',
  twice: 'the same name again',
  'too-long': 'too long, or too many members',
  'bad-name': 'not a name for a place',
  'bad-address': 'not a mail address',
};

export const MACHINE_STATE_WORDS: Readonly<Record<MachineRecord['state'], string>> = {
  'looked-after': 'yes',
  strange: 'no',
  'not-known': 'unknown',
};
